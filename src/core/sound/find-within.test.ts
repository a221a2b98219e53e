import fc from 'fast-check';
import { expect, it } from 'vitest';
import { findWithin } from './find-within.ts';

/** Noise, the same for the same seed. */
function noise(length: number, seed: number): Float32Array {
	let state = seed;
	return Float32Array.from({ length }, () => {
		state = (Math.imul(state, 1_664_525) + 1_013_904_223) | 0;
		return state / 2 ** 31;
	});
}

it('finds a piece wherever it lies, softer, and with other sounds over it', () => {
	const sound = noise(20_000, 7);
	const over = noise(4000, 8);
	fc.assert(
		fc.property(fc.integer({ min: 0, max: 16_000 }), fc.double({ min: 0.01, max: 2, noNaN: true }), (at, gain) => {
			const piece = sound.slice(at, at + 4000).map((sample, i) => gain * (sample + 0.5 * over[i]!));
			expect(findWithin(piece, sound)).toBe(at);
		}),
		{ numRuns: 20 },
	);
});

it('finds nothing in silence, and nothing that is longer than what it is looked for in', () => {
	expect(findWithin(new Float32Array(100), noise(1000, 1))).toBeNull();
	expect(findWithin(noise(100, 1), new Float32Array(1000))).toBeNull();
	expect(findWithin(noise(100, 1), noise(99, 1))).toBeNull();
});
