import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Budget } from './budget.ts';

const ALLOWANCE = { messages: 10, bytes: 1000, burstS: 3 };

describe('what a socket may send', () => {
	it('is some seconds’ worth at once, and so much in a second after that', () => {
		const budget = new Budget(ALLOWANCE);
		for (let i = 0; i < 30; i++) expect(budget.spend(1, 0), String(i)).toBe(true);
		expect(budget.spend(1, 0)).toBe(false);
		expect(new Budget(ALLOWANCE).spend(3000, 0)).toBe(true);
		expect(new Budget(ALLOWANCE).spend(3001, 0)).toBe(false);
	});

	it('never is more than that, however it comes, and also when a clock goes back', () => {
		const sent = fc.array(fc.tuple(fc.integer({ min: -500, max: 500 }), fc.nat(800)), { maxLength: 200 });
		fc.assert(
			fc.property(sent, (list) => {
				const budget = new Budget(ALLOWANCE);
				let [now, newest, taken, bytes] = [0, 0, 0, 0];
				for (const [step, size] of list) {
					now += step;
					newest = Math.max(newest, now);
					if (!budget.spend(size, now)) return;
					taken++;
					bytes += size;
				}
				// Time that was gone back over may be given once more each time it passes; all steps forward are the most.
				const forwardS = list.reduce((sum, [step]) => sum + Math.max(0, step), 0) / 1000;
				expect(taken).toBeLessThanOrEqual(30 + 10 * forwardS + 1e-6);
				expect(bytes).toBeLessThanOrEqual(3000 + 1000 * forwardS + 1e-6);
			}),
		);
	});

	it('is enough for ever for who keeps to it', () => {
		const budget = new Budget(ALLOWANCE);
		for (let i = 0; i < 10_000; i++) expect(budget.spend(99, i * 101)).toBe(true);
	});
});
