/**
 * When what a camera sends is shown and heard: late enough that what is held up on its way still comes in time, and no
 * later. Picture and sound of one camera are held by the same time, so that lips and voice stay together.
 */
import type { Line } from './straight-time.ts';

/** Beyond the shortest way, so much time is left for what is held up. */
export const LEAST_MARGIN_MS = 40;
export const MOST_MARGIN_MS = 250;
/** The shortest way is that of the last one to two of these, so that clocks may drift against each other. */
const WINDOW_MS = 4000;
/** After something came too late the margin grows by this, and shrinks by this with each window in which nothing did. */
const GROWS_MS = 20;
const SHRINKS_MS = 5;

/** The least delay of the last seconds. */
class ShortestWay {
	#recent = Infinity;
	#before = Infinity;
	#since = -Infinity;

	note(delayMs: number, now: number): void {
		if (now - this.#since > WINDOW_MS) {
			// Forgotten whole after a silence.
			this.#before = now - this.#since > 2 * WINDOW_MS ? Infinity : this.#recent;
			this.#recent = Infinity;
			this.#since = now;
		}
		this.#recent = Math.min(this.#recent, delayMs);
	}

	get ms(): number {
		return Math.min(this.#recent, this.#before);
	}
}

export class Arrival {
	readonly #ways = { video: new ShortestWay(), audio: new ShortestWay() };
	#margin = LEAST_MARGIN_MS;
	#calmSince = -Infinity;

	/** Time that is left for what is held up, milliseconds. */
	get marginMs(): number {
		return this.#margin;
	}

	/**
	 * @param mediaMs when it is to be shown, on the camera's clock
	 * @param now when it is there, decoded, milliseconds
	 * @returns when it is to be shown or heard, milliseconds of the same clock as `now`; before `now` when it came too late
	 */
	dueAt(line: Line, mediaMs: number, now: number): number {
		this.#ways[line].note(now - mediaMs, now);
		const ways = [this.#ways.video.ms, this.#ways.audio.ms].filter(Number.isFinite);
		const due = mediaMs + Math.max(...ways) + this.#margin;
		this.#adapt(now - due, now);
		return due;
	}

	#adapt(lateMs: number, now: number): void {
		if (lateMs > 0) {
			this.#margin = Math.min(MOST_MARGIN_MS, this.#margin + Math.min(GROWS_MS, lateMs));
			this.#calmSince = now;
		} else if (now - this.#calmSince > WINDOW_MS) {
			this.#margin = Math.max(LEAST_MARGIN_MS, this.#margin - SHRINKS_MS);
			this.#calmSince = now;
		}
	}
}
