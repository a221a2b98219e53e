/** What is given up first when a machine cannot do everything: what viewers get comes last. */

/**
 * From all there is to the least: refreshes of the program's monitor and of all others per second, and which pictures
 * are encoded. A smaller picture would be less work too, but hosts and files do not take another size in mid-stream;
 * every other picture is seen as calmer than pictures missing at random.
 */
export const LADDER = [
	{ programHz: 15, otherHz: 10, encodesEvery: 1 },
	{ programHz: 15, otherHz: 3, encodesEvery: 1 },
	{ programHz: 8, otherHz: 1, encodesEvery: 1 },
	{ programHz: 8, otherHz: 1, encodesEvery: 2 },
] as const;

/** Part of the time between two frames that may be spent on one before something is given up. */
const BUSY = 0.8;
const EASY = 0.5;
/** Hard for a moment is no reason: things start, tabs open. */
const HARD_FOR_MS = 1500;
/** Taken up again only after it has been easy for long: the wall should not come and go. */
const EASY_FOR_MS = 15_000;

export class Relief {
	/** Step of the ladder that the machine is on. */
	level = 0;
	#hardSince = Infinity;
	#easySince = Infinity;

	/**
	 * @param load part of a frame's time that was spent on it, mean of the last moment
	 * @param leftOut frames that viewers did not get in that moment
	 * @param now milliseconds of any clock
	 */
	observe(load: number, leftOut: number, now: number): void {
		const hard = load > BUSY || leftOut > 0;
		// With every other picture left out the work is half of what it will be again.
		const easy = load < EASY / LADDER[this.level]!.encodesEvery && leftOut === 0;
		this.#hardSince = hard ? Math.min(this.#hardSince, now) : Infinity;
		this.#easySince = easy ? Math.min(this.#easySince, now) : Infinity;
		if (this.level < LADDER.length - 1 && now - this.#hardSince >= HARD_FOR_MS) this.#step(1);
		else if (this.level > 0 && now - this.#easySince >= EASY_FOR_MS) this.#step(-1);
	}

	/** One step at a time, so that what it brought is seen before the next. */
	#step(by: number): void {
		this.level += by;
		this.#hardSince = this.#easySince = Infinity;
	}
}
