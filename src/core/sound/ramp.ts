/** Gains that move. Samples are 32-bit floats at 48 kHz, full scale ±1. */

/** Faders at this and below are silent. */
export const SILENT_DB = -60;
/** A value moves over this long, so that no step is heard as a click: 20 ms. */
export const RAMP_SAMPLES = 960;

/** Linear gain of a fader: 10^(dB/20), and 0 at the bottom of its travel. */
export function linearGain(gainDb: number): number {
	return gainDb <= SILENT_DB ? 0 : 10 ** (gainDb / 20);
}

/** A value that travels to its target in a straight line. Nothing is allocated while it runs. */
export class Ramp {
	#value: number;
	#target: number;
	#step = 0;
	#left = 0;

	constructor(value: number) {
		this.#value = this.#target = value;
	}

	/** Of the newest sample. */
	get value(): number {
		return this.#value;
	}

	get settled(): boolean {
		return this.#left === 0;
	}

	/** @param samples until it is there */
	aim(target: number, samples = RAMP_SAMPLES): void {
		if (target === this.#target) return;
		this.#target = target;
		this.#left = Math.max(1, Math.round(samples));
		this.#step = (target - this.#value) / this.#left;
	}

	/** The value of the next sample. */
	next(): number {
		if (this.#left > 0) this.#value = --this.#left === 0 ? this.#target : this.#value + this.#step;
		return this.#value;
	}
}
