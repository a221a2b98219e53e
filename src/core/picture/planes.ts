/**
 * Frames in the kernels' memory: one WebAssembly memory, whose host decides whether it may grow. An engine uses the same
 * handful of frames all evening, so what comes back is kept for the next picture of that size.
 */

/** Exports of kernels.wasm; see kernels/assembly. Addresses and lengths are in bytes. */
export interface KernelExports {
	blend(
		out: number,
		outStride: number,
		from: number,
		fromStride: number,
		alpha: number,
		alphaStride: number,
		width: number,
		height: number,
		opacity: number,
	): void;
	cellMeans(out: number, from: number, stride: number, width: number, height: number, cell: number): void;
	copy(out: number, outStride: number, from: number, fromStride: number, width: number, height: number): void;
	fill(out: number, stride: number, width: number, height: number, value: number): void;
	fromRgba(y: number, u: number, v: number, alpha: number, from: number, width: number, height: number): void;
	halve(out: number, outStride: number, from: number, fromStride: number, width: number, height: number): void;
	/** Blends a layer without what has the key colour. */
	keyed(
		outY: number,
		outU: number,
		outV: number,
		outStrideY: number,
		outStrideC: number,
		fromY: number,
		fromU: number,
		fromV: number,
		fromStrideY: number,
		fromStrideC: number,
		width: number,
		height: number,
		keyU: number,
		keyV: number,
		tolerance: number,
		softness: number,
		slope: number,
		spillX: number,
		spillY: number,
		spillAmount: number,
		mask: number,
		maskStride: number,
		opacity: number,
		work: number,
	): void;
	/** Writes which columns make which, for `scale`; the region is in 128ths of a pixel. */
	layOut(
		columns: number,
		width: number,
		planeWidth: number,
		regionX: number,
		regionWidth: number,
		mirrored: boolean,
	): number;
	lookUp(
		out: number,
		outStride: number,
		from: number,
		fromStride: number,
		width: number,
		height: number,
		table: number,
	): void;
	mix(out: number, a: number, b: number, length: number, weight: number): void;
	multiply(
		out: number,
		outStride: number,
		a: number,
		aStride: number,
		b: number,
		bStride: number,
		width: number,
		height: number,
	): void;
	/** The region is in 128ths of a pixel; columns and way are those of `layOut`. */
	scale(
		out: number,
		outStride: number,
		width: number,
		height: number,
		from: number,
		fromStride: number,
		planeHeight: number,
		regionX: number,
		regionY: number,
		regionHeight: number,
		columns: number,
		way: number,
		work: number,
	): void;
	split(outU: number, outV: number, from: number, length: number): void;
	toRgba(
		out: number,
		y: number,
		u: number,
		v: number,
		strideY: number,
		strideC: number,
		width: number,
		height: number,
	): void;
}

/** Bytes of `layOut`'s columns for a width. */
export function columnBytes(width: number): number {
	return 80 * ((width + 15) >> 4);
}

/** Bytes of `keyed`'s work for a width. */
export function keyedWorkBytes(width: number): number {
	return 6 * (width + 128);
}

/** The part of WebAssembly.Memory that is used here; the core knows no host types. */
export interface KernelMemory {
	readonly buffer: ArrayBuffer;
	grow(pages: number): number;
}

/**
 * An I420 picture in kernel memory: three planes of bytes, chroma at half size rounded up (an odd width has a
 * chroma sample for its last column). Limited range, ITU-R BT.709. With `alpha`, a fourth plane at full size lies
 * behind them: 0 is transparent.
 */
export interface Planes {
	width: number;
	height: number;
	y: number;
	u: number;
	v: number;
	strideY: number;
	strideC: number;
	/** Bytes from `y` on that hold all three planes, one after another. */
	bytes: number;
	/** Address of the alpha plane, or null for a picture without holes. */
	alpha: number | null;
	/** Counts the pictures that were put here, so that what was made from one is known to be old. */
	version: number;
}

const PAGE_BYTES = 65_536;
/** Vectors may be loaded and stored past the last pixel of a plane. */
export const SLACK_BYTES = 64;

/**
 * Bytes taken for a length: with slack, and up to a quarter more, so that pictures of nearly the same size, as they come
 * and go while a window is resized, can follow each other in one place.
 */
function roomFor(length: number): number {
	const needed = length + SLACK_BYTES;
	const step = Math.max(16, 2 ** (Math.floor(Math.log2(needed)) - 2));
	return Math.ceil(needed / step) * step;
}

/** Allocator of the kernels' memory. The first page stays the kernels' own. */
export class FrameMemory {
	#memory: KernelMemory;
	#top = PAGE_BYTES;
	/** Addresses that came back, by their length. */
	#free = new Map<number, number[]>();
	#view: Uint8Array<ArrayBuffer>;

	constructor(memory: KernelMemory) {
		this.#memory = memory;
		this.#view = new Uint8Array(memory.buffer);
	}

	/** View of the whole memory. Get it again after each allocation: growing moves it. */
	get bytes(): Uint8Array<ArrayBuffer> {
		if (this.#view.buffer !== this.#memory.buffer) this.#view = new Uint8Array(this.#memory.buffer);
		return this.#view;
	}

	/** An address of `length` bytes, 16-aligned, with slack behind it. */
	allocate(length: number): number {
		const room = roomFor(length);
		const free = this.#free.get(room)?.pop();
		if (free !== undefined) return free;
		const at = this.#top;
		this.#top += room;
		const missing = this.#top - this.#memory.buffer.byteLength;
		if (missing > 0) this.#memory.grow(Math.ceil(missing / PAGE_BYTES));
		return at;
	}

	/** Frees what `allocate` returned for the same length; it is used again for an allocation of about that size. */
	release(at: number, length: number): void {
		const room = roomFor(length);
		this.#free.set(room, [...(this.#free.get(room) ?? []), at]);
	}

	releasePlanes({ y, bytes, alpha, width, height }: Planes): void {
		this.release(y, bytes);
		if (alpha !== null) this.release(alpha, width * height);
	}

	/** Room for one picture, its planes following each other without gaps, as VideoFrame reads and writes them. */
	allocatePlanes(width: number, height: number, withAlpha = false): Planes {
		const strideC = (width + 1) >> 1;
		const rowsC = (height + 1) >> 1;
		const bytes = width * height + 2 * strideC * rowsC;
		const y = this.allocate(bytes);
		const alpha = withAlpha ? this.allocate(width * height) : null;
		const u = y + width * height;
		return { width, height, y, u, v: u + strideC * rowsC, strideY: width, strideC, bytes, alpha, version: 0 };
	}
}
