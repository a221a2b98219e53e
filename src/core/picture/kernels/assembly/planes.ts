// Whole-plane kernels.
import { towards } from './towards';

/**
 * out = (a · (256 − weight) + b · weight + 128) >> 8 for `length` bytes, in steps of 64: up to 63 bytes more are written
 * behind it. Weight 1 to 255.
 */
export function mix(out: usize, a: usize, b: usize, length: i32, weight: i32): void {
	const weights = i16x8.splat(<i16>(-weight << 7));
	const even = i16x8.splat(255);
	for (const end = out + length; out < end; out += 64, a += 64, b += 64) {
		v128.store(out, towards(v128.load(a), v128.load(b), weights, weights, even));
		v128.store(out, towards(v128.load(a, 16), v128.load(b, 16), weights, weights, even), 16);
		v128.store(out, towards(v128.load(a, 32), v128.load(b, 32), weights, weights, even), 32);
		v128.store(out, towards(v128.load(a, 48), v128.load(b, 48), weights, weights, even), 48);
	}
}

/** Sets a rectangle of a plane to one value. */
export function fill(out: usize, stride: i32, width: i32, height: i32, value: i32): void {
	for (let y = 0; y < height; y++, out += stride) memory.fill(out, <u8>value, width);
}

/** Copies a rectangle between planes. */
export function copy(out: usize, outStride: i32, from: usize, fromStride: i32, width: i32, height: i32): void {
	for (let y = 0; y < height; y++, out += outStride, from += fromStride) memory.copy(out, from, width);
}

/** Averages blocks of two by two: out = (a + b + c + d + 2) >> 2. `width` and `height` are those of the result. */
export function halve(out: usize, outStride: i32, from: usize, fromStride: i32, width: i32, height: i32): void {
	const two = i16x8.splat(2);
	for (let y = 0; y < height; y++, out += outStride, from += 2 * fromStride) {
		let x = 0;
		for (; x + 16 <= width; x += 16) v128.store(out + x, sixteen(from + 2 * x, fromStride, two));
		if (x < width) storePart(out + x, sixteen(from + 2 * x, fromStride, two), width - x);
	}
}

// @ts-ignore: decorator
@inline
function sixteen(top: usize, stride: i32, two: v128): v128 {
	return i8x16.narrow_i16x8_u(block(top, stride, two), block(top + 16, stride, two));
}

// @ts-ignore: decorator
@inline
function block(top: usize, stride: i32, two: v128): v128 {
	const sum = i16x8.add(
		i16x8.extadd_pairwise_i8x16_u(v128.load(top)),
		i16x8.extadd_pairwise_i8x16_u(v128.load(top + stride)),
	);
	return i16x8.shr_u(i16x8.add(sum, two), 2);
}

/** Stores the first `count` bytes of a vector, 16 at most: rows may be narrower than their stride. */
// @ts-ignore: decorator
@inline
export function storePart(out: usize, bytes: v128, count: i32): void {
	if (count >= 16) {
		v128.store(out, bytes);
		return;
	}
	if (count >= 8) {
		v128.store64_lane(out, bytes, 0);
		out += 8;
		count -= 8;
		bytes = i64x2.splat(i64x2.extract_lane(bytes, 1));
	}
	let rest = i64x2.extract_lane(bytes, 0);
	for (; count > 0; count--, out++, rest >>>= 8) store<u8>(out, <u8>rest);
}

/** Splits the interleaved chroma of NV12 into two planes: `length` pairs. */
export function split(outU: usize, outV: usize, from: usize, length: i32): void {
	for (let i = 0; i < length; i += 16) {
		const a = v128.load(from + 2 * i);
		const b = v128.load(from + 2 * i + 16);
		const u = i8x16.shuffle(a, b, 0, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30);
		const v = i8x16.shuffle(a, b, 1, 3, 5, 7, 9, 11, 13, 15, 17, 19, 21, 23, 25, 27, 29, 31);
		storePart(outU + i, u, length - i);
		storePart(outV + i, v, length - i);
	}
}
