// Whole-plane kernels.

/**
 * out = (a · (256 − weight) + b · weight + 128) >> 8 for `length` bytes; weight 1 to 255.
 * Computed as (256 · a + 128) + (b − a) · weight: the parts may wrap in their 16 bits, the sum never does.
 */
export function mix(out: usize, a: usize, b: usize, length: i32, weight: i32): void {
	const weights = i16x8.splat(<i16>weight);
	const half = i8x16.splat(-128);
	for (let end = out + length; out < end; out += 16, a += 16, b += 16) {
		const va = v128.load(a);
		const vb = v128.load(b);
		const low = i16x8.add(
			// Half below, a above: 256 · a + 128 in one step.
			i8x16.shuffle(half, va, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23),
			i16x8.mul(i16x8.sub(i16x8.extend_low_i8x16_u(vb), i16x8.extend_low_i8x16_u(va)), weights),
		);
		const high = i16x8.add(
			i8x16.shuffle(half, va, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31),
			i16x8.mul(i16x8.sub(i16x8.extend_high_i8x16_u(vb), i16x8.extend_high_i8x16_u(va)), weights),
		);
		v128.store(out, i8x16.narrow_i16x8_u(i16x8.shr_u(low, 8), i16x8.shr_u(high, 8)));
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
		for (let x = 0; x < width; x += 16) {
			const top = from + 2 * x;
			const low = block(top, fromStride, two);
			const high = block(top + 16, fromStride, two);
			storePart(out + x, i8x16.narrow_i16x8_u(low, high), width - x);
		}
	}
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

/**
 * Doubles a plane both ways, each new pixel three parts of the nearest and one of the next, rounded, first down and
 * then across: what bilinear scaling by two is. `out` has 2 · width bytes a row, `work` width + 64.
 */
export function double(out: usize, from: usize, width: i32, height: i32, work: usize): void {
	const row = work + 16;
	for (let y = 0; y < height; y++) {
		const near = from + y * width;
		doubleRow(out, near, y == 0 ? near : near - width, width, row);
		out += 2 * width;
		doubleRow(out, near, y == height - 1 ? near : near + width, width, row);
		out += 2 * width;
	}
}

function doubleRow(out: usize, near: usize, far: usize, width: i32, row: usize): void {
	for (let x = 0; x < width; x += 16) v128.store(row + x, threeToOne(v128.load(near + x), v128.load(far + x)));
	// The neighbours of the first and the last are they themselves.
	store<u8>(row - 1, load<u8>(row));
	store<u8>(row + width, load<u8>(row + width - 1));
	for (let x = 0; x < width; x += 16) {
		const middle = v128.load(row + x);
		const left = threeToOne(middle, v128.load(row + x - 1));
		const right = threeToOne(middle, v128.load(row + x + 1));
		const count = 2 * (width - x);
		storePart(
			out + 2 * x,
			i8x16.shuffle(left, right, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23),
			min(count, 16),
		);
		if (count > 16)
			storePart(
				out + 2 * x + 16,
				i8x16.shuffle(left, right, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31),
				count - 16,
			);
	}
}

// @ts-ignore: decorator
@inline
function threeToOne(near: v128, far: v128): v128 {
	const three = i8x16.splat(3);
	const two = i16x8.splat(2);
	const low = i16x8.add(i16x8.add(i16x8.extmul_low_i8x16_u(near, three), i16x8.extend_low_i8x16_u(far)), two);
	const high = i16x8.add(i16x8.add(i16x8.extmul_high_i8x16_u(near, three), i16x8.extend_high_i8x16_u(far)), two);
	return i8x16.narrow_i16x8_u(i16x8.shr_u(low, 2), i16x8.shr_u(high, 2));
}
