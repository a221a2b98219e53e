/** What is wrong with a sound, from its levels over time; and the words for it. */
import type { Levels } from './readings.ts';

export type SoundFault = 'silent' | 'oneSide' | 'outOfPhase' | 'clipping' | 'hum' | 'idle';

/** Seconds that something lasts before it is said. */
const LASTS_S = { silent: 5, oneSide: 4, outOfPhase: 3, hum: 1, idle: 10 } as const;
/** A sample at full scale is said for this long. */
const CLIPPING_SAID_S = 3;
const SILENT_RMS = 10 ** (-70 / 20);
const NOTHING_RMS = 10 ** (-75 / 20);
/** Below this level the two sides are not compared. */
const HEARD_RMS = 10 ** (-50 / 20);
/** Twenty decibels between the sides. */
const ONE_SIDE = 10;
const OUT_OF_PHASE = -0.4;
/** Part of what comes in that is the mains: is hum from the first on, is none below the second. */
const HUM = [0.6, 0.2] as const;

/** Watches one sound. Call `observe` a few times a second. */
export class SoundHealth {
	#lasts = { silent: 0, oneSide: 0, outOfPhase: 0, hum: 0, idle: 0 };
	#clippedAgoS = Infinity;
	/** The side that has sound when the other has none. */
	side: 'left' | 'right' = 'left';

	/**
	 * @param levels since the last look
	 * @param elapsedS seconds since then
	 * @param heard true while it should be heard: on air for the mix, open for a channel
	 */
	observe(levels: Levels, elapsedS: number, heard: boolean): void {
		const { rms, correlation, rmsIn, clipped, hum } = levels;
		const [left, right] = rms;
		const loud = Math.max(left, right);
		const count = (fault: keyof typeof LASTS_S, is: boolean) =>
			(this.#lasts[fault] = is ? this.#lasts[fault] + elapsedS : 0);
		count('silent', heard && loud < SILENT_RMS);
		count('oneSide', loud > HEARD_RMS && loud > ONE_SIDE * Math.min(left, right));
		if (left !== right) this.side = left > right ? 'left' : 'right';
		count('outOfPhase', Math.min(left, right) > HEARD_RMS && correlation < OUT_OF_PHASE);
		count('idle', heard && rmsIn < NOTHING_RMS);
		this.#clippedAgoS = clipped >= 3 ? 0 : this.#clippedAgoS + elapsedS;
		// Speech hides the hum; its pauses show it.
		if (rmsIn > SILENT_RMS && hum > HUM[0]) this.#lasts.hum = Math.min(2, this.#lasts.hum + elapsedS);
		else if (hum < HUM[1]) this.#lasts.hum = Math.max(0, this.#lasts.hum - elapsedS / 4);
	}

	/** What is wrong, the gravest first. */
	get faults(): SoundFault[] {
		const lasting = (['silent', 'oneSide', 'outOfPhase', 'hum', 'idle'] as const).filter(
			(fault) => this.#lasts[fault] >= LASTS_S[fault],
		);
		return this.#clippedAgoS < CLIPPING_SAID_S ? [...lasting, 'clipping'] : lasting;
	}
}

const OFF_TARGET_LU = 3;

/** By how many LU the evening is clearly louder (above 0) or softer than it should be; 0 while it is near enough. */
export function offTargetLu(integrated: number, targetLufs: number): number {
	const off = integrated - targetLufs;
	return Number.isFinite(off) && Math.abs(off) > OFF_TARGET_LU ? off : 0;
}
