// Blending by an alpha plane: 0 leaves what was there, 255 replaces it.
import { storePart } from './planes';

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
	const scale = i16x8.splat(<i16>opacity);
	for (let y = 0; y < height; y++, out += outStride, from += fromStride, alpha += alphaStride) {
		for (let x = 0; x < width; x += 16) {
			const a = v128.load(alpha + x);
			const over = v128.load(from + x);
			// Most of a mask is all or nothing.
			if (!v128.any_true(a)) continue;
			const under = v128.load(out + x);
			const low = mixed(
				i16x8.extend_low_i8x16_u(under),
				i16x8.extend_low_i8x16_u(over),
				weight(i16x8.extend_low_i8x16_u(a), scale),
			);
			const high = mixed(
				i16x8.extend_high_i8x16_u(under),
				i16x8.extend_high_i8x16_u(over),
				weight(i16x8.extend_high_i8x16_u(a), scale),
			);
			storePart(out + x, i8x16.narrow_i16x8_u(low, high), width - x);
		}
	}
}

/** The product of 256 and 256 wraps to 0 in sixteen bits, so the opacity of 256 is kept out of the multiplication. */
// @ts-ignore: decorator
@inline
function weight(alpha: v128, opacity: v128): v128 {
	const whole = i16x8.add(alpha, i16x8.shr_u(alpha, 7));
	const scaled = i16x8.shr_u(i16x8.mul(whole, opacity), 8);
	return v128.bitselect(whole, scaled, i16x8.eq(opacity, i16x8.splat(256)));
}

/** The parts may wrap in their sixteen bits, the sum never does. */
// @ts-ignore: decorator
@inline
function mixed(under: v128, over: v128, weight: v128): v128 {
	const base = i16x8.add(i16x8.shl(under, 8), i16x8.splat(128));
	return i16x8.shr_u(i16x8.add(base, i16x8.mul(i16x8.sub(over, under), weight)), 8);
}

/** out = a · b / 255, rounded, for `length` bytes: two masks become one. */
export function multiply(out: usize, a: usize, b: usize, length: i32): void {
	const half = i16x8.splat(128);
	for (let i = 0; i < length; i += 16) {
		const va = v128.load(a + i);
		const vb = v128.load(b + i);
		let low = i16x8.add(i16x8.extmul_low_i8x16_u(va, vb), half);
		let high = i16x8.add(i16x8.extmul_high_i8x16_u(va, vb), half);
		low = i16x8.shr_u(i16x8.add(low, i16x8.shr_u(low, 8)), 8);
		high = i16x8.shr_u(i16x8.add(high, i16x8.shr_u(high, 8)), 8);
		storePart(out + i, i8x16.narrow_i16x8_u(low, high), length - i);
	}
}
