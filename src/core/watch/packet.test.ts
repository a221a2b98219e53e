import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeView, encodeView, Reading } from './packet.ts';

describe('a view on its way', () => {
	it('is read as it was written, and nothing else is read', () => {
		const packet = {
			key: true,
			canBeLeftOut: false,
			at: 1_795_000_000_000.5,
			order: 4_000_000_000,
			data: Uint8Array.of(1, 2, 3),
		};
		expect(decodeView(encodeView(packet))).toEqual(packet);
		const upper = { ...packet, key: false, canBeLeftOut: true };
		expect(decodeView(encodeView(upper))).toEqual(upper);
		expect(decodeView(encodeView(packet).subarray(0, 16))).toBeNull();
		expect(decodeView(encodeView({ ...packet, data: new Uint8Array(500_000) }))).toBeNull();
		fc.assert(
			fc.property(fc.uint8Array({ maxLength: 40 }), (bytes) => {
				const read = decodeView(Uint8Array.from(bytes));
				expect(read === null || bytes[0] === 0x56).toBe(true);
			}),
		);
	});

	const key = { key: true, canBeLeftOut: false };
	const lower = { key: false, canBeLeftOut: false };
	const upper = { key: false, canBeLeftOut: true };

	it('begins with one that stands alone', () => {
		const reading = new Reading();
		expect([lower, upper, key, upper, lower].map((each) => reading.takes(each, 0))).toEqual([
			false,
			false,
			true,
			true,
			true,
		]);
	});

	it('comes in fewer pictures to a slow reader, and in none to one that is stuck', () => {
		const reading = new Reading();
		reading.takes(key, 0);
		expect([lower, upper].map((each) => reading.takes(each, 30_000))).toEqual([true, false]);
		expect(reading.takes(lower, 100_000)).toBe(false);
		// What is left of the group is of no use.
		expect([lower, upper].map((each) => reading.takes(each, 0))).toEqual([false, false]);
		expect(reading.takes(key, 50_000)).toBe(false);
		expect([key, upper].map((each) => reading.takes(each, 0))).toEqual([true, true]);
	});
});
