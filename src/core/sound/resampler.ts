/** Brings a sound from its own sample rate to another one, piece by piece. */

/** Zero crossings of the sinc on each side: the stop band lies 90 dB down, a tenth of the band above its edge. */
const CROSSINGS = 24;
/** Kaiser window for about 90 dB. */
const BETA = 9;
/** Part of the lower of the two Nyquist frequencies that is kept. */
const BAND = 0.92;

/** One side of a sound. The first sample that comes out belongs to the same moment as the first one that goes in. */
export class Resampler {
	/** Input and output samples of one period: 147 and 160 from 44.1 to 48 kHz. */
	readonly #in: number;
	readonly #out: number;
	readonly #taps: number;
	/** By phase, the filter's taps. */
	readonly #phases: Float32Array[];
	/** What came in and is still needed; it begins `#taps / 2` samples of silence before the first. */
	#held: Float32Array;
	/** Number of the first sample of `#held`, and of the next output. */
	#heldFrom: number;
	#next = 0;

	/** @param from, to whole numbers of samples in a second */
	constructor(from: number, to: number) {
		const shared = gcd(from, to);
		this.#in = from / shared;
		this.#out = to / shared;
		const cutoff = BAND * Math.min(1, to / from);
		this.#taps = 2 * Math.ceil(CROSSINGS / cutoff);
		this.#phases = Array.from({ length: this.#out }, (_, phase) => taps(phase / this.#out, this.#taps, cutoff));
		this.#held = new Float32Array(this.#taps / 2 - 1);
		this.#heldFrom = 1 - this.#taps / 2;
	}

	/** Takes samples. @returns those that can be made of all so far and were not returned before */
	push(samples: Float32Array): Float32Array<ArrayBuffer> {
		const held = new Float32Array(this.#held.length + samples.length);
		held.set(this.#held);
		held.set(samples, this.#held.length);
		const made = new Float32Array(Math.ceil((held.length * this.#out) / this.#in) + 1);
		const half = this.#taps / 2;
		let count = 0;
		for (; ; this.#next++) {
			const at = Math.floor((this.#next * this.#in) / this.#out);
			const first = at - half + 1 - this.#heldFrom;
			if (first + this.#taps > held.length) break;
			const phase = this.#phases[(this.#next * this.#in) % this.#out]!;
			let sum = 0;
			for (let i = 0; i < phase.length; i++) sum += phase[i]! * held[first + i]!;
			made[count++] = sum;
		}
		const needed = Math.floor((this.#next * this.#in) / this.#out) - half + 1;
		this.#held = held.slice(Math.max(0, needed - this.#heldFrom));
		this.#heldFrom = Math.max(this.#heldFrom, needed);
		return made.subarray(0, count);
	}

	/** What is left when no more comes in. */
	end(): Float32Array<ArrayBuffer> {
		return this.push(new Float32Array(this.#taps));
	}
}

/** The taps for an output that lies `part` of an input sample behind one; they add up to 1. */
function taps(part: number, count: number, cutoff: number): Float32Array {
	const half = count / 2;
	const made = Float32Array.from({ length: count }, (_, i) => {
		const x = i - half + 1 - part;
		return cutoff * sinc(cutoff * x) * kaiser(x / half);
	});
	const sum = made.reduce((total, tap) => total + tap, 0);
	return made.map((tap) => tap / sum);
}

function sinc(x: number): number {
	return x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
}

/** Kaiser window over −1 to 1. */
function kaiser(x: number): number {
	return Math.abs(x) > 1 ? 0 : bessel(BETA * Math.sqrt(1 - x * x)) / bessel(BETA);
}

/** Modified Bessel function of the first kind, order 0, by its power series. */
function bessel(x: number): number {
	let [sum, term] = [1, 1];
	for (let k = 1; term > sum * 1e-12; k++) {
		term *= (x / (2 * k)) ** 2;
		sum += term;
	}
	return sum;
}

function gcd(a: number, b: number): number {
	return b === 0 ? a : gcd(b, a % b);
}
