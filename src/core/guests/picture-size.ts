/**
 * How large a picture a guest sends. The browser fits the rate to the line by itself; a line that loses packets is helped by
 * sending fewer of them, so that the voice gets through.
 */
import type { WantedPicture } from '../show/guests/guest.ts';

/** A line that loses this part is too full, or worse. */
const LOSES = 0.05;
/** So many reports in a row make sure of it, and so many good ones allow more again: one comes in some five seconds. */
const SURE = 2;
const GOOD = 6;
/** Heights to choose from, and what each may take, kbit/s. */
const STEPS = [
	{ height: 180, kbps: 150 },
	{ height: 360, kbps: 600 },
	{ height: 720, kbps: 2000 },
	{ height: 1080, kbps: 3500 },
] as const;

export class PictureSize {
	/** Steps below what is wanted. */
	#less = 0;
	#bad = 0;
	#good = 0;

	/**
	 * Takes a report of the line.
	 * @param lost part of the packets, 0 to 1; null when nothing new was reported
	 * @returns true when another size is to be sent
	 */
	observe(lost: number | null): boolean {
		if (lost === null) return false;
		const isBad = lost >= LOSES;
		this.#bad = isBad ? this.#bad + 1 : 0;
		this.#good = isBad ? 0 : this.#good + 1;
		if (this.#bad >= SURE && this.#less < STEPS.length - 1) this.#less++;
		else if (this.#good >= GOOD && this.#less > 0) this.#less--;
		else return false;
		this.#bad = this.#good = 0;
		return true;
	}

	/** Another line: nothing is known of it. */
	forget(): void {
		this.#less = this.#bad = this.#good = 0;
	}

	/** What is sent where something is wanted. */
	fit({ height, fps }: WantedPicture): WantedPicture & { kbps: number } {
		const at = STEPS.findIndex((step) => step.height >= height);
		const wanted = at < 0 ? STEPS.length - 1 : at;
		const step = STEPS[Math.max(0, wanted - this.#less)]!;
		return { height: Math.min(height, step.height), fps, kbps: step.kbps };
	}
}
