/** What is wrong with a sound, from its levels over time; and the words for it. */
import type { Levels } from './readings.ts';

export type SoundFault = 'silent' | 'oneSide' | 'outOfPhase' | 'clipping' | 'hum' | 'idle';

/** Seconds that something lasts before it is said. */
const LASTS_S = { silent: 5, oneSide: 4, outOfPhase: 3, hum: 1, idle: 10 } as const;
/** A sample at full scale is said for this long. */
const CLIPPING_SAID_S = 3;
const SILENT_RMS = 10 ** (-70 / 20);
const NOTHING_RMS = 10 ** (-75 / 20);
/** Below this it is too quiet to say anything of its sides. */
const HEARD_RMS = 10 ** (-50 / 20);
/** Twenty decibels between the sides. */
const ONE_SIDE = 10;
const OUT_OF_PHASE = -0.4;
/** Part of what comes in that is the mains: is hum from the first on, is none below the second. */
const HUM = [0.6, 0.2] as const;

/** Watches one sound. Look a few times a second. */
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

/** A sentence on a channel's fault: what, and what to do. */
export function channelFaultWords(name: string, fault: SoundFault, side: 'left' | 'right'): string {
	switch (fault) {
		case 'silent':
		case 'idle':
			return `${name} is open, but nothing comes in. Check its cable and the console, or mute it.`;
		case 'oneSide':
			return `${name} has sound on the ${side} side only. Check the other cable, or put ${side} on both sides in its strip.`;
		case 'outOfPhase':
			return `The two sides of ${name} cancel each other out. Turn one cable’s polarity, or use one side for both.`;
		case 'clipping':
			return `${name} is too loud where it comes in and distorts. Turn it down at the console.`;
		case 'hum':
			return `${name} hums like the mains. Check its cable and its power supply.`;
	}
}

/** A sentence on a fault of the whole mix. */
export function mixFaultWords(fault: SoundFault, side: 'left' | 'right'): string {
	switch (fault) {
		case 'silent':
		case 'idle':
			return 'Viewers have had no sound for 5 s. Check mutes and faders, and that the console is connected.';
		case 'oneSide':
			return `Viewers hear the ${side} side only. Look for the channel with one side, and put it on both.`;
		case 'outOfPhase':
			return 'Left and right cancel each other out: on a telephone there would be no sound. Look for the channel that says so.';
		case 'clipping':
			return 'The mix is too loud. Turn its channels down.';
		case 'hum':
			return 'The mix hums like the mains. Look for the channel that says so.';
	}
}

const OFF_TARGET_LU = 3;

/** A sentence when the evening is clearly louder or softer than it should be, else empty. */
export function loudnessWords(integrated: number, targetLufs: number): string {
	const off = integrated - targetLufs;
	if (!Number.isFinite(off) || Math.abs(off) <= OFF_TARGET_LU) return '';
	const by = Math.round(Math.abs(off));
	return off > 0
		? `The evening is ${by} dB louder than it should be. Turn the whole mix down.`
		: `The evening is ${by} dB softer than it should be. Turn the whole mix up.`;
}
