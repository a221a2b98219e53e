/** How much a picture changes from one frame to the next, from a sparse sample of its luma. */
import type { Planes } from './planes.ts';

/** Distance between sampled pixels, across and down. */
const EVERY = 8;

export class MotionMeter {
	#before = new Uint8Array(0);

	/** @returns the mean difference from the picture before, 0 to 255; 0 for the first */
	observe(bytes: Uint8Array, { y: at, strideY, width, height }: Planes): number {
		const across = Math.ceil(width / EVERY);
		const count = across * Math.ceil(height / EVERY);
		const first = this.#before.length !== count;
		if (first) this.#before = new Uint8Array(count);
		let sum = 0;
		let place = 0;
		for (let y = 0; y < height; y += EVERY)
			for (let x = 0; x < width; x += EVERY) {
				const value = bytes[at + y * strideY + x]!;
				sum += Math.abs(value - this.#before[place]!);
				this.#before[place++] = value;
			}
		return first || count === 0 ? 0 : sum / count;
	}
}
