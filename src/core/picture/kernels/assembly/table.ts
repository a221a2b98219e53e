// Any function of one byte, as a table of 256: brightness, gamma, saturation, luma keys, the edge of a wipe.
import { storePart } from './planes';

/** out = table[from] for a rectangle of a plane; `out` and `from` may be the same. */
export function lookUp(
	out: usize,
	outStride: i32,
	from: usize,
	fromStride: i32,
	width: i32,
	height: i32,
	table: usize,
): void {
	for (let y = 0; y < height; y++, out += outStride, from += fromStride) {
		for (let x = 0; x < width; x += 16) {
			let index = v128.load(from + x);
			let result = i8x16.splat(0);
			// A swizzle gives 0 for an index outside of its sixteen entries, so the sixteen parts can be joined.
			for (let part = 0; part < 256; part += 64) {
				result = v128.or(result, i8x16.swizzle(v128.load(table + part), index));
				index = i8x16.sub(index, i8x16.splat(16));
				result = v128.or(result, i8x16.swizzle(v128.load(table + part, 16), index));
				index = i8x16.sub(index, i8x16.splat(16));
				result = v128.or(result, i8x16.swizzle(v128.load(table + part, 32), index));
				index = i8x16.sub(index, i8x16.splat(16));
				result = v128.or(result, i8x16.swizzle(v128.load(table + part, 48), index));
				index = i8x16.sub(index, i8x16.splat(16));
			}
			storePart(out + x, result, width - x);
		}
	}
}
