/**
 * Gate and compressor. Feed-forward, level and gain in decibels, after D. Giannoulis, M. Massberg, J. D. Reiss, "Digital
 * Dynamic Range Compressor Design", J. Audio Eng. Soc. 60 (2012): gain computer with a soft knee (eq. 4), smoothed with
 * a decoupled attack and release (eq. 17). The gain is worked out every STEP samples and drawn straight in between.
 */
import type { CompressorSettings, Strip } from '../show/mix/mix.ts';
import { toDb, toGains } from './decibels.ts';
import type { SoundMemory } from './memory.ts';

/** Samples for which one gain is worked out: a third of a millisecond. */
export const STEP = 16;
const KNEE_DB = 6;

/** Gain change in dB, 0 or less, of a compressor at a level: straight below and above the knee, a parabola within. */
export function compressedBy(levelDb: number, thresholdDb: number, ratio: number): number {
	const over = levelDb - thresholdDb;
	if (2 * over < -KNEE_DB) return 0;
	const slope = 1 / ratio - 1;
	if (2 * over > KNEE_DB) return slope * over;
	return (slope * (over + KNEE_DB / 2) ** 2) / (2 * KNEE_DB);
}

/** How much of the way to its end a smoothed value has left after one STEP. */
export function decayPerStep(timeMs: number, rate: number): number {
	return Math.exp(-STEP / ((timeMs / 1000) * rate));
}

/** What they have in common: a gain that follows a level and lies on two sides alike. */
abstract class Dynamics {
	/** In dB, 0 or less; what the desk shows. */
	reductionDb = 0;
	readonly #memory: SoundMemory;
	/** For each STEP of the block: levels at first, gains at last. */
	readonly #steps: Float64Array;
	/** The gain before the block, then those at the end of each STEP. */
	readonly #gains: Float64Array;

	/**
	 * @param memory in which what it runs on lies
	 * @param length of blocks, a multiple of STEP
	 */
	constructor(memory: SoundMemory, length: number) {
		this.#memory = memory;
		this.#steps = memory.doubles(length / STEP);
		this.#gains = memory.doubles(length / STEP + 1).fill(1);
	}

	/** Makes levels in dB into the gains in dB that are aimed at, in place. */
	protected abstract aim(levelsDb: Float64Array): void;
	/** Linear. */
	protected makeup = 1;
	protected on = false;

	/**
	 * In place.
	 * @param other null for one sound alone
	 */
	run(left: Float32Array, other: Float32Array | null): void {
		// What is off has faded out once its gain is 1.
		if (!this.on && this.makeup === 1 && this.#gains[0] === 1) return;
		const [steps, gains] = [this.#steps, this.#gains];
		const { kernels } = this.#memory;
		const last = steps.length;
		steps.fill(0);
		kernels.raiseToPeaks(steps.byteOffset, left.byteOffset, last);
		if (other) kernels.raiseToPeaks(steps.byteOffset, other.byteOffset, last);
		toDb(steps);
		this.aim(steps);
		this.reductionDb = steps[last - 1]!;
		toGains(steps);
		for (let i = 0; i < last; i++) gains[i + 1] = this.makeup * steps[i]!;
		// Near enough to 1 is 1, so that what is off can rest.
		if (!this.on && Math.abs(gains[last]! - 1) < 1e-6) gains[last] = 1;
		kernels.scale(left.byteOffset, gains.byteOffset, last);
		if (other) kernels.scale(other.byteOffset, gains.byteOffset, last);
		gains[0] = gains[last]!;
	}
}

export class Compressor extends Dynamics {
	#thresholdDb = 0;
	#ratio = 1;
	#attack = 0;
	#release = 0;
	/** In dB, held and smoothed. */
	readonly #state = new Float64Array(2);

	set({ on, thresholdDb, ratio, attackMs, releaseMs, makeupDb }: CompressorSettings, rate: number): void {
		this.#thresholdDb = thresholdDb;
		this.#ratio = on ? ratio : 1;
		this.#attack = decayPerStep(attackMs, rate);
		this.#release = decayPerStep(releaseMs, rate);
		this.makeup = on ? 10 ** (makeupDb / 20) : 1;
		this.on = on;
	}

	protected aim(levelsDb: Float64Array): void {
		const attack = this.#attack;
		const release = this.#release;
		let held = this.#state[0]!;
		let smooth = this.#state[1]!;
		for (let i = 0; i < levelsDb.length; i++) {
			const wanted = -compressedBy(levelsDb[i]!, this.#thresholdDb, this.#ratio);
			held = Math.max(wanted, release * held + (1 - release) * wanted);
			smooth = attack * smooth + (1 - attack) * held;
			levelsDb[i] = -smooth;
		}
		this.#state[0] = held;
		this.#state[1] = smooth;
	}
}

const GATE_OPENS_MS = 1.5;
const GATE_HOLDS_MS = 150;
const GATE_CLOSES_MS = 120;
/** Once open, the gate closes only this far below its threshold, so that it does not flutter. */
const GATE_BACKLASH_DB = 4;

export class Gate extends Dynamics {
	#thresholdDb = 0;
	#depthDb = 0;
	#opens = 0;
	#closes = 0;
	#holdSteps = 0;
	#leftOpen = 0;
	/** The gain it has got to in dB. */
	readonly #now = new Float64Array(1);

	set({ on, thresholdDb, depthDb }: Strip['gate'], rate: number): void {
		this.#thresholdDb = thresholdDb;
		this.#depthDb = on ? depthDb : 0;
		this.on = on;
		this.#opens = decayPerStep(GATE_OPENS_MS, rate);
		this.#closes = decayPerStep(GATE_CLOSES_MS, rate);
		this.#holdSteps = Math.round((GATE_HOLDS_MS / 1000) * (rate / STEP));
	}

	protected aim(levelsDb: Float64Array): void {
		let now = this.#now[0]!;
		for (let i = 0; i < levelsDb.length; i++) {
			const threshold = this.#leftOpen > 0 ? this.#thresholdDb - GATE_BACKLASH_DB : this.#thresholdDb;
			this.#leftOpen = levelsDb[i]! >= threshold ? this.#holdSteps : Math.max(0, this.#leftOpen - 1);
			const wanted = this.#leftOpen > 0 ? 0 : -this.#depthDb;
			now = wanted + (now - wanted) * (wanted > now ? this.#opens : this.#closes);
			levelsDb[i] = now;
		}
		this.#now[0] = now;
	}
}
