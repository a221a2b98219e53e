import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Picture } from '../show/state.ts';
import { isHeavier, judgeMachine, partOfGuests, type Machine } from './machine.ts';

const SMALL = { width: 1280, height: 720 } as const;
const LARGE = { width: 1920, height: 1080 } as const;
const pixels = ({ width, height }: { width: number; height: number }) => width * height;

/** Makes so many frames a second of each size, each encoded once. */
function machine(small: number, large: number, cores = 2): Machine {
	const makes = [
		{ ...SMALL, fps: small, encoded: pixels(SMALL) },
		{ ...LARGE, fps: large, encoded: pixels(LARGE) },
	];
	return { at: 0, cores, memoryGb: 8, hardware: 'none', weight: 30, makes, decodes: 200e6 };
}
const at = (size: typeof SMALL | typeof LARGE, fps: Picture['fps']): Picture => ({ ...size, fps });

describe('what a machine makes of a picture', () => {
	it('is found from what it made flat out, less what the evening needs besides', () => {
		// Two cores, of which 0.15 go to the rest: 92.5 % of 100 frames.
		const judged = judgeMachine(machine(100, 60), at(SMALL, 30), pixels(SMALL), 0)!;
		expect(judged.room).toBeCloseTo(1 - 30 / 92.5, 3);
		expect(judged).toMatchObject({ share: 1, verdict: 'ample' });
	});

	it('has little to spare, or frames are dropped', () => {
		expect(judgeMachine(machine(100, 36), at(LARGE, 30), pixels(LARGE), 0)!.verdict).toBe('tight');
		const drops = judgeMachine(machine(100, 31), at(LARGE, 30), pixels(LARGE), 0)!;
		expect(drops.verdict).toBe('drops');
		expect(drops.share).toBeCloseTo((31 * 0.925) / 30, 3);
	});

	it('is half of the frames, evenly, where more than a few would be missed', () => {
		expect(judgeMachine(machine(100, 29), at(LARGE, 30), pixels(LARGE), 0)!.share).toBe(0.5);
		expect(judgeMachine(machine(100, 12), at(LARGE, 30), pixels(LARGE), 0)!.share).toBeCloseTo((12 * 0.925) / 30, 3);
	});

	it('costs more with more that is encoded, and is worth more cores', () => {
		const alone = judgeMachine(machine(100, 50), at(LARGE, 30), pixels(LARGE), 0)!;
		const apart = judgeMachine(machine(100, 50), at(LARGE, 30), 2 * pixels(LARGE), 0)!;
		expect(apart.room).toBeLessThan(alone.room - 0.2);
		expect(judgeMachine(machine(100, 50, 8), at(LARGE, 30), pixels(LARGE), 0)!.room).toBeGreaterThan(alone.room);
	});

	it('has less to spare with guests, whose pictures are decoded besides', () => {
		const tested = machine(100, 60);
		const [without, with2] = [0, 40e6].map((guests) => judgeMachine(tested, at(SMALL, 30), pixels(SMALL), guests)!);
		expect(partOfGuests(tested, 40e6)).toBeCloseTo(0.2, 6);
		expect([0, 1].map((guests) => partOfGuests({ ...tested, decodes: 0 }, guests))).toEqual([0, 1]);
		expect(without!.room - with2!.room).toBeCloseTo(0.2 / 0.925, 6);
		expect(judgeMachine(tested, at(SMALL, 30), pixels(SMALL), 150e6)!.verdict).toBe('drops');
	});

	it('never gets better with more frames a second or more pixels', () => {
		const rate = fc.integer({ min: 5, max: 400 });
		const more = fc.integer({ min: 0, max: 20_000_000 });
		fc.assert(
			fc.property(rate, rate, more, (small, large, pixelsMore) => {
				const tested = machine(Math.max(small, large), Math.min(small, large));
				const of = (fps: Picture['fps'], encoded: number) => judgeMachine(tested, at(LARGE, fps), encoded, 0)!;
				const [slow, fast] = [of(30, pixels(LARGE)), of(60, pixels(LARGE))];
				expect(fast.room).toBeLessThan(slow.room);
				expect(fast.share).toBeLessThanOrEqual(slow.share);
				expect(of(30, pixels(LARGE) + pixelsMore).share).toBeLessThanOrEqual(slow.share);
				expect(slow.share).toBeGreaterThan(0);
				expect(slow.share).toBeLessThanOrEqual(1);
			}),
		);
	});

	it('is not known of a size that was not tested, or through which nothing came', () => {
		const { makes } = machine(100, 50);
		expect(judgeMachine({ ...machine(100, 50), makes: makes.slice(0, 1) }, at(LARGE, 30), 1, 0)).toBeNull();
		expect(judgeMachine(machine(100, 0), at(LARGE, 30), 1, 0)).toBeNull();
	});
});

it('an event that has become a twentieth heavier is tested anew', () => {
	expect(isHeavier(31, machine(100, 50))).toBe(false);
	expect(isHeavier(32, machine(100, 50))).toBe(true);
});
