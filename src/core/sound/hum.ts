/**
 * How much of a sound is the mains: at 50 or 60 Hz and twice that, by Goertzel's recurrence. The mean of each sixteen
 * samples is enough for that.
 */
export const MEAN_OF = 16;
const RATE = 48_000 / MEAN_OF;
const HZ = [50, 100, 60, 120];
/** Means of a window: a fifth of a second, whole periods of all four. */
const WINDOW = 600;

export class HumDetector {
	readonly #c = HZ.map((hz) => 2 * Math.cos((2 * Math.PI * hz) / RATE));
	readonly #s1 = new Float64Array(HZ.length);
	readonly #s2 = new Float64Array(HZ.length);
	#seen = 0;

	/**
	 * @param sums of each MEAN_OF samples, as many as divide the window
	 * @returns the sum of squares, over its samples, at the mains' frequencies of a window that has just ended, else 0
	 */
	run(sums: Float64Array): number {
		for (let i = 0; i < sums.length; i++) {
			const mean = sums[i]! / MEAN_OF;
			for (let k = 0; k < HZ.length; k++) {
				const s = mean + this.#c[k]! * this.#s1[k]! - this.#s2[k]!;
				this.#s2[k] = this.#s1[k]!;
				this.#s1[k] = s;
			}
			this.#seen++;
		}
		if (this.#seen < WINDOW) return 0;
		this.#seen = 0;
		return MEAN_OF * Math.max(this.#take(0) + this.#take(1), this.#take(2) + this.#take(3));
	}

	#take(k: number): number {
		const [s1, s2, c] = [this.#s1[k]!, this.#s2[k]!, this.#c[k]!];
		this.#s1[k] = this.#s2[k] = 0;
		return (2 / WINDOW) * (s1 * s1 + s2 * s2 - c * s1 * s2);
	}
}
