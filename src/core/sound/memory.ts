/**
 * Memory of the sound kernels. What they work on lies in it and is given to them by its place, `byteOffset`; to everybody
 * else it is an array like any other.
 */

/** Exports of sound.wasm; see kernels/assembly. Places are in bytes, lengths in samples, a multiple of 16. */
export interface SoundKernels {
	readonly memory: { readonly buffer: ArrayBuffer };
	examine(samples: number, length: number, fullScale: number, told: number): void;
	raiseToPeaks(peaks: number, samples: number, steps: number): void;
	scale(samples: number, gains: number, steps: number): void;
	add(
		left: number,
		right: number,
		mixLeft: number,
		mixRight: number,
		length: number,
		gain: number,
		slope: number,
	): void;
	sum(into: number, from: number, length: number): void;
	fade(samples: number, length: number, gain: number, told: number): void;
	cross(
		left: number,
		right: number,
		length: number,
		leftToLeft: number,
		rightToLeft: number,
		leftToRight: number,
		rightToRight: number,
		told: number,
	): void;
	levels(left: number, right: number, length: number, told: number): void;
}

/** The kernels' own come first. */
const FIRST_PLACE = 1024;
/** Numbers that a kernel tells of a block: three, and a sum for each sixteen of its samples. */
const MOST_TOLD = 64;

export class SoundMemory {
	readonly kernels: SoundKernels;
	/** What the newest kernel has told. */
	readonly told: Float64Array<ArrayBuffer>;
	#top = FIRST_PLACE;

	constructor(kernels: SoundKernels) {
		this.kernels = kernels;
		this.told = this.doubles(MOST_TOLD);
	}

	/** Samples, all 0. @throws {RangeError} when there is no room left */
	floats(length: number): Float32Array<ArrayBuffer> {
		return new Float32Array(this.kernels.memory.buffer, this.#take(4 * length), length);
	}

	/** Numbers, all 0. @throws {RangeError} when there is no room left */
	doubles(length: number): Float64Array<ArrayBuffer> {
		return new Float64Array(this.kernels.memory.buffer, this.#take(8 * length), length);
	}

	#take(bytes: number): number {
		const at = this.#top;
		this.#top += (bytes + 15) & ~15;
		return at;
	}
}
