/** The kernels again, plainly: one pixel at a time, as the definition that the fast ones are held against. */

export function mixReference(a: Uint8Array, b: Uint8Array, weight: number): Uint8Array {
	return a.map((value, i) => (value * (256 - weight) + b[i]! * weight + 128) >> 8);
}

/** A region of a plane in 128ths of a pixel. */
export interface Region {
	x: number;
	y: number;
	width: number;
	height: number;
}

/** Position of pixel `i` of `length` in the plane, in 128ths of a pixel: centres aligned. */
function positionOf(i: number, start: number, regionLength: number, length: number): number {
	return Math.max(0, start + Math.floor(((2 * i + 1) * regionLength) / (2 * length)) - 64);
}

function tap(row: (i: number) => number, position: number, planeLength: number): number {
	const left = Math.min(position >> 7, planeLength - 1);
	if (left === planeLength - 1) return row(left);
	const weight = position & 127;
	return (row(left) * (128 - weight) + row(left + 1) * weight + 64) >> 7;
}

/** Bilinear, across first and rounded, then down. */
export function scaleReference(
	from: Uint8Array,
	planeWidth: number,
	planeHeight: number,
	width: number,
	height: number,
	region: Region = { x: 0, y: 0, width: planeWidth << 7, height: planeHeight << 7 },
	mirrored = false,
): Uint8Array {
	const out = new Uint8Array(width * height);
	for (let y = 0; y < height; y++)
		for (let x = 0; x < width; x++) {
			const column = positionOf(mirrored ? width - 1 - x : x, region.x, region.width, width);
			const across = (row: number) => tap((i) => from[row * planeWidth + i]!, column, planeWidth);
			out[y * width + x] = tap(across, positionOf(y, region.y, region.height, height), planeHeight);
		}
	return out;
}

/** `width` and `height` are those of the result; `from` has at least twice as many of each. */
export function halveReference(from: Uint8Array, fromStride: number, width: number, height: number): Uint8Array {
	const out = new Uint8Array(width * height);
	for (let y = 0; y < height; y++)
		for (let x = 0; x < width; x++) {
			const at = 2 * y * fromStride + 2 * x;
			out[y * width + x] = (from[at]! + from[at + 1]! + from[at + fromStride]! + from[at + fromStride + 1]! + 2) >> 2;
		}
	return out;
}

const q15 = (a: number, b: number) => (a * b + 0x4000) >> 15;
const saturate = (value: number) => Math.max(-32768, Math.min(32767, value));
const toByte = (value: number) => Math.max(0, Math.min(255, saturate(value + 32) >> 6));

/** One pixel of ITU-R BT.709 limited range as red, green and blue. */
export function rgbReference(y: number, u: number, v: number): [number, number, number] {
	const luma = q15((y - 16) << 7, 19077);
	const blue = (u - 128) << 8;
	const red = (v - 128) << 8;
	return [
		toByte(saturate(luma + q15(red, 14686))),
		toByte(saturate(saturate(luma - q15(blue, 1747)) - q15(red, 4366))),
		toByte(saturate(luma + q15(blue, 17305))),
	];
}

/** RGBA, straight alpha, as one block of two by two: four lumas, four alphas, and the chroma of their mean colour. */
export function fromRgbaReference(block: readonly [number, number, number, number][]): {
	y: number[];
	alpha: number[];
	u: number;
	v: number;
} {
	const weights = block.reduce((sum, pixel) => sum + pixel[3], 0);
	const mean = [0, 1, 2].map((channel) => {
		const sum = block.reduce((total, pixel) => total + pixel[channel]! * pixel[3], 0);
		return weights === 0 ? 0 : Math.floor((sum + (weights >> 1)) / weights);
	}) as [number, number, number];
	const inner = (weightsOf: [number, number, number], rgb: readonly number[], offset: number) =>
		(weightsOf[0] * rgb[0]! + weightsOf[1] * rgb[1]! + weightsOf[2] * rgb[2]! + (offset << 16) + 32768) >> 16;
	return {
		y: block.map((pixel) => inner([11966, 40254, 4064], pixel, 16)),
		alpha: block.map((pixel) => pixel[3]),
		u: inner([-6596, -22188, 28784], mean, 128),
		v: inner([28784, -26145, -2639], mean, 128),
	};
}

