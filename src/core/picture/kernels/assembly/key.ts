// Keying by colour: how far a pixel's chroma is from the key colour becomes its alpha.
import { blendRow, multiplyRow } from './blend';

/**
 * Blends a layer into a picture, without what has the key colour, in one go over its rows; width and height are even.
 *
 * The alpha of a chroma sample is min(255, (min(max(d − tolerance, 0), softness) · slope) >> 4), where d is about the
 * distance of (u, v) from the key colour: the larger of the two differences and half of the smaller. `softness` is 1 to
 * 255, `slope` is 4080 / softness rounded up. Luma has it doubled both ways, each new sample three parts of the nearest
 * and one of the next, rounded, first down and then across, which is what bilinear scaling by two is; multiplied by the
 * mask, if `mask` is not 0. Chroma has the rounded mean of the four of luma.
 *
 * The key colour's light is taken off chroma: r = (max(0, (du · x + dv · y) >> 7) · amount) >> 7 is what lies in the
 * key's direction (x, y), in 128ths; u − ((r · x) >> 7) and v − ((r · y) >> 7) are what is left.
 *
 * `work` needs 6 · (width + 128) bytes.
 */
export function keyed(
	outY: usize,
	outU: usize,
	outV: usize,
	outStrideY: i32,
	outStrideC: i32,
	fromY: usize,
	fromU: usize,
	fromV: usize,
	fromStrideY: i32,
	fromStrideC: i32,
	width: i32,
	height: i32,
	keyU: i32,
	keyV: i32,
	tolerance: i32,
	softness: i32,
	slope: i32,
	spillX: i32,
	spillY: i32,
	spillAmount: i32,
	mask: usize,
	maskStride: i32,
	opacity: i32,
	work: usize,
): void {
	const widthC = width >> 1;
	const heightC = height >> 1;
	const row: usize = ((widthC + 15) & ~15) + 32;
	// Alphas of three chroma rows, and whether there is anything in them.
	let before = work;
	let here = before + row;
	let after = here + row;
	const scratch = after + row + 16;
	const upper = scratch + row;
	const lower = upper + 2 * row;
	const small = lower + 2 * row;
	const u = small + row;
	const v = u + row;

	let isHere = keyRow(here, fromU, fromV, widthC, keyU, keyV, tolerance, softness, slope);
	let isBefore = isHere;
	memory.copy(before, here, row);
	for (let y = 0; y < heightC; y++) {
		let isAfter = isHere;
		if (y + 1 < heightC)
			isAfter = keyRow(
				after,
				fromU + fromStrideC,
				fromV + fromStrideC,
				widthC,
				keyU,
				keyV,
				tolerance,
				softness,
				slope,
			);
		else memory.copy(after, here, row);
		if (isBefore || isHere || isAfter) {
			doubleRow(upper, here, before, widthC, scratch);
			doubleRow(lower, here, after, widthC, scratch);
			if (mask != 0) {
				multiplyRow(upper, upper, mask, width);
				multiplyRow(lower, lower, mask + maskStride, width);
			}
			blendRow(outY, fromY, upper, width, opacity);
			blendRow(outY + outStrideY, fromY + fromStrideY, lower, width, opacity);
			halveRows(small, upper, lower, widthC);
			if (spillAmount == 0) {
				blendRow(outU, fromU, small, widthC, opacity);
				blendRow(outV, fromV, small, widthC, opacity);
			} else {
				cleanRow(u, v, fromU, fromV, widthC, spillX, spillY, spillAmount);
				blendRow(outU, u, small, widthC, opacity);
				blendRow(outV, v, small, widthC, opacity);
			}
		}
		const kept = before;
		before = here;
		here = after;
		after = kept;
		isBefore = isHere;
		isHere = isAfter;
		outY += 2 * outStrideY;
		fromY += 2 * fromStrideY;
		mask += mask != 0 ? 2 * maskStride : 0;
		outU += outStrideC;
		outV += outStrideC;
		fromU += fromStrideC;
		fromV += fromStrideC;
	}
}

