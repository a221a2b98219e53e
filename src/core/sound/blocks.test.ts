/** What goes over a sound in blocks must not depend on where a block ends. */
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { soundMemory } from '../../../tests/support/sound.ts';
import { plainStrip } from '../show/mix/mix.ts';
import { toDb, toGains } from './decibels.ts';
import { Compressor, Gate, STEP } from './dynamics.ts';
import { Limiter } from './limiter.ts';
import type { SoundMemory } from './memory.ts';
import { BS_1770, TruePeak } from './true-peak.ts';

const RATE = 48_000;
const LENGTH = 1536;
/** Noise whose height comes and goes, from a seed. */
function sound(seed: number): Float32Array {
	let state = seed | 1;
	return Float32Array.from({ length: LENGTH }, (_, i) => {
		state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
		return (state / 2 ** 31 - 1) * (i % 500 < 200 ? 1.6 : 0.1);
	});
}
const seeds = fc.integer({ min: 1, max: 1e9 });
/** Lengths of blocks, each of which comes again until the sound is over. */
const blocks = fc.constantFrom(16, 64, 128, 256, 768);

/** Lets something go over samples, in place. @returns what became of them */
function inBlocks(samples: Float32Array, length: number, run: (block: Float32Array) => void): Float32Array {
	for (let from = 0; from < samples.length; from += length) run(samples.subarray(from, from + length));
	return samples.slice();
}

/** The four points of BS.1770-4, annex 2, worked out one by one with nothing left out. */
function plainHeights(samples: Float32Array): number[] {
	return Array.from(samples, (_, i) =>
		Math.max(
			...BS_1770.phases.map((phase) => Math.abs(phase.reduce((sum, tap, k) => sum + tap * (samples[i - k] ?? 0), 0))),
		),
	);
}

describe('true peaks', () => {
	it('are those of the plain sum, and left out only where that is no higher than what is enough', () => {
		fc.assert(
			fc.property(seeds, blocks, fc.constantFrom(0, 0.3, 1, 2), (seed, length, enough) => {
				const meter = new TruePeak();
				const samples = sound(seed);
				const found: number[] = [];
				inBlocks(samples, length, (block) => {
					const heights = new Float64Array(length);
					meter.run(block, enough, heights);
					found.push(...heights);
				});
				for (const [i, height] of plainHeights(samples).entries()) {
					if (height > enough) expect(found[i]).toBeCloseTo(height, 9);
					else expect(found[i]).toBeLessThanOrEqual(enough + 1e-9);
				}
			}),
			{ numRuns: 20 },
		);
	});
});

describe('the limiter', () => {
	it('gives the same in blocks of any length', () => {
		fc.assert(
			fc.property(seeds, blocks, (seed, length) => {
				const limited = (by: number) => {
					const limiter = new Limiter(RATE);
					limiter.set(-1);
					return inBlocks(sound(seed), by, (block) => limiter.run(block, block.slice()));
				};
				expect(limited(length)).toEqual(limited(LENGTH));
			}),
			{ numRuns: 10 },
		);
	});

	it('tells the most that it took off within the newest block', () => {
		const limiter = new Limiter(RATE);
		limiter.set(-1);
		const play = (length: number, height: number) =>
			limiter.run(new Float32Array(length).fill(height), new Float32Array(length).fill(height));
		play(LENGTH, 1.6);
		expect(limiter.reductionDb).toBeLessThan(-5);
		play(RATE, 0);
		expect(limiter.reductionDb).toBeLessThan(-5);
		play(128, 0);
		expect(limiter.reductionDb).toBeCloseTo(0, 3);
	});
});

describe('gate and compressor', () => {
	let memory: SoundMemory;
	beforeEach(() => void (memory = soundMemory()));
	/** Samples where the kernels have them. */
	const placed = (samples: Float32Array) => {
		const there = memory.floats(samples.length);
		there.set(samples);
		return there;
	};
	const { gate, compressor } = plainStrip();
	const make = {
		gate: (length = 128) => {
			const made = new Gate(memory, length);
			made.set({ ...gate, on: true, thresholdDb: -12, depthDb: 30 }, RATE);
			return made;
		},
		compressor: (length = 128) => {
			const made = new Compressor(memory, length);
			made.set({ ...compressor, on: true, thresholdDb: -20, ratio: 4, makeupDb: 6 }, RATE);
			return made;
		},
	};

	it.each(['gate', 'compressor'] as const)('a %s gives the same in blocks of any length', (kind) => {
		fc.assert(
			fc.property(seeds, blocks, (seed, length) => {
				memory = soundMemory();
				const [pieces, whole] = [make[kind](length), make[kind](LENGTH)];
				const inPieces = inBlocks(placed(sound(seed)), length, (block) => pieces.run(block, null));
				expect(inPieces).toEqual(inBlocks(placed(sound(seed)), LENGTH, (block) => whole.run(block, null)));
				expect(pieces.reductionDb).toBe(whole.reductionDb);
			}),
			{ numRuns: 10 },
		);
	});

	it.each(['gate', 'compressor'] as const)('a %s lays one gain on both sides, that of the louder', (kind) => {
		const [alone, pair] = [make[kind](LENGTH), make[kind](LENGTH)];
		const loud = placed(sound(7));
		const [left, right] = [placed(loud), placed(loud.map((sample) => sample / 4))];
		alone.run(loud, null);
		pair.run(right, left);
		expect(left).toEqual(loud);
		expect([...right].every((sample, i) => Math.abs(sample * 4 - loud[i]!) < 1e-6)).toBe(true);
	});

	it('moves its gain in straight lines of one step, without a jump from block to block', () => {
		const made = make.compressor();
		const samples = inBlocks(placed(new Float32Array(LENGTH).fill(0.5)), 128, (block) => made.run(block, null));
		for (let i = 2; i < LENGTH; i++) {
			if (i % STEP < 2) continue;
			expect(samples[i]! - samples[i - 1]!).toBeCloseTo(samples[i - 1]! - samples[i - 2]!, 6);
		}
		const steps = samples.slice(1).map((sample, i) => Math.abs(sample - samples[i]!));
		expect(steps.reduce((most, step) => Math.max(most, step), 0)).toBeLessThan(0.05);
	});
});

describe('decibels of many', () => {
	it('go there and back, and no change is a gain of one to the last bit', () => {
		const values = Float64Array.of(1e-5, 0.01, 0.5, 1, 3);
		const there = values.slice();
		toDb(there);
		for (const [i, db] of there.entries()) expect(db).toBeCloseTo(20 * Math.log10(values[i]!), 5);
		toGains(there);
		for (const [i, gain] of there.entries()) expect(gain / values[i]!).toBeCloseTo(1, 6);
		const none = Float64Array.of(0, -0);
		toGains(none);
		expect([...none]).toEqual([1, 1]);
	});
});