/** One pixel blended; see the kernel for the weight. */
export function blendReference(under: number, over: number, alpha: number, opacity: number): number {
	const weight = ((alpha + (alpha >> 7)) * opacity) >> 8;
	return (under * (256 - weight) + over * weight + 128) >> 8;
}

export function multiplyReference(a: number, b: number): number {
	const product = a * b + 128;
	return (product + (product >> 8)) >> 8;
}

/** @param key numbers as the kernels take them; see `keyNumbers` */
export function chromaKeyReference(
	u: number,
	v: number,
	key: { u: number; v: number; tolerance: number; softness: number; slope: number },
): number {
	const [du, dv] = [Math.abs(u - key.u), Math.abs(v - key.v)];
	const distance = Math.max(du, dv) + (Math.min(du, dv) >> 1);
	const beyond = Math.min(key.softness, Math.max(0, distance - key.tolerance));
	return Math.min(255, (beyond * key.slope) >> 4);
}

export function removeSpillReference(u: number, v: number, x: number, y: number, amount: number): [number, number] {
	const along = ((u - 128) * x + (v - 128) * y) >> 7;
	const removed = (Math.max(0, along) * amount) >> 7;
	const byte = (value: number) => Math.max(0, Math.min(255, value));
	return [byte(u - ((removed * x) >> 7)), byte(v - ((removed * y) >> 7))];
}

export function cellMeansReference(
	from: Uint8Array,
	stride: number,
	width: number,
	height: number,
	cell: number,
): number[] {
	const [across, down] = [width, height].map((length) => Math.max(1, Math.floor(length / cell))) as [number, number];
	const means: number[] = [];
	for (let j = 0; j < down; j++)
		for (let i = 0; i < across; i++) {
			const [right, bottom] = [i === across - 1 ? width : (i + 1) * cell, j === down - 1 ? height : (j + 1) * cell];
			let [sum, count] = [0, 0];
			for (let y = j * cell; y < bottom; y++)
				for (let x = i * cell; x < right; x++) {
					sum += from[y * stride + x]!;
					count++;
				}
			means.push(Math.floor((sum + (count >> 1)) / count));
		}
	return means;
}

export function doubleReference(from: Uint8Array, width: number, height: number): Uint8Array {
	const threeToOne = (near: number, far: number) => (3 * near + far + 2) >> 2;
	const at = (x: number, y: number) => from[y * width + x]!;
	const down = (x: number, y: number) => {
		const next = Math.min(height - 1, Math.max(0, (y >> 1) + (y % 2 ? 1 : -1)));
		return threeToOne(at(x, y >> 1), at(x, next));
	};
	return Uint8Array.from({ length: 4 * width * height }, (_, i) => {
		const [x, y] = [i % (2 * width), Math.floor(i / (2 * width))];
		const next = Math.min(width - 1, Math.max(0, (x >> 1) + (x % 2 ? 1 : -1)));
		return threeToOne(down(x >> 1, y), down(next, y));
	});
}

type Three = readonly [y: Uint8Array, u: Uint8Array, v: Uint8Array];

/** A layer blended into a picture without what has the key colour, all planes without gaps. */
export function keyedReference(
	under: Three,
	over: Three,
	how: {
		width: number;
		height: number;
		key: Parameters<typeof chromaKeyReference>[2];
		/** Of spill: direction and amount. */
		x: number;
		y: number;
		amount: number;
		mask: Uint8Array | null;
		opacity: number;
	},
): Three {
	const { width, height, key, x, y, amount, mask, opacity } = how;
	const [widthC, heightC] = [width >> 1, height >> 1];
	const [luma, u, v] = over;
	const small = u.map((value, i) => chromaKeyReference(value, v[i]!, key));
	const doubled = doubleReference(small, widthC, heightC);
	const alpha = mask ? doubled.map((value, i) => multiplyReference(value, mask[i]!)) : doubled;
	const alphaC = halveReference(alpha, width, widthC, heightC);
	const cleaned = [...u].map((value, i) => removeSpillReference(value, v[i]!, x, y, amount));
	const blended = (plane: Uint8Array, by: (i: number) => number, alphas: Uint8Array) =>
		plane.map((value, i) => blendReference(value, by(i), alphas[i]!, opacity));
	return [
		blended(under[0], (i) => luma[i]!, alpha),
		blended(under[1], (i) => cleaned[i]![0], alphaC),
		blended(under[2], (i) => cleaned[i]![1], alphaC),
	];
}
