/**
 * Second-order filters. Coefficients after the Audio EQ Cookbook (W3C Working Group Note, R. Bristow-Johnson), carried
 * out in transposed direct form II. Frequencies in Hz, gains in dB.
 */
import type { Band } from '../show/mix/mix.ts';

/** b0, b1, b2, a1, a2, with a0 = 1. */
export type Coefficients = readonly [number, number, number, number, number];

export function highPass(hz: number, rate: number, q = Math.SQRT1_2): Coefficients {
	const { cos, alpha } = angles(hz, rate, q);
	const b0 = (1 + cos) / 2;
	return normalised(b0, -2 * b0, b0, 1 + alpha, -2 * cos, 1 - alpha);
}

export function bandOf({ shape, hz, gainDb, q }: Band, rate: number): Coefficients {
	const a = 10 ** (gainDb / 40);
	const { cos, alpha } = angles(hz, rate, q);
	if (shape === 'peak')
		return normalised(1 + alpha * a, -2 * cos, 1 - alpha * a, 1 + alpha / a, -2 * cos, 1 - alpha / a);
	// The high shelf is the low shelf with the sign of the cosine turned.
	const c = shape === 'lowShelf' ? cos : -cos;
	const sign = shape === 'lowShelf' ? 1 : -1;
	const root = 2 * Math.sqrt(a) * alpha;
	return normalised(
		a * (a + 1 - (a - 1) * c + root),
		sign * 2 * a * (a - 1 - (a + 1) * c),
		a * (a + 1 - (a - 1) * c - root),
		a + 1 + (a - 1) * c + root,
		sign * -2 * (a - 1 + (a + 1) * c),
		a + 1 + (a - 1) * c - root,
	);
}

function angles(hz: number, rate: number, q: number): { cos: number; alpha: number } {
	const w = (2 * Math.PI * Math.min(hz, rate * 0.49)) / rate;
	return { cos: Math.cos(w), alpha: Math.sin(w) / (2 * q) };
}

function normalised(b0: number, b1: number, b2: number, a0: number, a1: number, a2: number): Coefficients {
	return [b0 / a0, b1 / a0, b2 / a0, a1 / a0, a2 / a0];
}

/** Gain of filters in a row at a frequency, in dB: what a curve is drawn from. */
export function responseDb(filters: readonly Coefficients[], hz: number, rate: number): number {
	const w = (2 * Math.PI * hz) / rate;
	const power = (c0: number, c1: number, c2: number) => {
		const re = c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w);
		const im = c1 * Math.sin(w) + c2 * Math.sin(2 * w);
		return re * re + im * im;
	};
	return filters.reduce((sum, [b0, b1, b2, a1, a2]) => sum + 10 * Math.log10(power(b0, b1, b2) / power(1, a1, a2)), 0);
}

/** So small that nobody hears it, and large enough that what fades away never becomes a denormal number. */
const TINY = 1e-24;

/** Filters in a row on one sound or on two sides alike. A change of coefficients keeps what the filters remember. */
export class FilterRow {
	readonly #most: number;
	readonly #coefficients: Float64Array;
	/** Of each filter two numbers for the left, then two for the right. */
	readonly #state: Float64Array;
	#count = 0;

	/** @param most filters in the row */
	constructor(most: number) {
		this.#most = most;
		this.#coefficients = new Float64Array(5 * most);
		this.#state = new Float64Array(4 * most);
	}

