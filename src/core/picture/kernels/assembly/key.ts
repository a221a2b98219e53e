// Keying by colour, on chroma planes: how far a pixel is from the key colour becomes its alpha.
import { storePart } from './planes';

/**
 * alpha = min(255, (min(max(d − tolerance, 0), softness) · slope) >> 4), where d is about the distance of (u, v) from
 * the key colour: the larger of the two differences and half of the smaller. `softness` is 1 to 255, `slope` is
 * 4080 / softness rounded up.
 */
export function chromaKey(
	alpha: usize,
	u: usize,
	v: usize,
	stride: i32,
	width: i32,
	height: i32,
	keyU: i32,
	keyV: i32,
	tolerance: i32,
	softness: i32,
	slope: i32,
): void {
	const ku = i8x16.splat(<i8>keyU);
	const kv = i8x16.splat(<i8>keyV);
	for (let y = 0; y < height; y++, alpha += width, u += stride, v += stride) {
		for (let x = 0; x < width; x += 16) {
			const du = difference(v128.load(u + x), ku);
			const dv = difference(v128.load(v + x), kv);
			const larger = i8x16.max_u(du, dv);
			const smaller = i8x16.shr_u(i8x16.min_u(du, dv), 1);
			const low = ramp(
				i16x8.add(i16x8.extend_low_i8x16_u(larger), i16x8.extend_low_i8x16_u(smaller)),
				tolerance,
				softness,
				slope,
			);
			const high = ramp(
				i16x8.add(i16x8.extend_high_i8x16_u(larger), i16x8.extend_high_i8x16_u(smaller)),
				tolerance,
				softness,
				slope,
			);
			storePart(alpha + x, i8x16.narrow_i16x8_u(low, high), width - x);
		}
	}
}

// @ts-ignore: decorator
@inline
function difference(a: v128, b: v128): v128 {
	return v128.or(i8x16.sub_sat_u(a, b), i8x16.sub_sat_u(b, a));
}

// @ts-ignore: decorator
@inline
function ramp(distance: v128, tolerance: i32, softness: i32, slope: i32): v128 {
	const beyond = i16x8.max_s(i16x8.sub(distance, i16x8.splat(<i16>tolerance)), i16x8.splat(0));
	return i16x8.shr_u(i16x8.mul(i16x8.min_s(beyond, i16x8.splat(<i16>softness)), i16x8.splat(<i16>slope)), 4);
}

/**
 * Takes the key colour's light off a subject: r = (max(0, (du · x + dv · y) >> 7) · amount) >> 7 is what lies in the
 * key's direction (x, y), in 128ths; u − ((r · x) >> 7) and v − ((r · y) >> 7) are what is left. In place.
 */
export function removeSpill(u: usize, v: usize, length: i32, x: i32, y: i32, amount: i32): void {
	const vx = i16x8.splat(<i16>x);
	const vy = i16x8.splat(<i16>y);
	const share = i16x8.splat(<i16>amount);
	const middle = i16x8.splat(128);
	for (let i = 0; i < length; i += 8) {
		const du = i16x8.sub(i16x8.extend_low_i8x16_u(v128.load64_zero(u + i)), middle);
		const dv = i16x8.sub(i16x8.extend_low_i8x16_u(v128.load64_zero(v + i)), middle);
		const along = i16x8.shr_s(i16x8.add(i16x8.mul(du, vx), i16x8.mul(dv, vy)), 7);
		const removed = i16x8.shr_s(i16x8.mul(i16x8.max_s(along, i16x8.splat(0)), share), 7);
		const newU = i16x8.add(i16x8.sub(du, i16x8.shr_s(i16x8.mul(removed, vx), 7)), middle);
		const newV = i16x8.add(i16x8.sub(dv, i16x8.shr_s(i16x8.mul(removed, vy), 7)), middle);
		storePart(u + i, i8x16.narrow_i16x8_u(newU, newU), min(8, length - i));
		storePart(v + i, i8x16.narrow_i16x8_u(newV, newV), min(8, length - i));
	}
}
