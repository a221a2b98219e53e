import fc from 'fast-check';
import { expect, it } from 'vitest';
import { placeBy, type Look } from './placing.ts';

/** Looks of a recording that begins there and goes at a rate, each off by a little. */
const looksAt = (beginsS: number, rate: number, atS: readonly number[], off: readonly number[] = [0]): Look[] =>
	atS.map((each, i) => ({ atS: each, thereS: beginsS + rate * each + off[i % off.length]! }));
const EVENING = Array.from({ length: 12 }, (_, i) => 30 + 500 * i);

it('finds place and rate over an evening, within half a frame everywhere', () => {
	fc.assert(
		fc.property(
			fc.double({ min: -20, max: 5000, noNaN: true }),
			fc.integer({ min: -200, max: 200 }),
			fc.array(fc.double({ min: -0.004, max: 0.004, noNaN: true }), { minLength: 12, maxLength: 12 }),
			(beginsS, millionths, off) => {
				const rate = 1 + millionths / 1e6;
				const placed = placeBy(looksAt(beginsS, rate, EVENING, off))!;
				for (const atS of [0, 3000, 6000])
					expect(Math.abs(placed.beginsS + placed.rate * atS - beginsS - rate * atS)).toBeLessThan(0.016);
			},
		),
	);
});

it('is not misled by a few looks that found another sentence', () => {
	const looks = looksAt(12.5, 1, EVENING);
	const misled = looks.map((look, i) => (i % 4 === 0 ? { ...look, thereS: look.thereS + 0.4 * (i + 1) } : look));
	expect(placeBy(misled)).toEqual({ beginsS: 12.5, rate: 1, isExact: true });
});

it('says nothing where looks do not agree, and takes a short recording as it is', () => {
	expect(placeBy([])).toBeNull();
	expect(placeBy(looksAt(3, 1, [1, 2, 3]))).toBeNull();
	expect(placeBy(EVENING.map((atS, i) => ({ atS, thereS: atS + i ** 2 })))).toBeNull();
	expect(placeBy(looksAt(3, 1.01, [1, 2, 3, 4]))?.rate).toBe(1);
});

it('says so where the other one catches up for a while, and the place is right only nearly', () => {
	const catchingUp = looksAt(3, 1, EVENING.slice(0, 5), [0, 0.12, 0.02, 0.2, 0.09]);
	const placed = placeBy(catchingUp)!;
	expect(placed.isExact).toBe(false);
	expect(Math.abs(placed.beginsS - 3.1)).toBeLessThan(0.15);
});