/** Alphas of a row of chroma. @returns whether there is one that is not 0 */
function keyRow(
	alpha: usize,
	u: usize,
	v: usize,
	width: i32,
	keyU: i32,
	keyV: i32,
	tolerance: i32,
	softness: i32,
	slope: i32,
): bool {
	const ku = i8x16.splat(<i8>keyU);
	const kv = i8x16.splat(<i8>keyV);
	const inside = i16x8.splat(<i16>tolerance);
	const most = i16x8.splat(<i16>softness);
	const steep = i16x8.splat(<i16>slope);
	let any = i8x16.splat(0);
	for (let x = 0; x < width; x += 16) {
		const du = difference(v128.load(u + x), ku);
		const dv = difference(v128.load(v + x), kv);
		const larger = i8x16.max_u(du, dv);
		const smaller = i8x16.shr_u(i8x16.min_u(du, dv), 1);
		const low = i16x8.add(i16x8.extend_low_i8x16_u(larger), i16x8.extend_low_i8x16_u(smaller));
		const high = i16x8.add(i16x8.extend_high_i8x16_u(larger), i16x8.extend_high_i8x16_u(smaller));
		const sixteen = i8x16.narrow_i16x8_u(ramp(low, inside, most, steep), ramp(high, inside, most, steep));
		v128.store(alpha + x, sixteen);
		any = v128.or(any, sixteen);
	}
	return v128.any_true(any);
}

// @ts-ignore: decorator
@inline
function difference(a: v128, b: v128): v128 {
	return v128.or(i8x16.sub_sat_u(a, b), i8x16.sub_sat_u(b, a));
}

// @ts-ignore: decorator
@inline
function ramp(distance: v128, tolerance: v128, softness: v128, slope: v128): v128 {
	const beyond = i16x8.sub_sat_u(distance, tolerance);
	return i16x8.shr_u(i16x8.mul(i16x8.min_s(beyond, softness), slope), 4);
}

/** A row of twice as many, out of the nearest row and the next; `row` is room for one of them, with 16 bytes before it. */
function doubleRow(out: usize, near: usize, far: usize, width: i32, row: usize): void {
	for (let x = 0; x < width; x += 16) v128.store(row + x, threeToOne(v128.load(near + x), v128.load(far + x)));
	// The neighbours of the first and the last are they themselves.
	store<u8>(row - 1, load<u8>(row));
	store<u8>(row + width, load<u8>(row + width - 1));
	for (let x = 0; x < width; x += 16) {
		const middle = v128.load(row + x);
		const left = threeToOne(middle, v128.load(row + x - 1));
		const right = threeToOne(middle, v128.load(row + x + 1));
		v128.store(out + 2 * x, i8x16.shuffle(left, right, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23));
		v128.store(out + 2 * x, i8x16.shuffle(left, right, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31), 16);
	}
}

/** (3 · near + far + 2) >> 2: the rounded mean of `near` with the mean of both that is not rounded up. */
// @ts-ignore: decorator
@inline
function threeToOne(near: v128, far: v128): v128 {
	const down = i8x16.sub(i8x16.avgr_u(near, far), v128.and(v128.xor(near, far), i8x16.splat(1)));
	return i8x16.avgr_u(near, down);
}

/** (a + b + c + d + 2) >> 2 of blocks of two by two. */
function halveRows(out: usize, upper: usize, lower: usize, width: i32): void {
	const two = i16x8.splat(2);
	for (let x = 0; x < width; x += 16, upper += 32, lower += 32) {
		const low = i16x8.add(
			i16x8.extadd_pairwise_i8x16_u(v128.load(upper)),
			i16x8.extadd_pairwise_i8x16_u(v128.load(lower)),
		);
		const high = i16x8.add(
			i16x8.extadd_pairwise_i8x16_u(v128.load(upper, 16)),
			i16x8.extadd_pairwise_i8x16_u(v128.load(lower, 16)),
		);
		const halved = i8x16.narrow_i16x8_u(i16x8.shr_u(i16x8.add(low, two), 2), i16x8.shr_u(i16x8.add(high, two), 2));
		v128.store(out + x, halved);
	}
}

/** A row of chroma without the key colour's light. */
function cleanRow(outU: usize, outV: usize, u: usize, v: usize, width: i32, x: i32, y: i32, amount: i32): void {
	const vx = i16x8.splat(<i16>x);
	const vy = i16x8.splat(<i16>y);
	const share = i16x8.splat(<i16>amount);
	const middle = i16x8.splat(128);
	for (let i = 0; i < width; i += 8) {
		const du = i16x8.sub(v128.load8x8_u(u + i), middle);
		const dv = i16x8.sub(v128.load8x8_u(v + i), middle);
		const along = i16x8.shr_s(i16x8.add(i16x8.mul(du, vx), i16x8.mul(dv, vy)), 7);
		const removed = i16x8.shr_s(i16x8.mul(i16x8.max_s(along, i16x8.splat(0)), share), 7);
		const newU = i16x8.add(i16x8.sub(du, i16x8.shr_s(i16x8.mul(removed, vx), 7)), middle);
		const newV = i16x8.add(i16x8.sub(dv, i16x8.shr_s(i16x8.mul(removed, vy), 7)), middle);
		const both = i8x16.narrow_i16x8_u(newU, newV);
		v128.store64_lane(outU + i, both, 0);
		v128.store64_lane(outV + i, both, 1);
	}
}
