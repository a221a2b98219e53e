import { describe, expect, it } from 'vitest';
import { LADDER, Relief } from './relief.ts';

/** Looks twice a second for so many seconds. */
function pass(relief: Relief, fromS: number, seconds: number, load: number, leftOut = 0): void {
	for (let t = fromS; t < fromS + seconds; t += 0.5) relief.observe(load, leftOut, t * 1000);
}

describe('what is given up first', () => {
	it('is nothing while there is time', () => {
		const relief = new Relief();
		pass(relief, 0, 60, 0.7);
		expect(relief.level).toBe(0);
	});

	it('is nothing for a hard moment, as when the desk opens', () => {
		const relief = new Relief();
		for (let t = 0; t < 60; t += 3) {
			pass(relief, t, 1.5, 0.95, 3);
			pass(relief, t + 1.5, 1.5, 0.6);
		}
		expect(relief.level).toBe(0);
	});

	it('goes down one step at a time, and stops at the last', () => {
		const relief = new Relief();
		pass(relief, 0, 2, 0.9);
		expect(relief.level).toBe(1);
		pass(relief, 2, 60, 0.9);
		expect(relief.level).toBe(LADDER.length - 1);
	});

	it('touches what viewers get on the last step only, and then evenly', () => {
		expect(LADDER.map(({ encodesEvery }) => encodesEvery)).toEqual([1, 1, 1, 2]);
		for (const [i, { programHz, otherHz }] of LADDER.slice(1).entries()) {
			expect(programHz).toBeLessThanOrEqual(LADDER[i]!.programHz);
			expect(otherHz).toBeLessThanOrEqual(LADDER[i]!.otherHz);
		}
	});

	it('gives viewers all pictures again only when twice the work would be easy too', () => {
		const relief = new Relief();
		pass(relief, 0, 30, 0.9);
		expect(relief.level).toBe(3);
		pass(relief, 30, 60, 0.4);
		expect(relief.level).toBe(3);
		pass(relief, 90, 16, 0.2);
		expect(relief.level).toBe(2);
	});

	it('counts frames that viewers did not get, however little each took', () => {
		const relief = new Relief();
		pass(relief, 0, 2, 0.2, 1);
		expect(relief.level).toBe(1);
	});

	it('is taken up again only after it has long been easy, and not for a moment between', () => {
		const relief = new Relief();
		pass(relief, 0, 2, 0.9);
		pass(relief, 2, 13, 0.3);
		pass(relief, 15, 0.5, 0.6);
		pass(relief, 15.5, 14, 0.3);
		expect(relief.level).toBe(1);
		pass(relief, 29.5, 3, 0.3);
		expect(relief.level).toBe(0);
	});
});
