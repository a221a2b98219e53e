/**
 * Gate and compressor. Feed-forward, level and gain in decibels, after D. Giannoulis, M. Massberg, J. D. Reiss, "Digital
 * Dynamic Range Compressor Design", J. Audio Eng. Soc. 60 (2012): gain computer with a soft knee (eq. 4), smoothed with
 * a decoupled attack and release (eq. 17). The gain is worked out every STEP samples and drawn straight in between.
 */
import type { CompressorSettings, Strip } from '../show/mix.ts';
import { dbOf, gainOf } from './decibels.ts';

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
export function keptPerStep(timeMs: number, rate: number): number {
	return Math.exp(-STEP / ((timeMs / 1000) * rate));
}

/** What they have in common: a gain that follows a level and lies on two sides alike. */
abstract class Dynamics {
	/** In dB, 0 or less; what the desk shows. */
	reductionDb = 0;
	#gain = 1;

	/** The gain in dB that is aimed at, for a peak level. */
	protected abstract step(levelDb: number): number;
	/** Linear. */
	protected makeup = 1;
	protected on = false;

	/**
	 * In place, on blocks whose length is a multiple of STEP.
	 * @param other null for one sound alone
	 */
	run(left: Float32Array, other: Float32Array | null): void {
		// What is off has faded out once its gain is 1.
		if (!this.on && this.makeup === 1 && this.#gain === 1) return;
		for (let from = 0; from < left.length; from += STEP) {
			const peak = other ? Math.max(peakFrom(left, from), peakFrom(other, from)) : peakFrom(left, from);
			this.reductionDb = this.step(dbOf(peak));
			const target = this.makeup * (this.reductionDb === 0 ? 1 : gainOf(this.reductionDb));
			if (target !== 1 || this.#gain !== 1) {
				const slope = (target - this.#gain) / STEP;
				scaleFrom(left, from, this.#gain, slope);
				if (other) scaleFrom(other, from, this.#gain, slope);
			}
			// Near enough to 1 is 1, so that what is off can rest.
			this.#gain = !this.on && Math.abs(target - 1) < 1e-6 ? 1 : target;
		}
	}
}

/** The highest of STEP samples. */
function peakFrom(samples: Float32Array, from: number): number {
	let peak = 0;
	for (let i = from; i < from + STEP; i++) {
		const height = Math.abs(samples[i]!);
		if (height > peak) peak = height;
	}
	return peak;
}

/** Lays a gain that moves by `slope` with each sample on STEP samples. */
function scaleFrom(samples: Float32Array, from: number, gain: number, slope: number): void {
	for (let i = from; i < from + STEP; i++) {
		gain += slope;
		samples[i]! *= gain;
	}
}

export class Compressor extends Dynamics {
	#thresholdDb = 0;
	#ratio = 1;
	#attack = 0;
	#release = 0;
	#held = 0;
	#smooth = 0;

	set({ on, thresholdDb, ratio, attackMs, releaseMs, makeupDb }: CompressorSettings, rate: number): void {
		this.#thresholdDb = thresholdDb;
		this.#ratio = on ? ratio : 1;
		this.#attack = keptPerStep(attackMs, rate);
		this.#release = keptPerStep(releaseMs, rate);
		this.makeup = on ? 10 ** (makeupDb / 20) : 1;
		this.on = on;
	}

	protected step(levelDb: number): number {
		const wanted = -compressedBy(levelDb, this.#thresholdDb, this.#ratio);
		this.#held = Math.max(wanted, this.#release * this.#held + (1 - this.#release) * wanted);
		this.#smooth = this.#attack * this.#smooth + (1 - this.#attack) * this.#held;
		return -this.#smooth;
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
	#now = 0;

	set({ on, thresholdDb, depthDb }: Strip['gate'], rate: number): void {
		this.#thresholdDb = thresholdDb;
		this.#depthDb = on ? depthDb : 0;
		this.on = on;
		this.#opens = keptPerStep(GATE_OPENS_MS, rate);
		this.#closes = keptPerStep(GATE_CLOSES_MS, rate);
		this.#holdSteps = Math.round((GATE_HOLDS_MS / 1000) * (rate / STEP));
	}

	protected step(levelDb: number): number {
		const threshold = this.#leftOpen > 0 ? this.#thresholdDb - GATE_BACKLASH_DB : this.#thresholdDb;
		this.#leftOpen = levelDb >= threshold ? this.#holdSteps : Math.max(0, this.#leftOpen - 1);
		const wanted = this.#leftOpen > 0 ? 0 : -this.#depthDb;
		const kept = wanted > this.#now ? this.#opens : this.#closes;
		this.#now = wanted + (this.#now - wanted) * kept;
		return this.#now;
	}
}
