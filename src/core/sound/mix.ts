/** Summing sounds with a gain each. Samples are 32-bit floats, full scale ±1; blocks of any length. */

/** Faders at this and below are silent. */
export const SILENT_DB = -60;
/** A gain moves over this long, so that no step is heard as a click: 20 ms at 48 kHz. */
export const RAMP_SAMPLES = 960;

/** Linear gain of a fader: 10^(dB/20), and 0 at the bottom of its travel. */
export function linearGain(gainDb: number): number {
	return gainDb <= SILENT_DB ? 0 : 10 ** (gainDb / 20);
}

/** A gain that travels to its target in a straight line of RAMP_SAMPLES. Nothing is allocated while it runs. */
export class GainRamp {
	#current: number;
	#target: number;
	#step = 0;
	#left = 0;

	constructor(gain: number) {
		this.#current = this.#target = gain;
	}

	get settled(): boolean {
		return this.#left === 0;
	}

	aim(gain: number): void {
		if (gain === this.#target) return;
		this.#target = gain;
		this.#left = RAMP_SAMPLES;
		this.#step = (gain - this.#current) / RAMP_SAMPLES;
	}

	/** The gain of the next sample. */
	next(): number {
		if (this.#left > 0) {
			this.#current = --this.#left === 0 ? this.#target : this.#current + this.#step;
		}
		return this.#current;
	}
}

/**
 * Adds a stereo input times its gain to the mix. A mono input is given as the same array twice.
 * Samples that are not finite are left out: one broken source must not silence the others.
 * @param levels two numbers at `at`: raised to the peaks of the two sides after the gain
 */
export function addToMix(
	mixLeft: Float32Array,
	mixRight: Float32Array,
	left: Float32Array,
	right: Float32Array,
	gain: GainRamp,
	levels: Float32Array,
	at: number,
): void {
	let peakLeft = levels[at]!;
	let peakRight = levels[at + 1]!;
	for (let i = 0; i < mixLeft.length; i++) {
		const factor = gain.next();
		const l = finite(left[i]! * factor);
		const r = finite(right[i]! * factor);
		mixLeft[i]! += l;
		mixRight[i]! += r;
		if (l > peakLeft || -l > peakLeft) peakLeft = Math.abs(l);
		if (r > peakRight || -r > peakRight) peakRight = Math.abs(r);
	}
	levels[at] = peakLeft;
	levels[at + 1] = peakRight;
}

/** Limits the mix to full scale and notes its peaks before that, so that an overload is seen. */
export function finishMix(
	left: Float32Array,
	right: Float32Array,
	gain: GainRamp,
	levels: Float32Array,
	at: number,
): void {
	let peakLeft = levels[at]!;
	let peakRight = levels[at + 1]!;
	for (let i = 0; i < left.length; i++) {
		const factor = gain.next();
		const l = left[i]! * factor;
		const r = right[i]! * factor;
		peakLeft = Math.max(peakLeft, Math.abs(l));
		peakRight = Math.max(peakRight, Math.abs(r));
		left[i] = Math.max(-1, Math.min(1, l));
		right[i] = Math.max(-1, Math.min(1, r));
	}
	levels[at] = peakLeft;
	levels[at + 1] = peakRight;
}

function finite(sample: number): number {
	return sample - sample === 0 ? sample : 0;
}
