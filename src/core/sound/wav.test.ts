import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toPcm24, wavHeader, WAV_HEADER_BYTES } from './wav.ts';

/** A number of 24 bits as the file has it. */
const at = (bytes: Uint8Array, i: number) =>
	((bytes[3 * i]! | (bytes[3 * i + 1]! << 8) | (bytes[3 * i + 2]! << 16)) << 8) >> 8;

describe('samples of 24 bits', () => {
	it('are the nearest there is, sides in turn, cut off beyond full scale', () => {
		fc.assert(
			fc.property(fc.array(fc.float({ min: -2, max: 2, noNaN: true }), { minLength: 1 }), (list) => {
				const samples = Float32Array.from(list);
				const bytes = toPcm24([samples, samples.map((sample) => -sample)], 0, samples.length);
				samples.forEach((sample, i) => {
					const wanted = Math.max(-1, Math.min(1, sample)) * (2 ** 23 - 1);
					expect(Math.abs(at(bytes, 2 * i) - wanted)).toBeLessThanOrEqual(0.5);
					expect(Math.abs(at(bytes, 2 * i + 1) + wanted)).toBeLessThanOrEqual(0.5);
				});
			}),
		);
		expect([...toPcm24([Float32Array.of(0, NaN, 1, 0)], 1, 2)]).toEqual([0, 0, 0, 255, 255, 127]);
	});
});

describe('the header', () => {
	const text = (bytes: Uint8Array, from: number) => String.fromCharCode(...bytes.subarray(from, from + 4));
	it('is RIFF up to 4 GB and RF64 beyond, in one length, so that one can take the place of the other', () => {
		const small = wavHeader(2, 6000);
		expect([small.length, text(small, 0), text(small, 12)]).toEqual([WAV_HEADER_BYTES, 'RIFF', 'JUNK']);
		expect(new DataView(small.buffer).getUint32(76, true)).toBe(6000);
		const large = wavHeader(1, 6_000_000_000);
		expect([large.length, text(large, 0), text(large, 12)]).toEqual([WAV_HEADER_BYTES, 'RF64', 'ds64']);
		const view = new DataView(large.buffer);
		expect(view.getBigUint64(28, true)).toBe(6_000_000_000n);
		expect(view.getBigUint64(36, true)).toBe(2_000_000_000n);
	});
});
