// Bilinear scaling of one plane, in two passes of 7-bit weights: each source row is scaled across once and kept
// for the two output rows that need it, then two kept rows are mixed down the column.
import { storePart } from './planes';
import { picked, towards } from './towards';

// How a row is scaled across: not at all; sixteen pixels out of sixteen bytes; twice eight out of sixteen; one by one.
const AS_IT_IS: i32 = 0;
const TIGHT: i32 = 1;
const NARROW: i32 = 2;
const WIDE: i32 = 3;

// A block of the table of columns stands for sixteen output pixels.
const BLOCK_BYTES: i32 = 80;
// Tight and narrow: numbers of the source bytes at the left of each pixel, counted from the leftmost of its half, for
// both halves; weights of the bytes at their right; the leftmost of both halves.
const SECOND_NUMBERS: usize = 16;
const WEIGHTS: usize = 32;
const LEFTMOST: usize = 48;
const SECOND_LEFTMOST: usize = 52;
// Wide: sixteen columns of 32 bits, and weights.
const WIDE_WEIGHTS: usize = 64;

/** A number that picks nothing; the one that follows it does not either. */
const NOTHING: u8 = 0x80;

/**
 * Scales a region of the plane of `planeWidth` × `planeHeight` at `from` to `width` × `height` at `out`, pixel centres
 * aligned. The region is given in 128ths of a pixel and may lie between pixels. `columns` is what `layOut` has written
 * for it, and `way` what that has answered. `work` needs 2 · (width + 32) bytes.
 */
export function scale(
	out: usize,
	outStride: i32,
	width: i32,
	height: i32,
	from: usize,
	fromStride: i32,
	planeHeight: i32,
	regionX: i32,
	regionY: i32,
	regionHeight: i32,
	columns: usize,
	way: i32,
	work: usize,
): void {
	let upper = work;
	let lower = upper + ((width + 15) & ~15) + 16;
	// Nothing to do across: rows are read where they lie.
	if (way == AS_IT_IS) {
		from += regionX >> 7;
		if (regionHeight == height << 7 && (regionY & 127) == 0) {
			from += (regionY >> 7) * fromStride;
			if (fromStride == width && outStride == width) memory.copy(out, from, width * height);
			else
			for (let y = 0; y < height; y++, out += outStride, from += fromStride) memory.copy(out, from, width);
			return;
		}
	}

	let upperRow = -1;
	let lowerRow = -1;
	for (let y = 0; y < height; y++, out += outStride) {
		const position = max(0, regionY + <i32>(((2 * <i64>y + 1) * regionHeight) / (2 * height)) - 64);
		const top = min(position >> 7, planeHeight - 1);
		const weight = top >= planeHeight - 1 ? 0 : position & 127;

		let a = from + top * fromStride;
		let b = a + fromStride;
		if (way != AS_IT_IS) {
			if (upperRow != top) {
				if (lowerRow == top) {
					const kept = upper;
					upper = lower;
					lower = kept;
					lowerRow = -1;
				} else {
					scaleRow(upper, a, columns, way, width);
				}
				upperRow = top;
			}
			if (weight != 0 && lowerRow != top + 1) {
				scaleRow(lower, b, columns, way, width);
				lowerRow = top + 1;
			}
			a = upper;
			b = lower;
		}
		if (weight == 0) memory.copy(out, a, width);
		else mixRows(out, a, b, width, weight);
	}
}

/**
 * Writes for each of `width` output columns its source columns and their weights, in blocks of sixteen of 80 bytes;
 * `mirrored` turns left and right.
 * @returns the way in which rows are scaled with it
 */
