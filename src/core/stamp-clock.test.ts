import { describe, expect, it } from 'vitest';
import { StampClock } from './stamp-clock.ts';

describe('a stamp clock', () => {
	it('tells when a late thing would have come, from those that were not late', () => {
		const clock = new StampClock();
		expect(clock.onTime(0, 1007)).toBe(1007);
		expect(clock.onTime(33, 1036)).toBe(1036);
		// Held up by 64 ms, and two more that came together with it.
		expect([66, 99, 132].map((stamp) => clock.onTime(stamp, 1133))).toEqual([1069, 1102, 1133]);
	});

	it('never says a later time than that at which it came, whatever the stamps are', () => {
		const clock = new StampClock();
		let now = 500;
		for (const stamp of [0, 0, 40, 1e9, 1e9, -7, 3, Number.MAX_SAFE_INTEGER, 12, 45]) {
			expect(clock.onTime(stamp, (now += 33))).toBeLessThanOrEqual(now);
		}
	});

	it('forgets the shortest way no sooner than it is told to', () => {
		const clock = new StampClock(30_000);
		clock.onTime(0, 10);
		for (let t = 1000; t <= 30_000; t += 1000) expect(clock.onTime(t, t + 300)).toBe(t + 10);
		for (let t = 31_000; t <= 90_000; t += 1000) clock.onTime(t, t + 300);
		expect(clock.onTime(91_000, 91_300)).toBe(91_300);
	});

	it('follows a clock that drifts, and a way that has become longer', () => {
		const clock = new StampClock();
		for (let t = 0; t < 60_000; t += 33) clock.onTime(t * 1.001, t);
		// A minute of one in a thousand is 60 ms; it is off by what four seconds of drift make at the most.
		expect(Math.abs(clock.onTime(60_000 * 1.001, 60_000) - 60_000)).toBeLessThanOrEqual(4);
		for (let t = 60_000; t < 65_000; t += 33) clock.onTime(t, t + 200);
		expect(clock.onTime(65_000, 65_200)).toBe(65_200);
	});
});
