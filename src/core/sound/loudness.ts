/**
 * Loudness after ITU-R BS.1770-4 and EBU R 128: momentary (400 ms), short-term (3 s), integrated with both gates, and
 * loudness range (EBU Tech 3342). 48 kHz, stereo. Integrated loudness and range are kept as histograms, so that an
 * evening takes no more memory than a minute, and nothing is allocated while it runs.
 */
import { FilterRow, type Coefficients } from './biquad.ts';
import { TruePeak } from './true-peak.ts';

/** K-weighting at 48 kHz: BS.1770-4, tables 1 and 2. */
export const K_WEIGHTING: readonly Coefficients[] = [
	[1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585],
	[1, -2, 1, -1.99004745483398, 0.99007225036621],
];
const SUB_BLOCK = 4800;
const MOMENTARY_BLOCKS = 4;
const SHORT_BLOCKS = 30;
export const ABSOLUTE_GATE = -70;
const BIN_LU = 0.01;
const BINS = Math.round((10 - ABSOLUTE_GATE) / BIN_LU);

export function lufsOf(meanSquare: number): number {
	return -0.691 + 10 * Math.log10(meanSquare);
}

/** Power in the middle of each bin. */
const POWERS = Float64Array.from(
	{ length: BINS },
	(_, bin) => 10 ** ((ABSOLUTE_GATE + (bin + 0.5) * BIN_LU + 0.691) / 10),
);

/**
 * How many numbers a meter remembers of an evening: the highest true peak, linear, then how many windows were how loud,
 * by bins of 0.01 LU from −70 LUFS on, of 400 ms first and of 3 s behind them.
 */
export const LOUDNESS_HISTORY = 1 + 2 * BINS;
/** Bins that go together when a history travels: 0.1 LU. */
const PACKED_BINS = 10;
/** The most numbers that a packed history has. */
export const MAX_PACKED_HISTORY = 1 + (4 * BINS) / PACKED_BINS;

/** A history packed for messages: the peak, then pairs of bin and count. Exact to 0.05 LU. */
export function packHistory(history: Float64Array): number[] {
	const packed = [history[0]!];
	for (let from = 1; from < LOUDNESS_HISTORY; from += PACKED_BINS) {
		let count = 0;
		for (let i = 0; i < PACKED_BINS; i++) count += history[from + i]!;
		if (count > 0) packed.push(from + PACKED_BINS / 2, count);
	}
	return packed;
}

/** The reverse; what is not a place or not a count is left out. */
export function unpackHistory([peak, ...packed]: readonly number[], into: Float64Array): void {
	into.fill(0);
	if (peak! > 0) into[0] = peak!;
	for (let i = 0; i + 1 < packed.length; i += 2) {
		const [place, count] = [packed[i]!, packed[i + 1]!];
		if (Number.isInteger(place) && place > 0 && place < LOUDNESS_HISTORY && count > 0) into[place] = count;
	}
}

/** Windows, counted by loudness. */
class Histogram {
	readonly #counts: Float64Array;

	constructor(counts: Float64Array) {
		this.#counts = counts;
	}

	add(power: number): void {
		const bin = Math.floor((lufsOf(power) - ABSOLUTE_GATE) / BIN_LU);
		if (bin >= 0) this.#counts[Math.min(BINS - 1, bin)]!++;
	}

	/** Mean power of what is above a loudness, or 0. */
	meanAbove(lufs: number): number {
		let [count, sum] = [0, 0];
		for (let bin = firstBin(lufs); bin < BINS; bin++) {
			const here = this.#counts[bin]!;
			count += here;
			sum += here * POWERS[bin]!;
		}
		return count === 0 ? 0 : sum / count;
	}

	/** Loudness below which `part` of what is above a loudness lies. */
	percentileAbove(lufs: number, part: number): number {
		const from = firstBin(lufs);
		let count = 0;
		for (let bin = from; bin < BINS; bin++) count += this.#counts[bin]!;
		let left = Math.round(part * (count - 1)) + 1;
		for (let bin = from; bin < BINS; bin++) {
			left -= this.#counts[bin]!;
			if (left <= 0) return ABSOLUTE_GATE + (bin + 0.5) * BIN_LU;
		}
		return -Infinity;
	}
}

function firstBin(lufs: number): number {
	return Math.max(0, Math.min(BINS, Math.floor((lufs - ABSOLUTE_GATE) / BIN_LU)));
}

