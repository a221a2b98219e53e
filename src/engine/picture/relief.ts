/**
 * What a busy machine gives up for the viewers' sake: of what only the desk sees first, and at once, whatever saves most
 * as measured; every other picture of the program last, and only when that many are missed anyway. All of it is taken
 * back within seconds. A smaller picture would be less work too, but hosts and files do not take another size in
 * mid-stream; every other picture is seen as calmer than pictures missing at random.
 */

/** What can be given up but for viewers: all monitors but the program's, that one, and what is recorded apart. */
export const PARTS = ['others', 'program', 'tracks'] as const;
export type Part = (typeof PARTS)[number];

/** How often a part is made: refreshes in a second, or each so-manieth picture; and what of its work is saved. */
const WAYS = {
	others: { usual: 10, relieved: 1, saves: 0.9 },
	program: { usual: 15, relieved: 5, saves: 0.67 },
	tracks: { usual: 1, relieved: 2, saves: 0.5 },
} as const;

/** Part of the time between two frames that may be spent on one before something is given up. */
const BUSY = 0.8;
/** It is to be no more than this afterwards, and with what is taken back. */
const COMFORTABLE = 0.65;
/** With every other picture left out the work is half of what it will be again. */
const EASY_AT_HALF = 0.3;
/** Overload is what lasts for so long, while nothing else is left to be given up, and costs so much of all pictures. */
const OVERLOAD_MS = 4000;
const OVERLOAD = 0.15;
/** It has to be easy for so long before something is taken back. */
const EASY_FOR_MS = { desk: 1000, pictures: 2500 };
/** What a part would save is measured in a bad moment, and forgotten at this pace from one look to the next. */
const FORGETS = 0.8;
/** What had to be given up again soon after that waits twice as long each time, up to this. */
const SOON_MS = 10_000;
const LONGEST_WAIT_MS = 20_000;

/** What there was in the last moment. */
export interface Seen {
	/** Part of a frame's time that was spent on it, mean; and what of that went to each part. */
	load: number;
	spent: Readonly<Record<Part, number>>;
	/** Frames that fell due, and those of them that viewers did not get. */
	due: number;
	leftOut: number;
}

export class Relief {
	/** Each so-manieth picture is encoded. */
	encodesEvery: 1 | 2 = 1;
	/** What is given up, with what that saved. */
	readonly #given = new Map<Part, number>();
	#easySince = Infinity;
	/** Since all that the desk can do without was given up, and frames since then. */
	#bare = { since: Infinity, due: 0, leftOut: 0 };
	#desk = new Patience(EASY_FOR_MS.desk);
	#pictures = new Patience(EASY_FOR_MS.pictures);

	/** 0: nothing is given up; 1: something that the desk shows; 2: all of that; 3: every other picture. */
	get level(): 0 | 1 | 2 | 3 {
		if (this.encodesEvery === 2) return 3;
		return this.#given.size === 0 ? 0 : this.#given.size < PARTS.length ? 1 : 2;
	}

	/** Refreshes in a second of the program's monitor, and of each other. */
	get programHz(): number {
		return this.#wayOf('program');
	}

	get otherHz(): number {
		return this.#wayOf('others');
	}

	/** Each so-manieth picture of what is recorded apart is encoded. */
	get tracksEvery(): number {
		return this.#wayOf('tracks');
	}

	#wayOf(part: Part): number {
		return this.#given.has(part) ? WAYS[part].relieved : WAYS[part].usual;
	}

	/** @param now milliseconds of any clock */
	observe(seen: Seen, now: number): void {
		const { load, spent, due, leftOut } = seen;
		if (load > BUSY || leftOut > 0) {
			this.#easySince = Infinity;
			if (this.#given.size < PARTS.length) this.#giveUp(seen, now);
			else this.#endure(due, leftOut, now);
			return;
		}
		if (this.encodesEvery === 1) this.#bare = { since: Infinity, due: 0, leftOut: 0 };
		this.#forget(spent);
		if (this.encodesEvery === 2 && load > EASY_AT_HALF) this.#easySince = Infinity;
		else if (this.#easySince === Infinity) this.#easySince = now;
		else this.#takeBack(load, now);
	}

	/** What saves most first, until it is enough; all of it where viewers miss something. */
	#giveUp({ load, spent, leftOut }: Seen, now: number): void {
		let excess = leftOut > 0 ? Infinity : load - COMFORTABLE;
		const saved = (part: Part) => spent[part] * WAYS[part].saves;
		const left = PARTS.filter((part) => !this.#given.has(part)).sort((a, b) => saved(b) - saved(a));
		for (const part of left) {
			if (excess <= 0) break;
			this.#given.set(part, saved(part));
			excess -= saved(part);
		}
		this.#desk.giveUp(now);
		this.#bare = { since: now, due: 0, leftOut: 0 };
	}

	/** Pictures that are missed now and then are better than half of them. */
	#endure(due: number, leftOut: number, now: number): void {
		const bare = this.#bare;
		if (bare.since === Infinity) bare.since = now;
		bare.due += due;
		bare.leftOut += leftOut;
		if (now - bare.since < OVERLOAD_MS) return;
		if (bare.leftOut > OVERLOAD * bare.due && this.encodesEvery === 1) {
			this.encodesEvery = 2;
			this.#pictures.giveUp(now);
		}
		this.#bare = { since: now, due: 0, leftOut: 0 };
	}

	/** What a part will cost again is more and more what it costs now, less often. */
	#forget(spent: Seen['spent']): void {
		for (const [part, saved] of this.#given) {
			const { saves } = WAYS[part];
			const now = (spent[part] * saves) / (1 - saves);
			this.#given.set(part, Math.min(saved, Math.max(now, FORGETS * saved)));
		}
	}

	#takeBack(load: number, now: number): void {
		const easyMs = now - this.#easySince;
		if (this.encodesEvery === 2) {
			if (easyMs < this.#pictures.waitMs(now)) return;
			this.encodesEvery = 1;
			this.#easySince = now;
			this.#pictures.takeBack(now);
			return;
		}
		if (this.#given.size === 0 || easyMs < this.#desk.waitMs(now)) return;
		let all = load;
		for (const [part, saved] of [...this.#given].sort(([, a], [, b]) => a - b)) {
			all += saved;
			if (all > COMFORTABLE) break;
			this.#given.delete(part);
			this.#desk.takeBack(now);
		}
	}
}

/** How long something waits before it is taken back. */
class Patience {
	readonly #shortest: number;
	#wait: number;
	#takenBackAt = -Infinity;

	constructor(shortest: number) {
		this.#shortest = this.#wait = shortest;
	}

	waitMs(now: number): number {
		return now - this.#takenBackAt > LONGEST_WAIT_MS + SOON_MS ? this.#shortest : this.#wait;
	}

	giveUp(now: number): void {
		this.#wait = now - this.#takenBackAt < SOON_MS ? Math.min(LONGEST_WAIT_MS, 2 * this.#wait) : this.#shortest;
	}

	takeBack(now: number): void {
		this.#takenBackAt = now;
	}
}
