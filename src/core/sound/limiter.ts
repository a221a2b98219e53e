/**
 * A true-peak limiter that looks ahead. The gain that each coming true peak needs is held for as long as it looks ahead
 * (a sliding minimum) and then averaged over the same length, so that it arrives in a straight line at just the sample
 * that needs it and never overshoots.
 */
import { sincOversampling, TruePeak } from './true-peak.ts';

/** Samples the limiter looks ahead: 2 ms at 48 kHz. */
export const LOOK_AHEAD = 96;
/** A gain that moves bends the curve between samples a little; this much lower is aimed at. */
const MARGIN_DB = 0.15;
const RELEASE_MS = 60;
/** Samples to each side from which points between samples are worked out. */
const REACH = 20;
const OVERSAMPLING = sincOversampling(REACH);
/** Samples by which what comes out is late. */
export const LIMITER_DELAY = LOOK_AHEAD + REACH;
/** Samples a gain is held: the point between samples lies beside two of them, and the average must have all of it. */
const HELD = LOOK_AHEAD + 3;

export class Limiter {
	/** In dB, 0 or less: the most of the last block. */
	reductionDb = 0;
	readonly #left = new Float32Array(LIMITER_DELAY);
	readonly #right = new Float32Array(LIMITER_DELAY);
	readonly #peaks = [new TruePeak(OVERSAMPLING), new TruePeak(OVERSAMPLING)] as const;
	readonly #release: number;
	#ceiling = 1;
	#at = 0;
	#released = 1;
	/** Sliding minimum: a queue of rising gains with the sample they came with. */
	readonly #queueGain = new Float64Array(HELD + 1);
	readonly #queueTime = new Float64Array(HELD + 1);
	#first = 0;
	#queued = 0;
	#time = 0;
	readonly #box = new Float64Array(LOOK_AHEAD).fill(1);
	#sum = LOOK_AHEAD;

	constructor(rate: number) {
		this.#release = Math.exp(-1 / ((RELEASE_MS / 1000) * rate));
	}

	/** @param ceilingDb true peak that is let through at most */
	set(ceilingDb: number): void {
		this.#ceiling = 10 ** ((ceilingDb - MARGIN_DB) / 20);
	}

	/** In place; what comes out is LIMITER_DELAY samples late. */
	run(left: Float32Array, right: Float32Array): void {
		let least = 1;
		const length = this.#left.length;
		for (let i = 0; i < left.length; i++) {
			const ceiling = this.#ceiling;
			const peak = Math.max(this.#peaks[0].next(left[i]!, ceiling), this.#peaks[1].next(right[i]!, ceiling));
			const needed = peak > ceiling ? ceiling / peak : 1;
			// Let go slowly, hold on at once.
			this.#released = Math.min(needed, 1 - (1 - this.#released) * this.#release);
			const gain = this.#average(this.#minimum(this.#released));
			if (gain < least) least = gain;
			const [l, r] = [this.#left[this.#at]!, this.#right[this.#at]!];
			this.#left[this.#at] = left[i]!;
			this.#right[this.#at] = right[i]!;
			this.#at = this.#at + 1 === length ? 0 : this.#at + 1;
			left[i] = l * gain;
			right[i] = r * gain;
		}
		this.reductionDb = 20 * Math.log10(least);
	}

	/** The least of the newest HELD gains. */
	#minimum(gain: number): number {
		const size = this.#queueGain.length;
		while (this.#queued > 0 && this.#queueGain[(this.#first + this.#queued - 1) % size]! >= gain) this.#queued--;
		const place = (this.#first + this.#queued) % size;
		this.#queueGain[place] = gain;
		this.#queueTime[place] = this.#time;
		this.#queued++;
		if (this.#queueTime[this.#first]! <= this.#time - HELD) {
			this.#first = (this.#first + 1) % size;
			this.#queued--;
		}
		this.#time++;
		return this.#queueGain[this.#first]!;
	}

	/** The mean of the newest LOOK_AHEAD values. */
	#average(value: number): number {
		const place = this.#time % LOOK_AHEAD;
		this.#sum += value - this.#box[place]!;
		this.#box[place] = value;
		// Rounding must not add up over an evening.
		if (place === 0) {
			this.#sum = 0;
			for (let i = 0; i < LOOK_AHEAD; i++) this.#sum += this.#box[i]!;
		}
		return this.#sum / LOOK_AHEAD;
	}
}
