// Bilinear scaling of one plane, in two passes of 7-bit weights: each source row is scaled across once and kept
// for the two output rows that need it, then two kept rows are mixed down the column.
import { storePart } from './planes';

/**
 * Scales a region of the plane of `planeWidth` × `planeHeight` at `from` to `width` × `height` at `out`, pixel centres
 * aligned. The region is given in 128ths of a pixel and may lie between pixels; `mirrored` turns left and right.
 * `work` needs 7 · (width + 16) + 2 · (width + 32) bytes.
 */
export function scale(
	out: usize,
	outStride: i32,
	width: i32,
	height: i32,
	from: usize,
	fromStride: i32,
	planeWidth: i32,
	planeHeight: i32,
	regionX: i32,
	regionY: i32,
	regionWidth: i32,
	regionHeight: i32,
	mirrored: bool,
	work: usize,
): void {
	const padded = (width + 15) & ~15;
	const lefts = work;
	const leftmosts = lefts + 4 * padded;
	const offsets = leftmosts + (padded >> 1);
	const weights = offsets + padded;
	let upper = weights + padded;
	let lower = upper + padded + 16;
	const narrow = layOut(lefts, leftmosts, offsets, weights, width, padded, planeWidth, regionX, regionWidth, mirrored);
	// Nothing to do across: rows are read where they lie.
	const across = mirrored || regionWidth != width << 7 || (regionX & 127) != 0;
	if (!across) from += regionX >> 7;

	let upperRow = -1;
	let lowerRow = -1;
	for (let y = 0; y < height; y++, out += outStride) {
		const position = positionOf(y, regionY, regionHeight, height);
		const top = min(position >> 7, planeHeight - 1);
		const weight = top >= planeHeight - 1 ? 0 : position & 127;

		let a = from + top * fromStride;
		let b = a + fromStride;
		if (across) {
			if (upperRow != top) {
				if (lowerRow == top) {
					const kept = upper;
					upper = lower;
					lower = kept;
					lowerRow = -1;
				} else {
					scaleRow(upper, a, lefts, leftmosts, offsets, weights, padded, narrow);
				}
				upperRow = top;
			}
			if (weight != 0 && lowerRow != top + 1) {
				scaleRow(lower, b, lefts, leftmosts, offsets, weights, padded, narrow);
				lowerRow = top + 1;
			}
			a = upper;
			b = lower;
		}
		if (weight == 0) memory.copy(out, a, width);
		else mixRows(out, a, b, width, weight);
	}
}

/** Position of output pixel `i` in the source, in 128ths of a pixel, never before its first. */
// @ts-ignore: decorator
@inline
function positionOf(i: i32, regionStart: i32, regionLength: i32, length: i32): i32 {
	return max(0, regionStart + <i32>(((2 * <i64>i + 1) * regionLength) / (2 * length)) - 64);
}

/**
 * Writes for each output column its left source column, that column's offset from the leftmost of its block of
 * eight, and the weight of the column to the right of it; and for each block its leftmost column. True when every
 * block spans 16 source bytes at most.
 */
function layOut(
	lefts: usize,
	leftmosts: usize,
	offsets: usize,
	weights: usize,
	width: i32,
	padded: i32,
	planeWidth: i32,
	regionX: i32,
	regionWidth: i32,
	mirrored: bool,
): bool {
	for (let x = 0; x < padded; x++) {
		const column = min(x, width - 1);
		const position = positionOf(mirrored ? width - 1 - column : column, regionX, regionWidth, width);
		const left = min(position >> 7, planeWidth - 1);
		store<i32>(lefts + 4 * x, left);
		store<u8>(weights + x, left >= planeWidth - 1 ? 0 : <u8>(position & 127));
	}
	let narrow = true;
	for (let block = 0; block < padded; block += 8) {
		const first = load<i32>(lefts + 4 * block);
		const last = load<i32>(lefts + 4 * (block + 7));
		const leftmost = min(first, last);
		if (max(first, last) - leftmost > 14) narrow = false;
		store<i32>(leftmosts + (block >> 1), leftmost);
		for (let x = block; x < block + 8; x++) store<u8>(offsets + x, <u8>(load<i32>(lefts + 4 * x) - leftmost));
	}
	return narrow;
}

function scaleRow(
	out: usize,
	from: usize,
	lefts: usize,
	leftmosts: usize,
	offsets: usize,
	weights: usize,
	padded: i32,
	narrow: bool,
): void {
	if (!narrow) {
		for (let x = 0; x < padded; x++) {
			const left = from + load<i32>(lefts + 4 * x);
			const weight = <i32>load<u8>(weights + x);
			const sum = <i32>load<u8>(left) * (128 - weight) + <i32>load<u8>(left + 1) * weight + 64;
			store<u8>(out + x, <u8>(sum >> 7));
		}
		return;
	}
	for (let x = 0; x < padded; x += 16) {
		const low = eight(from, leftmosts, offsets, weights, x);
		const high = eight(from, leftmosts, offsets, weights, x + 8);
		v128.store(out + x, i8x16.narrow_i16x8_u(low, high));
	}
}

// @ts-ignore: decorator
@inline
function eight(from: usize, leftmosts: usize, offsets: usize, weights: usize, x: i32): v128 {
	const pixels = v128.load(from + load<i32>(leftmosts + (x >> 1)));
	const offset = v128.load64_zero(offsets + x);
	const weight = v128.load64_zero(weights + x);
	const left = i8x16.swizzle(pixels, offset);
	const right = i8x16.swizzle(pixels, i8x16.add(offset, i8x16.splat(1)));
	const sum = i16x8.add(
		i16x8.extmul_low_i8x16_u(left, i8x16.sub(i8x16.splat(-128), weight)),
		i16x8.extmul_low_i8x16_u(right, weight),
	);
	return i16x8.shr_u(i16x8.add(sum, i16x8.splat(64)), 7);
}

function mixRows(out: usize, a: usize, b: usize, width: i32, weight: i32): void {
	const weightA = i8x16.splat(<i8>(128 - weight));
	const weightB = i8x16.splat(<i8>weight);
	const half = i16x8.splat(64);
	for (let x = 0; x < width; x += 16) {
		const va = v128.load(a + x);
		const vb = v128.load(b + x);
		const low = i16x8.add(
			i16x8.add(i16x8.extmul_low_i8x16_u(va, weightA), i16x8.extmul_low_i8x16_u(vb, weightB)),
			half,
		);
		const high = i16x8.add(
			i16x8.add(i16x8.extmul_high_i8x16_u(va, weightA), i16x8.extmul_high_i8x16_u(vb, weightB)),
			half,
		);
		storePart(out + x, i8x16.narrow_i16x8_u(i16x8.shr_u(low, 7), i16x8.shr_u(high, 7)), width - x);
	}
}