	set(filters: readonly Coefficients[]): void {
		this.#count = Math.min(this.#most, filters.length);
		for (let i = 0; i < this.#count; i++) this.#coefficients.set(filters[i]!, 5 * i);
	}

	/** Takes over another's filters and memory. */
	copy(other: FilterRow): void {
		this.#count = other.#count;
		this.#coefficients.set(other.#coefficients);
		this.#state.set(other.#state);
	}

	/**
	 * In place. Both sides go through one loop: neither has to wait for the other's sums.
	 * @param right null for one sound alone
	 */
	run(left: Float32Array, right: Float32Array | null): void {
		if (right) for (let i = 0; i < this.#count; i++) this.#runTwo(left, right, i);
		else {
			let i = 0;
			for (; i + 1 < this.#count; i += 2) this.#runPair(left, i);
			if (i < this.#count) this.#runOne(left, i);
		}
	}

	/** A filter and the one behind it: while that takes a sample, this is already at the next. */
	#runPair(samples: Float32Array, i: number): void {
		const [c, state] = [this.#coefficients, this.#state];
		const b0 = c[5 * i]!;
		const b1 = c[5 * i + 1]!;
		const b2 = c[5 * i + 2]!;
		const a1 = c[5 * i + 3]!;
		const a2 = c[5 * i + 4]!;
		const d0 = c[5 * i + 5]!;
		const d1 = c[5 * i + 6]!;
		const d2 = c[5 * i + 7]!;
		const c1 = c[5 * i + 8]!;
		const c2 = c[5 * i + 9]!;
		let s1 = state[4 * i]!;
		let s2 = state[4 * i + 1]!;
		let t1 = state[4 * i + 4]!;
		let t2 = state[4 * i + 5]!;
		for (let n = 0; n < samples.length; n++) {
			const x = samples[n]!;
			const y = b0 * x + s1;
			s1 = b1 * x - a1 * y + s2 + TINY;
			s2 = b2 * x - a2 * y;
			// As exact as it would lie in the block, so that a sound on two sides becomes just the same.
			const between = Math.fround(y);
			const z = d0 * between + t1;
			t1 = d1 * between - c1 * z + t2 + TINY;
			t2 = d2 * between - c2 * z;
			samples[n] = z;
		}
		state[4 * i] = state[4 * i + 2] = s1 - s1 === 0 ? s1 : 0;
		state[4 * i + 1] = state[4 * i + 3] = s2 - s2 === 0 ? s2 : 0;
		state[4 * i + 4] = state[4 * i + 6] = t1 - t1 === 0 ? t1 : 0;
		state[4 * i + 5] = state[4 * i + 7] = t2 - t2 === 0 ? t2 : 0;
	}

	#runOne(samples: Float32Array, i: number): void {
		const [c, state] = [this.#coefficients, this.#state];
		const b0 = c[5 * i]!;
		const b1 = c[5 * i + 1]!;
		const b2 = c[5 * i + 2]!;
		const a1 = c[5 * i + 3]!;
		const a2 = c[5 * i + 4]!;
		let s1 = state[4 * i]!;
		let s2 = state[4 * i + 1]!;
		for (let n = 0; n < samples.length; n++) {
			const x = samples[n]!;
			const y = b0 * x + s1;
			s1 = b1 * x - a1 * y + s2 + TINY;
			s2 = b2 * x - a2 * y;
			samples[n] = y;
		}
		// Broken once is broken for ever, unless it begins again.
		state[4 * i] = state[4 * i + 2] = s1 - s1 === 0 ? s1 : 0;
		state[4 * i + 1] = state[4 * i + 3] = s2 - s2 === 0 ? s2 : 0;
	}

	#runTwo(left: Float32Array, right: Float32Array, i: number): void {
		const [c, state] = [this.#coefficients, this.#state];
		const b0 = c[5 * i]!;
		const b1 = c[5 * i + 1]!;
		const b2 = c[5 * i + 2]!;
		const a1 = c[5 * i + 3]!;
		const a2 = c[5 * i + 4]!;
		let l1 = state[4 * i]!;
		let l2 = state[4 * i + 1]!;
		let r1 = state[4 * i + 2]!;
		let r2 = state[4 * i + 3]!;
		for (let n = 0; n < left.length; n++) {
			const l = left[n]!;
			const r = right[n]!;
			const outLeft = b0 * l + l1;
			const outRight = b0 * r + r1;
			l1 = b1 * l - a1 * outLeft + l2 + TINY;
			r1 = b1 * r - a1 * outRight + r2 + TINY;
			l2 = b2 * l - a2 * outLeft;
			r2 = b2 * r - a2 * outRight;
			left[n] = outLeft;
			right[n] = outRight;
		}
		state[4 * i] = l1 - l1 === 0 ? l1 : 0;
		state[4 * i + 1] = l2 - l2 === 0 ? l2 : 0;
		state[4 * i + 2] = r1 - r1 === 0 ? r1 : 0;
		state[4 * i + 3] = r2 - r2 === 0 ? r2 : 0;
	}
}