export class LoudnessMeter {
	/** LUFS; −∞ for silence, and before there is enough. */
	momentary = -Infinity;
	shortTerm = -Infinity;
	integrated = -Infinity;
	/** LU. */
	range = 0;
	/** dBTP, the highest since the start. */
	truePeakDb = -Infinity;
	readonly #filters = new FilterRow(2);
	readonly #peaks = [new TruePeak(), new TruePeak()] as const;
	#work = [new Float32Array(128), new Float32Array(128)] as [Float32Array, Float32Array];
	#heights = new Float64Array(128);
	#sum = 0;
	#filled = 0;
	/** Sums of squares of the newest sub-blocks of 100 ms, in a ring. */
	readonly #blocks = new Float64Array(SHORT_BLOCKS);
	#count = 0;
	readonly #history: Float64Array<ArrayBufferLike>;
	readonly #gated: Histogram;
	readonly #shorts: Histogram;

	/** @param history of LOUDNESS_HISTORY numbers, which others may read; what is in it counts */
	constructor(history: Float64Array<ArrayBufferLike> = new Float64Array(LOUDNESS_HISTORY)) {
		this.#history = history;
		this.#gated = new Histogram(history.subarray(1, 1 + BINS));
		this.#shorts = new Histogram(history.subarray(1 + BINS));
		this.#filters.set(K_WEIGHTING);
	}

	/** Begins the integrated values anew, as at the start of a broadcast. */
	restart(): void {
		this.#history.fill(0);
		this.integrated = this.truePeakDb = -Infinity;
		this.range = 0;
	}

	/** @param left samples at 48 kHz, of any length that is the same for both sides */
	run(left: Float32Array, right: Float32Array): void {
		if (this.#work[0].length !== left.length) {
			this.#work = [new Float32Array(left.length), new Float32Array(left.length)];
			this.#heights = new Float64Array(left.length);
		}
		this.#work[0].set(left);
		this.#work[1].set(right);
		this.#filters.run(...this.#work);
		// Sub-blocks end where they end, also within a block.
		const start = this.#filled;
		let boundary = left.length;
		if (start + left.length >= SUB_BLOCK) boundary = SUB_BLOCK - start;
		let after = 0;
		for (let side = 0; side < 2; side++) {
			const samples = side === 0 ? left : right;
			const peak = this.#peaks[side]!;
			let highest = this.#history[0]!;
			peak.run(samples, highest, this.#heights);
			for (let i = 0; i < samples.length; i++) if (this.#heights[i]! > highest) highest = this.#heights[i]!;
			this.#history[0] = highest;
			const weighted = this.#work[side]!;
			let sum = 0;
			for (let i = 0; i < boundary; i++) sum += weighted[i]! * weighted[i]!;
			this.#sum += sum;
			for (let i = boundary; i < samples.length; i++) after += weighted[i]! * weighted[i]!;
		}
		this.#filled += left.length;
		if (this.#filled < SUB_BLOCK) return;
		this.#closeBlock();
		this.#filled -= SUB_BLOCK;
		this.#sum = after;
	}

	#closeBlock(): void {
		this.#blocks[this.#count++ % SHORT_BLOCKS] = this.#sum;
		const power = (blocks: number) => {
			let sum = 0;
			for (let i = 1; i <= blocks; i++) sum += this.#blocks[(this.#count - i) % SHORT_BLOCKS]!;
			return sum / (blocks * SUB_BLOCK);
		};
		const highest = this.#history[0]!;
		if (highest > 0) this.truePeakDb = 20 * Math.log10(highest);
		if (this.#count < MOMENTARY_BLOCKS) return;
		const now = power(MOMENTARY_BLOCKS);
		this.momentary = lufsOf(now);
		this.#gated.add(now);
		const above = this.#gated.meanAbove(ABSOLUTE_GATE);
		this.integrated = above === 0 ? -Infinity : lufsOf(this.#gated.meanAbove(lufsOf(above) - 10));
		if (this.#count < SHORT_BLOCKS) return;
		const short = power(SHORT_BLOCKS);
		this.shortTerm = lufsOf(short);
		this.#shorts.add(short);
		const mean = this.#shorts.meanAbove(ABSOLUTE_GATE);
		if (mean === 0) return;
		const gate = lufsOf(mean) - 20;
		this.range = this.#shorts.percentileAbove(gate, 0.95) - this.#shorts.percentileAbove(gate, 0.1);
	}
}
