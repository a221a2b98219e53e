/** How loud an evening was, second by second, in no more points than a small chart can show. */

export interface LoudnessPoint {
	/** Milliseconds since 1970. */
	at: number;
	/** LUFS. */
	shortTerm: number;
	integrated: number;
}

export class LoudnessCurve {
	/** From the first on, the newest one among them. */
	points: LoudnessPoint[];
	#most: number;
	/** Milliseconds that lie between two points at least. */
	#step = 1000;

	/** @param points what is known already, from the first on */
	constructor(points: readonly LoudnessPoint[], most = 600) {
		this.points = [...points];
		this.#most = most;
		this.#thin();
	}

	add(point: LoudnessPoint): void {
		const before = this.points.at(-2);
		// Too near to what is kept: it stands for the newest until the next one comes.
		if (before && point.at - before.at < this.#step) this.points.pop();
		this.points.push(point);
		this.#thin();
	}

	/** Of too many every other one is enough. */
	#thin(): void {
		while (this.points.length > this.#most) {
			this.points = this.points.filter((_, i) => i % 2 === 0);
			this.#step *= 2;
		}
	}
}
