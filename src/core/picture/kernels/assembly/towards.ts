// The one step that mixing, blending and scaling share: sixteen bytes moved some of the way towards sixteen others.

/**
 * floor((x · y + 2^14) / 2^15) in eight lanes of sixteen bits, x and y not both −32768: one instruction where relaxed
 * SIMD may be used, whose answers differ between machines only in what is excluded here.
 */
// @ts-ignore: decorator
@inline
function product(x: v128, y: v128): v128 {
	return ASC_FEATURE_RELAXED_SIMD ? i16x8.relaxed_q15mulr_s(x, y) : i16x8.q15mulr_sat_s(x, y);
}

/**
 * a + floor(((b − a) · w + 2^14) / 2^15) for each byte. The weights w, 0 to 32768, are given as −w for the bytes of
 * even and of odd number, since 32768 fits in sixteen bits with a minus only; `even` is a 255 in every second byte.
 */
// @ts-ignore: decorator
@inline
export function towards(a: v128, b: v128, evenWeights: v128, oddWeights: v128, even: v128): v128 {
	const evens = product(i16x8.sub(v128.and(a, even), v128.and(b, even)), evenWeights);
	const odds = product(i16x8.sub(i16x8.shr_u(a, 8), i16x8.shr_u(b, 8)), oddWeights);
	return i8x16.add(a, v128.or(v128.and(evens, even), i16x8.shl(odds, 8)));
}

/** Bytes of `pixels` by their number; a number with its highest bit set gives 0, one of 16 to 127 must not come. */
// @ts-ignore: decorator
@inline
export function picked(pixels: v128, numbers: v128): v128 {
	return ASC_FEATURE_RELAXED_SIMD ? i8x16.relaxed_swizzle(pixels, numbers) : i8x16.swizzle(pixels, numbers);
}
