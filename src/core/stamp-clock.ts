/** When a thing that carries a time of its own would have come, had nothing held it up on its way. */

/** For frames and ticks, which come many times a second. */
const WINDOW_MS = 2000;

/**
 * Things come late, never early: the least delay of the last seconds is that of a thing that nothing held up. A source
 * that carries no useful times counts as having come long ago, never as still to come.
 */
export class StampClock {
	#recent = Infinity;
	#before = Infinity;
	#since = -Infinity;
	readonly #windowMs: number;

	/** @param windowMs a shortest way is forgotten after one to two of these, so that clocks may drift against each other */
	constructor(windowMs = WINDOW_MS) {
		this.#windowMs = windowMs;
	}

	/**
	 * @param stampMs time that the thing carries, milliseconds on a clock of its own
	 * @param now when it came, milliseconds
	 * @returns when it would have come, milliseconds; at most `now`
	 */
	onTime(stampMs: number, now: number): number {
		if (now - this.#since > this.#windowMs) {
			this.#before = this.#recent;
			this.#recent = Infinity;
			this.#since = now;
		}
		this.#recent = Math.min(this.#recent, now - stampMs);
		return stampMs + Math.min(this.#recent, this.#before);
	}
}
