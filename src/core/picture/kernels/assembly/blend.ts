// Blending by an alpha plane: 0 leaves what was there, 255 replaces it.
import { storePart } from './planes';
import { towards } from './towards';

/**
 * out = (out · (256 − w) + from · w + 128) >> 8 with w = ((alpha + (alpha >> 7)) · opacity) >> 8, so that an alpha of
 * 255 at an opacity of 256 gives `from` itself.
 */
export function blend(
	out: usize,
	outStride: i32,
	from: usize,
	fromStride: i32,
	alpha: usize,
	alphaStride: i32,
	width: i32,
	height: i32,
	opacity: i32,
): void {
	for (let y = 0; y < height; y++, out += outStride, from += fromStride, alpha += alphaStride)
		blendRow(out, from, alpha, width, opacity);
}

/** The same for one row. */
export function blendRow(out: usize, from: usize, alpha: usize, width: i32, opacity: i32): void {
	let x = 0;
	for (; x + 16 <= width; x += 16) {
		const a = v128.load(alpha + x);
		// Most of a mask is all or nothing.
		if (v128.any_true(a)) v128.store(out + x, blended(v128.load(out + x), v128.load(from + x), a, opacity));
	}
	if (x < width)
		storePart(out + x, blended(v128.load(out + x), v128.load(from + x), v128.load(alpha + x), opacity), width - x);
}

// @ts-ignore: decorator
@inline
function blended(under: v128, over: v128, alpha: v128, opacity: i32): v128 {
	const even = i16x8.splat(255);
	// Out of a whole opacity the product with it is left out: 256 · 256 is more than sixteen bits hold.
	if (opacity == 256) {
		if (i8x16.all_true(i8x16.eq(alpha, i8x16.splat(-1)))) return over;
		return towards(under, over, weight(grown(v128.and(alpha, even))), weight(grown(i16x8.shr_u(alpha, 8))), even);
	}
	const scale = i16x8.splat(<i16>opacity);
	const evens = i16x8.shr_u(i16x8.mul(grown(v128.and(alpha, even)), scale), 8);
	const odds = i16x8.shr_u(i16x8.mul(grown(i16x8.shr_u(alpha, 8)), scale), 8);
	return towards(under, over, weight(evens), weight(odds), even);
}

/** 0 to 255 as 0 to 256. */
// @ts-ignore: decorator
@inline
function grown(alpha: v128): v128 {
	return i16x8.add(alpha, i16x8.shr_u(alpha, 7));
}

/** 0 to 256 as `towards` takes it. */
// @ts-ignore: decorator
@inline
function weight(of256: v128): v128 {
	return i16x8.neg(i16x8.shl(of256, 7));
}

/** out = a · b / 255, rounded: two masks become one. `out` may be one of them. */
export function multiply(
	out: usize,
	outStride: i32,
	a: usize,
	aStride: i32,
	b: usize,
	bStride: i32,
	width: i32,
	height: i32,
): void {
	for (let y = 0; y < height; y++, out += outStride, a += aStride, b += bStride) multiplyRow(out, a, b, width);
}

/** The same for one row. */
export function multiplyRow(out: usize, a: usize, b: usize, width: i32): void {
	const half = i16x8.splat(128);
	for (let x = 0; x < width; x += 16) {
		const va = v128.load(a + x);
		const vb = v128.load(b + x);
		let low = i16x8.add(i16x8.extmul_low_i8x16_u(va, vb), half);
		let high = i16x8.add(i16x8.extmul_high_i8x16_u(va, vb), half);
		low = i16x8.shr_u(i16x8.add(low, i16x8.shr_u(low, 8)), 8);
		high = i16x8.shr_u(i16x8.add(high, i16x8.shr_u(high, 8)), 8);
		storePart(out + x, i8x16.narrow_i16x8_u(low, high), width - x);
	}
}
