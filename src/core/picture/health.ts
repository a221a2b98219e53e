/** Whether a camera's picture is black or stands still, from a sparse sample of its luma. */
import type { Planes } from './planes.ts';

/** Distance between sampled pixels, across and down. */
const EVERY = 16;
/** Limited-range black is 16; a lens cap is a little above it, and has noise. */
const BLACK_MEAN = 24;
const BLACK_SPREAD = 8;

export interface LumaSample {
	mean: number;
	/** Largest less smallest. */
	spread: number;
	/** Differs as soon as one of the pixels does. */
	sum: number;
}

export function sampleLuma(bytes: Uint8Array, { y: at, strideY, width, height }: Planes): LumaSample {
	let [total, count, least, most, sum] = [0, 0, 255, 0, 0];
	for (let y = EVERY >> 1; y < height; y += EVERY)
		for (let x = EVERY >> 1; x < width; x += EVERY) {
			const value = bytes[at + y * strideY + x]!;
			total += value;
			count++;
			if (value < least) least = value;
			if (value > most) most = value;
			sum = (Math.imul(sum, 31) + value) | 0;
		}
	return { mean: count === 0 ? 0 : total / count, spread: Math.max(0, most - least), sum };
}

export type PictureFault = 'black' | 'frozen' | null;

/** Longest time without light. */
const BLACK_MS = 1200;
/** Longest time without a change: a camera has noise, so no two of its pictures are the same. */
const FROZEN_MS = 1400;
/** An observation older than this counts as none, milliseconds. */
const STALE_MS = 2500;

/** Follows one picture: black or unchanged for longer than it may be is a fault. Times are of a clock without steps. */
export class PictureHealth {
	#lastSum: number | null = null;
	#changedAt = 0;
	#lightAt = 0;
	#lookedAt = -Infinity;

	/** When it was looked at last. */
	get observedAt(): number {
		return this.#lookedAt;
	}

	observe({ mean, spread, sum }: LumaSample, now: number): void {
		const fresh = this.#lastSum === null || now - this.#lookedAt > STALE_MS;
		if (fresh || mean > BLACK_MEAN || spread > BLACK_SPREAD) this.#lightAt = now;
		if (fresh || sum !== this.#lastSum) this.#changedAt = now;
		this.#lastSum = sum;
		this.#lookedAt = now;
	}

	/** For how long the picture has been black, milliseconds; 0 when it is not, or nobody has looked for long. */
	blackMs(now: number): number {
		return now - this.#lookedAt > STALE_MS ? 0 : this.#lookedAt - this.#lightAt;
	}

	fault(now: number): PictureFault {
		if (now - this.#lookedAt > STALE_MS) return null;
		if (now - this.#lightAt >= BLACK_MS) return 'black';
		return now - this.#changedAt >= FROZEN_MS ? 'frozen' : null;
	}
}
