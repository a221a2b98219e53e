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
/** Latency in samples. */
export const LIMITER_DELAY = LOOK_AHEAD + REACH;
/** Samples a gain is held: the point between samples lies beside two of them, and the average must have all of it. */
const HELD = LOOK_AHEAD + 3;

/** Works on blocks in passes over all of it, so that no number goes from function to function for each sample. */
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
	/** For each sample of the block: true peaks at first, gains at last. */
	#gains = new Float64Array(128);
	#others = new Float64Array(128);
	/** Sliding minimum: a queue of rising gains with the sample they came with. */
	readonly #queueGain = new Float64Array(HELD + 1);
	readonly #queueTime = new Float64Array(HELD + 1);
	#first = 0;
	#queued = 0;
	#time = 0;
	readonly #box = new Float64Array(LOOK_AHEAD).fill(1);
	#boxAt = 0;
	#sum = LOOK_AHEAD;

	constructor(rate: number) {
		this.#release = Math.exp(-1 / ((RELEASE_MS / 1000) * rate));
	}

	/** @param ceilingDb highest true peak of the output, dBTP */
	set(ceilingDb: number): void {
		this.#ceiling = 10 ** ((ceilingDb - MARGIN_DB) / 20);
	}

	/** In place, on blocks of one length; what comes out is LIMITER_DELAY samples late. */
	run(left: Float32Array, right: Float32Array): void {
		if (this.#gains.length !== left.length) {
			this.#gains = new Float64Array(left.length);
			this.#others = new Float64Array(left.length);
		}
		this.#peaks[0].run(left, this.#ceiling, this.#gains);
		this.#peaks[1].run(right, this.#ceiling, this.#others);
		this.#need();
		this.#hold();
		this.#average();
		this.#lay(left, right);
	}

	/** From peaks to gains: immediate attack, slow release. */
	#need(): void {
		const [gains, others] = [this.#gains, this.#others];
		const ceiling = this.#ceiling;
		const release = this.#release;
		let released = this.#released;
		for (let i = 0; i < gains.length; i++) {
			const peak = Math.max(gains[i]!, others[i]!);
			const needed = peak > ceiling ? ceiling / peak : 1;
			released = Math.min(needed, 1 - (1 - released) * release);
			gains[i] = released;
		}
		this.#released = released;
	}

	/** Each gain becomes the least of the newest HELD. */
	#hold(): void {
		const [gains, queueGain, queueTime] = [this.#gains, this.#queueGain, this.#queueTime];
		const size = queueGain.length;
		let first = this.#first;
		let queued = this.#queued;
		let time = this.#time;
		for (let i = 0; i < gains.length; i++) {
			const gain = gains[i]!;
			while (queued > 0 && queueGain[(first + queued - 1) % size]! >= gain) queued--;
			const place = (first + queued) % size;
			queueGain[place] = gain;
			queueTime[place] = time;
			queued++;
			if (queueTime[first]! <= time - HELD) {
				first = (first + 1) % size;
				queued--;
			}
			time++;
			gains[i] = queueGain[first]!;
		}
		this.#first = first;
		this.#queued = queued;
		this.#time = time;
	}

	/** Each gain becomes the mean of the newest LOOK_AHEAD. */
	#average(): void {
		const [gains, box] = [this.#gains, this.#box];
		let at = this.#boxAt;
		let sum = this.#sum;
		for (let i = 0; i < gains.length; i++) {
			const gain = gains[i]!;
			sum += gain - box[at]!;
			box[at] = gain;
			at++;
			if (at === LOOK_AHEAD) {
				// Rounding must not add up over an evening.
				at = 0;
				sum = 0;
				for (let k = 0; k < LOOK_AHEAD; k++) sum += box[k]!;
			}
			gains[i] = sum / LOOK_AHEAD;
		}
		this.#boxAt = at;
		this.#sum = sum;
	}

	#lay(left: Float32Array, right: Float32Array): void {
		const [gains, lateLeft, lateRight] = [this.#gains, this.#left, this.#right];
		let at = this.#at;
		let least = 1;
		for (let i = 0; i < gains.length; i++) {
			const gain = gains[i]!;
			if (gain < least) least = gain;
			const l = lateLeft[at]!;
			const r = lateRight[at]!;
			lateLeft[at] = left[i]!;
			lateRight[at] = right[i]!;
			at = at + 1 === LIMITER_DELAY ? 0 : at + 1;
			left[i] = l * gain;
			right[i] = r * gain;
		}
		this.#at = at;
		this.reductionDb = 20 * Math.log10(least);
	}
}
