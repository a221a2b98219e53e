// I420 (ITU-R BT.709, limited range) to RGBA for the monitors, eight pixels at a time, chroma repeated.
//
// The matrix in Q15, on luma shifted left by 7 and chroma by 8, so that every term comes out as 64ths:
//   1.16438 / 2 → 19077    1.79274 / 4 → 14686    0.21325 / 4 → 1747    0.53291 / 4 → 4366    2.11240 / 4 → 17305

/** `width` is even and 8 at least; `out` has width · 4 bytes a row. */
export function toRgba(
	out: usize,
	y: usize,
	u: usize,
	v: usize,
	strideY: i32,
	strideC: i32,
	width: i32,
	height: i32,
): void {
	for (let row = 0; row < height; row++) {
		for (let x = 0; x < width; x += 8) {
			// The last block of a row whose width is no multiple of eight overlaps the one before it.
			const at = min(x, width - 8);
			pixels(out + 4 * at, y + at, u + (at >> 1), v + (at >> 1));
		}
		out += 4 * width;
		y += strideY;
		if (row & 1) {
			u += strideC;
			v += strideC;
		}
	}
}

// @ts-ignore: decorator
@inline
function pixels(out: usize, y: usize, u: usize, v: usize): void {
	const luma = i16x8.q15mulr_sat_s(
		i16x8.shl(i16x8.sub(i16x8.extend_low_i8x16_u(v128.load64_zero(y)), i16x8.splat(16)), 7),
		i16x8.splat(19077),
	);
	const blue = chroma(u);
	const red = chroma(v);
	const r = i16x8.add_sat_s(luma, i16x8.q15mulr_sat_s(red, i16x8.splat(14686)));
	const g = i16x8.sub_sat_s(
		i16x8.sub_sat_s(luma, i16x8.q15mulr_sat_s(blue, i16x8.splat(1747))),
		i16x8.q15mulr_sat_s(red, i16x8.splat(4366)),
	);
	const b = i16x8.add_sat_s(luma, i16x8.q15mulr_sat_s(blue, i16x8.splat(17305)));

	const rb = i8x16.narrow_i16x8_u(round(r), round(b));
	const ga = i8x16.narrow_i16x8_u(round(g), i16x8.splat(255));
	const rg = i8x16.shuffle(rb, ga, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23);
	const ba = i8x16.shuffle(rb, ga, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31);
	v128.store(out, i8x16.shuffle(rg, ba, 0, 1, 16, 17, 2, 3, 18, 19, 4, 5, 20, 21, 6, 7, 22, 23));
	v128.store(out + 16, i8x16.shuffle(rg, ba, 8, 9, 24, 25, 10, 11, 26, 27, 12, 13, 28, 29, 14, 15, 30, 31));
}

/** Four chroma samples, each twice, less 128, in 256ths. */
// @ts-ignore: decorator
@inline
function chroma(at: usize): v128 {
	const four = v128.load32_zero(at);
	const doubled = i8x16.shuffle(four, four, 0, 0, 1, 1, 2, 2, 3, 3, 0, 0, 0, 0, 0, 0, 0, 0);
	return i16x8.shl(i16x8.sub(i16x8.extend_low_i8x16_u(doubled), i16x8.splat(128)), 8);
}

// @ts-ignore: decorator
@inline
function round(value: v128): v128 {
	return i16x8.shr_s(i16x8.add_sat_s(value, i16x8.splat(32)), 6);
}

/**
 * RGBA, straight alpha, to I420 and an alpha plane; `width` and `height` even, planes without gaps. Chroma is that of
 * the block's mean colour weighted by alpha, so that what is transparent does not tint the edges.
 *
 *   Y = (11966 R + 40254 G + 4064 B + (16 << 16) + 32768) >> 16
 *   U = (−6596 R − 22188 G + 28784 B + (128 << 16) + 32768) >> 16, V with 28784, −26145, −2639
 */
export function fromRgba(y: usize, u: usize, v: usize, alpha: usize, from: usize, width: i32, height: i32): void {
	for (let row = 0; row < height; row += 2) {
		for (let x = 0; x < width; x += 2, u++, v++) {
			const at = row * width + x;
			let red = 0;
			let green = 0;
			let blue = 0;
			let weights = 0;
			for (let i = 0; i < 4; i++) {
				const pixel = at + (i & 1) + (i >> 1) * width;
				const rgba = load<u32>(from + 4 * pixel);
				const r = <i32>(rgba & 255);
				const g = <i32>((rgba >> 8) & 255);
				const b = <i32>((rgba >> 16) & 255);
				const a = <i32>(rgba >> 24);
				store<u8>(y + pixel, <u8>((11966 * r + 40254 * g + 4064 * b + 1081344) >> 16));
				store<u8>(alpha + pixel, <u8>a);
				red += r * a;
				green += g * a;
				blue += b * a;
				weights += a;
			}
			if (weights > 0) {
				const half = weights >> 1;
				red = (red + half) / weights;
				green = (green + half) / weights;
				blue = (blue + half) / weights;
			}
			store<u8>(u, <u8>((-6596 * red - 22188 * green + 28784 * blue + 8421376) >> 16));
			store<u8>(v, <u8>((28784 * red - 26145 * green - 2639 * blue + 8421376) >> 16));
		}
	}
}
