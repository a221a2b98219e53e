/** Levels as a person reads them. */

/** Decibels relative to full scale of a linear peak; −∞ for silence. */
export function toDbfs(peak: number): number {
	return 20 * Math.log10(peak);
}

/** The needle's fall: 20 dB in 1.7 s, as IEC 60268-10 asks of a type I peak meter. */
const FALL_DB_PER_S = 20 / 1.7;
const HOLD_S = 1.5;

/** A peak meter: rises at once, falls slowly, holds its highest mark for a while. */
export class PeakMeter {
	levelDb = -Infinity;
	holdDb = -Infinity;
	#heldForS = 0;

	/**
	 * @param peak highest sample since the last reading, linear
	 * @param elapsedS seconds since the last reading
	 */
	read(peak: number, elapsedS: number): void {
		const now = toDbfs(peak);
		this.levelDb = Math.max(now, this.levelDb - FALL_DB_PER_S * elapsedS);
		this.#heldForS += elapsedS;
		if (now >= this.holdDb || this.#heldForS > HOLD_S) {
			this.holdDb = now >= this.holdDb ? now : this.levelDb;
			this.#heldForS = 0;
		}
	}
}
