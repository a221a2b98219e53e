/** What the picture worker does when: what viewers get first, and what the desk shows when there is time. */

/** Behind by more than this many frames there is no time to spare. */
const ON_TIME = 1;
/** However busy the machine, the desk is not left with old pictures for longer than this. */
const AT_LEAST_EVERY_MS = 250;
/** After a wait the first pictures for viewers have the machine to themselves for so long. */
const FIRST_MS = 400;

/** A machine that is held up for a moment makes up for so many frames; more are given up at once. */
const CATCH_UP_FRAMES = 5;
/** That may take so long, and is allowed again after this time. */
const CATCH_UP_MS = 150;
const CATCH_UP_EVERY_MS = 2000;

export class Pace {
	#expected: readonly string[] = [];
	#expectedUntil = 0;
	#state: 'new' | 'waiting' | 'begun' = 'new';
	#quietUntil = -Infinity;
	#sparedAt = -Infinity;
	#catchUpAt = -Infinity;

	/**
	 * A desk that comes back to a broadcast has no time for anything before it has the pictures that viewers shall see.
	 * @param sourceIds sources whose pictures are waited for, instead of those before
	 * @param until milliseconds of the clock that the other calls are given
	 */
	expect(sourceIds: readonly string[], until: number): void {
		this.#expected = sourceIds;
		this.#expectedUntil = until;
	}

	/** True while nothing is to be made yet. A program that has begun never waits again, whatever is lost or taken. */
	waits(now: number, isThere: (sourceId: string) => boolean): boolean {
		if (this.#state === 'begun') return false;
		const waits = now < this.#expectedUntil && !this.#expected.every(isThere);
		if (!waits && this.#state === 'waiting') this.#quietUntil = now + FIRST_MS;
		this.#state = waits ? 'waiting' : 'begun';
		return waits;
	}

	/**
	 * The frame to be made next. After a moment's disturbance the frames that were missed are made all the same, of the
	 * pictures that sources have kept; a machine that is always late makes the newest frame only.
	 * @param frame number of the first frame that is not made yet
	 * @param seen frames that have fallen due
	 */
	next(frame: number, seen: number, now: number): number {
		const behind = seen - frame;
		if (behind <= 1) return frame;
		if (now - this.#catchUpAt > CATCH_UP_EVERY_MS) this.#catchUpAt = now;
		const mayCatchUp = behind <= CATCH_UP_FRAMES && now - this.#catchUpAt <= CATCH_UP_MS;
		return mayCatchUp ? frame : seen - 1;
	}

	/**
	 * What there is time for besides what viewers get: the program's monitor, and all else that the desk shows.
	 * @param behind frames that have fallen due and are not made yet, the one to be made among them
	 */
	spare(behind: number, now: number): { forProgram: boolean; forOthers: boolean } {
		const forProgram = now >= this.#quietUntil;
		const forOthers = forProgram && (behind <= ON_TIME || now - this.#sparedAt >= AT_LEAST_EVERY_MS);
		if (forOthers) this.#sparedAt = now;
		return { forProgram, forOthers };
	}
}

const turns = new MessageChannel();

/**
 * Lets in what has come meanwhile. Pictures from cameras and packets from encoders come as tasks, and a loop of
 * promises that have nothing to wait for keeps all of them out.
 */
export function nextTurn(): Promise<void> {
	return new Promise((resolve) => {
		turns.port1.onmessage = () => resolve();
		turns.port2.postMessage(null);
	});
}
