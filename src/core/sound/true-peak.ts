/** True peaks: the highest point between samples, by four-fold oversampling as in ITU-R BS.1770-4, annex 2. */

/** The filter of annex 2: 48 coefficients as four phases of twelve; the last two are the first two turned round. */
const PHASE_0 = [
	0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625, 0.97216796875,
	-0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
];
const PHASE_1 = [
	-0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
	-0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
];
/** A filter that gives points between samples: the same number of taps for each of its phases. */
export interface Oversampling {
	taps: number;
	phases: readonly Float64Array[];
}

export const BS_1770: Oversampling = {
	taps: 12,
	phases: [PHASE_0, PHASE_1, PHASE_1.toReversed(), PHASE_0.toReversed()].map((phase) => Float64Array.from(phase)),
};

/** Sinc under a squared cosine, `reach` samples to each side: nearer to the truth at the highest frequencies. */
export function sincOversampling(reach: number): Oversampling {
	const phases = [0, 1, 2, 3].map((phase) =>
		Float64Array.from({ length: 2 * reach }, (_, tap) => {
			const x = tap + 1 - reach - phase / 4;
			const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
			return sinc * Math.cos((Math.PI * x) / (2 * reach + 1)) ** 2;
		}),
	);
	return { taps: 2 * reach, phases };
}

/** Finds true peaks of one sound. Nothing is allocated while it runs. */
export class TruePeak {
	readonly #filter: Oversampling;
	/** Twice over, so that the newest always lie in a row. */
	readonly #history: Float64Array;
	/** No point between samples is higher than the highest of the samples times this. */
	readonly #most: number;
	#at = 0;
	#highest = 0;
	#highestFor = 0;

	constructor(filter = BS_1770) {
		this.#filter = filter;
		this.#history = new Float64Array(2 * filter.taps);
		this.#most = Math.max(...filter.phases.map((phase) => phase.reduce((sum, tap) => sum + Math.abs(tap), 0)));
	}

	/**
	 * @param from heights up to this need not be told exactly
	 * @param heights filled with the highest of the four points that each further sample brings, linear, or with any
	 * height up to `from`
	 */
	run(samples: Float32Array, from: number, heights: Float64Array): void {
		const history = this.#history;
		const { taps, phases } = this.#filter;
		const enough = from / this.#most;
		let at = this.#at;
		let held = this.#highest;
		let heldFor = this.#highestFor;
		for (let i = 0; i < samples.length; i++) {
			const sample = samples[i]!;
			at = at === 0 ? taps - 1 : at - 1;
			history[at] = history[at + taps] = sample;
			const now = sample < 0 ? -sample : sample;
			if (now >= held || --heldFor === 0) {
				held = now;
				heldFor = taps;
				for (let tap = 1; tap < taps; tap++) {
					const height = Math.abs(history[at + tap]!);
					// The newest of equals lasts longest.
					if (height > held) {
						held = height;
						heldFor = taps - tap;
					}
				}
			}
			let highest = 0;
			if (held > enough)
				for (let phase = 0; phase < 4; phase++) {
					const filter = phases[phase]!;
					let sum = 0;
					for (let tap = 0; tap < taps; tap++) sum += filter[tap]! * history[at + tap]!;
					const height = sum < 0 ? -sum : sum;
					if (height > highest) highest = height;
				}
			heights[i] = highest;
		}
		this.#at = at;
		this.#highest = held;
		this.#highestFor = heldFor;
	}
}
