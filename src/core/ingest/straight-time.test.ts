import fc from 'fast-check';
import { expect, it } from 'vitest';
import { StraightTime } from './straight-time.ts';

/** Stamps that come as they are due, 20 ms apart. @returns what is made of each */
function straightened(stamps: readonly number[]): number[] {
	const time = new StraightTime();
	return stamps.map((stamp, i) => time.at('video', stamp, 20 * i));
}

it('time begins at 0, wherever the camera’s clock stands, and goes on as it does', () => {
	expect(straightened([5000, 5020, 5040, 5061])).toEqual([0, 20, 40, 61]);
});

it('stamps that run over go on', () => {
	const most = 2 ** 32;
	expect(straightened([most - 30, most - 10, 10, 30])).toEqual([0, 20, 40, 60]);
});

it('a step back or ahead is no gap: time goes on by what the packets were apart', () => {
	const time = new StraightTime();
	const at = [0, 20, 40, 60].map((now, i) => time.at('video', [90_000, 90_020, 500, 520][i]!, now));
	expect(at).toEqual([0, 20, 40, 60]);
	expect(time.at('video', 800_000, 80)).toBe(80);
	expect(time.steps).toBe(2);
});

it('what is missing is a gap: the camera was silent, and its clock went on', () => {
	const time = new StraightTime();
	time.at('video', 1000, 0);
	expect(time.at('video', 7000, 6000)).toBe(6000);
	expect(time.steps).toBe(0);
});

it('picture and sound stay together over a step that both make, whichever makes it first', () => {
	const time = new StraightTime();
	time.at('video', 10_000, 0);
	expect(time.at('audio', 10_007, 2)).toBe(7);
	expect(time.at('video', 10_040, 40)).toBe(40);
	const stepped = time.at('video', 80, 80);
	expect(stepped).toBe(80);
	// Still from before the step.
	expect(time.at('audio', 10_070, 82)).toBe(70);
	expect(time.at('audio', 90, 92)).toBe(90);
});

it('whatever the stamps are, time never steps back, and never runs far ahead of what has passed', () => {
	const packet = fc.record({
		line: fc.constantFrom('video' as const, 'audio' as const),
		stamp: fc.oneof(fc.integer({ min: 0, max: 2 ** 32 - 1 }), fc.integer({ min: 0, max: 4000 })),
		waited: fc.integer({ min: 0, max: 3000 }),
	});
	fc.assert(
		fc.property(fc.array(packet, { maxLength: 60 }), (packets) => {
			const time = new StraightTime();
			const last = { video: 0, audio: 0 };
			let now = 0;
			for (const { line, stamp, waited } of packets) {
				now += waited;
				const at = time.at(line, stamp, now);
				expect(at).toBeGreaterThanOrEqual(last[line]);
				last[line] = at;
			}
			// Each packet may be ahead by less than what counts as a step.
			expect(Math.max(last.video, last.audio)).toBeLessThanOrEqual(now + 2000 * packets.length);
		}),
		{ seed: 20, numRuns: 300 },
	);
});
