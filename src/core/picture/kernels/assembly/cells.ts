// Averages over square cells: all that a privacy patch keeps of a picture.

/**
 * Means, rounded, of cells of `cell` × `cell` pixels, written one after another, max(1, width / cell) in a row. The
 * last cell of a row or column takes what is left over, so that no mean is of less than a whole cell.
 */
export function cellMeans(out: usize, from: usize, stride: i32, width: i32, height: i32, cell: i32): void {
	const across = max(1, width / cell);
	const down = max(1, height / cell);
	for (let j = 0; j < down; j++) {
		const y = j * cell;
		const rows = j == down - 1 ? height - y : cell;
		for (let i = 0; i < across; i++, out++) {
			const x = i * cell;
			const columns = i == across - 1 ? width - x : cell;
			let sum: u32 = 0;
			let row = from + y * stride + x;
			for (let n = 0; n < rows; n++, row += stride) sum += sumOf(row, columns);
			const count = <u32>(rows * columns);
			store<u8>(out, <u8>((sum + (count >> 1)) / count));
		}
	}
}

// @ts-ignore: decorator
@inline
function sumOf(at: usize, length: i32): u32 {
	let sum: u32 = 0;
	let i = 0;
	if (length >= 16) {
		let sums = i32x4.splat(0);
		for (; i + 16 <= length; i += 16)
			sums = i32x4.add(sums, i32x4.extadd_pairwise_i16x8_u(i16x8.extadd_pairwise_i8x16_u(v128.load(at + i))));
		sum = <u32>(
			(i32x4.extract_lane(sums, 0) +
				i32x4.extract_lane(sums, 1) +
				i32x4.extract_lane(sums, 2) +
				i32x4.extract_lane(sums, 3))
		);
	}
	for (; i < length; i++) sum += load<u8>(at + i);
	return sum;
}
