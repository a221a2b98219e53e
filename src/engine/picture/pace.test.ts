import { describe, expect, it } from 'vitest';
import { Pace } from './pace.ts';

const nobody = () => false;
const everybody = () => true;

describe('a program that begins', () => {
	it('waits for nothing when nothing is expected, and has time for the desk at once', () => {
		const pace = new Pace();
		expect(pace.waits(0, nobody)).toBe(false);
		expect(pace.spare(1, 0)).toEqual({ forProgram: true, forOthers: true });
	});

	it('waits until all expected pictures are there', () => {
		const pace = new Pace();
		pace.expect(['lectern', 'chapel-wide'], 4000);
		expect(pace.waits(0, nobody)).toBe(true);
		expect(pace.waits(10, (id) => id === 'lectern')).toBe(true);
		expect(pace.waits(20, everybody)).toBe(false);
	});

	it('waits no longer for a source that cannot be had', () => {
		const pace = new Pace();
		pace.expect(['lectern', 'chapel-wide'], 4000);
		expect(pace.waits(0, (id) => id === 'lectern')).toBe(true);
		pace.expect(['lectern'], 4000);
		expect(pace.waits(10, (id) => id === 'lectern')).toBe(false);
	});

	it('waits no longer than it was told to', () => {
		const pace = new Pace();
		pace.expect(['lectern'], 4000);
		expect(pace.waits(3999, nobody)).toBe(true);
		expect(pace.waits(4000, nobody)).toBe(false);
	});

	it('never waits again, whatever is expected then', () => {
		const pace = new Pace();
		pace.waits(0, nobody);
		pace.expect(['lectern'], 9000);
		expect(pace.waits(1, nobody)).toBe(false);
		pace.expect([], 9000);
		expect(pace.spare(1, 2)).toEqual({ forProgram: true, forOthers: true });
	});

	it('gives viewers their first pictures before the desk has any, if it has waited', () => {
		const pace = new Pace();
		pace.expect(['lectern'], 4000);
		pace.waits(0, nobody);
		pace.waits(1000, everybody);
		expect(pace.spare(1, 1300)).toEqual({ forProgram: false, forOthers: false });
		expect(pace.spare(1, 1500)).toEqual({ forProgram: true, forOthers: true });
	});
});

describe('time to spare', () => {
	it('is there with every frame that is on time', () => {
		const pace = new Pace();
		for (let t = 0; t < 1000; t += 33) expect(pace.spare(1, t).forOthers).toBe(true);
	});

	it('is there a few times a second on a machine that is always late, so that the wall never stands still', () => {
		const pace = new Pace();
		const spared = Array.from({ length: 300 }, (_, i) => pace.spare(5, (i * 1000) / 30).forOthers);
		const times = spared.filter(Boolean).length;
		expect(times).toBeGreaterThanOrEqual(36);
		expect(times).toBeLessThanOrEqual(41);
		expect(Array.from({ length: 30 }, (_, i) => pace.spare(5, 10_000 + i).forProgram)).not.toContain(false);
	});
});

describe('the frame that is made next', () => {
	it('is the next one, also after a moment’s disturbance', () => {
		const pace = new Pace();
		expect([pace.next(10, 10, 0), pace.next(10, 11, 0), pace.next(10, 15, 3000)]).toEqual([10, 10, 10]);
		// Made up for within 150 ms, one after another.
		expect([pace.next(11, 15, 3040), pace.next(12, 15, 3080)]).toEqual([11, 12]);
	});

	it('is the newest one when more was missed, or when the machine is late all the time', () => {
		const pace = new Pace();
		expect(pace.next(10, 40, 0)).toBe(39);
		let frame = 0;
		const late = Array.from({ length: 60 }, (_, i) => {
			const seen = 2 * (i + 1);
			frame = pace.next(frame, seen, 10_000 + i * 67) + 1;
			return seen - frame;
		});
		// But for the moments in which it tries to make up for them.
		expect(late.filter((behind) => behind > 0).length).toBeLessThan(8);
		expect(Math.max(...late)).toBeLessThan(5);
	});
});
