/**
 * Whether a microphone hears what is played beside it, from both sounds as they go on: an echo of what a guest hears comes
 * back with their voice. What is found twice in the same place is there (generalised cross-correlation, see
 * delay-estimate.ts).
 */
import type { DelayEstimate } from './delay-estimate.ts';

/** What is compared at a time, seconds. */
export const HEARD_BACK_S = 3;
/** Two findings nearer than this are of the same echo, milliseconds. */
const AGREE_MS = 10;
/** Three times without it, and it is gone. */
const GONE = 3;
/** A finding is compared with so many before it: on a machine that is too slow, sound slips by a buffer now and then. */
const LATELY = 3;

export class HeardBack {
	/** By how much the microphone was behind, the oldest first; null where nothing was found. */
	#lately: (number | null)[] = [];
	#without = 0;
	#isThere = false;

	/** True while what is played comes back. */
	get isThere(): boolean {
		return this.#isThere;
	}

	/** @param estimate by how much the microphone is behind what was played */
	observe(estimate: DelayEstimate): void {
		// Nobody was heard: nothing is said by that.
		if ('refused' in estimate && estimate.refused !== 'notTheSame') return;
		// A sound cannot come back before it was played.
		const delayMs = 'refused' in estimate || estimate.delayMs < 0 ? null : estimate.delayMs;
		const agrees = delayMs !== null && this.#lately.some((ms) => ms !== null && Math.abs(delayMs - ms) < AGREE_MS);
		// One that is found elsewhere, once, is chance.
		this.#without = agrees ? 0 : this.#without + 1;
		if (agrees) this.#isThere = true;
		const isGone = this.#isThere && this.#without >= GONE;
		if (isGone) this.#isThere = false;
		this.#lately = isGone ? [] : [...this.#lately, delayMs].slice(-LATELY);
	}
}
