/** What is given up first when a machine cannot do everything: never the viewers' picture. */

/** From all there is to the least: refreshes of the program's monitor and of all others, per second. */
export const LADDER = [
	{ programHz: 15, otherHz: 10 },
	{ programHz: 15, otherHz: 3 },
	{ programHz: 8, otherHz: 1 },
] as const;

/** Part of the time between two frames that may be spent on one before something is given up. */
const BUSY = 0.8;
const EASY = 0.5;
/** One step down at a time, so that what the last one brought is seen. */
const STEP_MS = 2000;
/** Taken up again only after it has been easy for long: the wall should not come and go. */
const EASY_FOR_MS = 15_000;

export class Relief {
	/** Step of the ladder that the machine is on. */
	level = 0;
	#changedAt = -Infinity;
	#easySince = Infinity;

	/**
	 * @param load part of a frame's time that was spent on it, mean of the last moment
	 * @param leftOut frames that viewers did not get in that moment
	 * @param now milliseconds of any clock
	 */
	look(load: number, leftOut: number, now: number): void {
		const hard = load > BUSY || leftOut > 0;
		const easy = load < EASY && leftOut === 0;
		this.#easySince = easy ? Math.min(this.#easySince, now) : Infinity;
		if (hard && this.level < LADDER.length - 1 && now - this.#changedAt >= STEP_MS) this.#step(1, now);
		else if (this.level > 0 && now - this.#easySince >= EASY_FOR_MS) this.#step(-1, now);
	}

	#step(by: number, now: number): void {
		this.level += by;
		this.#changedAt = now;
		this.#easySince = Infinity;
	}
}