export function layOut(
	columns: usize,
	width: i32,
	planeWidth: i32,
	regionX: i32,
	regionWidth: i32,
	mirrored: bool,
): i32 {
	if (!mirrored && regionWidth == width << 7 && (regionX & 127) == 0) return AS_IT_IS;
	const blocks = (width + 15) >> 4;
	// At first as for the wide way. Positions are regionX + ((2i + 1) · regionWidth) / (2 · width) − 64, counted on.
	const divisor = 2 * width;
	const step = (2 * regionWidth) / divisor;
	const stepRest = (2 * regionWidth) % divisor;
	let quotient = regionWidth / divisor;
	let rest = regionWidth % divisor;
	for (let i = 0; i < width; i++) {
		const position = max(0, regionX + quotient - 64);
		const left = min(position >> 7, planeWidth - 1);
		const x = mirrored ? width - 1 - i : i;
		const block = columns + (x >> 4) * BLOCK_BYTES;
		store<i32>(block + 4 * (x & 15), left);
		store<u8>(block + (x & 15), left >= planeWidth - 1 ? 0 : <u8>(position & 127), WIDE_WEIGHTS);
		quotient += step;
		rest += stepRest;
		if (rest >= divisor) {
			rest -= divisor;
			quotient++;
		}
	}
	// What lies behind the last column is never seen.
	const last = columns + ((width - 1) >> 4) * BLOCK_BYTES;
	for (let x = ((width - 1) & 15) + 1; x < 16; x++) {
		store<i32>(last + 4 * x, load<i32>(last + 4 * (x - 1)));
		store<u8>(last + x, load<u8>(last + x - 1, WIDE_WEIGHTS), WIDE_WEIGHTS);
	}

	let way = TIGHT;
	for (let i = 0, block = columns; i < blocks; i++, block += BLOCK_BYTES) {
		if (span(block, 0, 15) > 14) way = max(way, NARROW);
		if (span(block, 0, 7) > 14 || span(block, 8, 15) > 14) way = WIDE;
	}
	if (way == WIDE) return way;
	for (let i = 0, block = columns; i < blocks; i++, block += BLOCK_BYTES) {
		const a = leftmost(block, 0, way == TIGHT ? 15 : 7);
		const b = leftmost(block, 8, 15);
		// They take the place of what they are made from.
		for (let x = 0; x < 16; x++) {
			const left = load<i32>(block + 4 * x);
			const isFirst = x < 8 || way == TIGHT;
			store<u8>(SCRATCH + x, isFirst ? <u8>(left - a) : NOTHING);
			store<u8>(SCRATCH + x, isFirst ? NOTHING : <u8>(left - b), 16);
		}
		const weights = v128.load(block, WIDE_WEIGHTS);
		v128.store(block, v128.load(SCRATCH));
		v128.store(block, v128.load(SCRATCH, 16), SECOND_NUMBERS);
		v128.store(block, weights, WEIGHTS);
		store<i32>(block, a, LEFTMOST);
		store<i32>(block, b, SECOND_LEFTMOST);
	}
	return way;
}

const SCRATCH = memory.data(32, 16);

// @ts-ignore: decorator
@inline
function leftmost(block: usize, first: i32, last: i32): i32 {
	return min(load<i32>(block + 4 * first), load<i32>(block + 4 * last));
}

/** How many source columns lie between the first and the last of some output columns. */
// @ts-ignore: decorator
@inline
function span(block: usize, first: i32, last: i32): i32 {
	return abs(load<i32>(block + 4 * first) - load<i32>(block + 4 * last));
}

/** Writes whole blocks: up to 15 bytes more than a row is wide. */
function scaleRow(out: usize, from: usize, columns: usize, way: i32, width: i32): void {
	const even = i16x8.splat(255);
	const one = i8x16.splat(1);
	const end = out + width;
	if (way == TIGHT) {
		for (; out < end; out += 16, columns += BLOCK_BYTES) {
			const numbers = v128.load(columns);
			const pixels = v128.load(from + load<i32>(columns, LEFTMOST));
			v128.store(
				out,
				across(picked(pixels, numbers), picked(pixels, i8x16.add(numbers, one)), v128.load(columns, WEIGHTS), even),
			);
		}
	} else if (way == NARROW) {
		for (; out < end; out += 16, columns += BLOCK_BYTES) {
			const numbers = v128.load(columns);
			const others = v128.load(columns, SECOND_NUMBERS);
			const pixels = v128.load(from + load<i32>(columns, LEFTMOST));
			const more = v128.load(from + load<i32>(columns, SECOND_LEFTMOST));
			const left = v128.or(picked(pixels, numbers), picked(more, others));
			const right = v128.or(picked(pixels, i8x16.add(numbers, one)), picked(more, i8x16.add(others, one)));
			v128.store(out, across(left, right, v128.load(columns, WEIGHTS), even));
		}
	} else {
		for (; out < end; out += 16, columns += BLOCK_BYTES)
			for (let x = 0; x < 16; x++) {
				const left = from + load<i32>(columns + 4 * x);
				const weight = <i32>load<u8>(columns + x, WIDE_WEIGHTS);
				const sum = <i32>load<u8>(left) * (128 - weight) + <i32>load<u8>(left + 1) * weight + 64;
				store<u8>(out + x, <u8>(sum >> 7));
			}
	}
}

/** (left · (128 − weight) + right · weight + 64) >> 7 */
// @ts-ignore: decorator
@inline
function across(left: v128, right: v128, weights: v128, even: v128): v128 {
	const evens = i16x8.neg(i16x8.shl(weights, 8));
	const odds = i16x8.neg(v128.andnot(weights, even));
	return towards(left, right, evens, odds, even);
}

function mixRows(out: usize, a: usize, b: usize, width: i32, weight: i32): void {
	const weights = i16x8.splat(<i16>(-weight << 8));
	const even = i16x8.splat(255);
	let x = 0;
	for (; x + 32 <= width; x += 32) {
		v128.store(out + x, towards(v128.load(a + x), v128.load(b + x), weights, weights, even));
		v128.store(out + x, towards(v128.load(a + x, 16), v128.load(b + x, 16), weights, weights, even), 16);
	}
	for (; x < width; x += 16)
		storePart(out + x, towards(v128.load(a + x), v128.load(b + x), weights, weights, even), width - x);
}
