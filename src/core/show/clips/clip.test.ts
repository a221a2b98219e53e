import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { AT_START, endsPlayingAt, itemAt, itemLengthMs, itemNumber, positionAt, roundMs, type Clip } from './clip.ts';

const item = (mediaId: string, lengthMs: number, inMs = 0, outMs = lengthMs) => ({
	mediaId,
	name: mediaId,
	lengthMs,
	inMs,
	outMs,
	gainDb: 0,
});
const reel = (part: Partial<Clip> = {}): Clip => ({
	items: [item('a', 4000), item('b', 3000, 1000, 2500), item('c', 2000)],
	repeats: false,
	shuffled: false,
	ends: 'stand',
	leadOutMs: 0,
	...part,
});

describe('the timeline of a reel', () => {
	it('goes on without a seam from one file to the next, each from its in point to its out point', () => {
		expect(roundMs(reel())).toBe(7500);
		expect(itemAt(reel(), 0, 0)).toMatchObject({ index: 0, startMs: 0 });
		expect(itemAt(reel(), 3999, 0)).toMatchObject({ index: 0, startMs: 0 });
		expect(itemAt(reel(), 4000, 0)).toMatchObject({ index: 1, startMs: 4000 });
		expect(itemAt(reel(), 5500, 0)).toMatchObject({ index: 2, startMs: 5500 });
		expect(itemAt(reel(), 7500, 0)).toBeNull();
		expect(itemAt(reel({ repeats: true }), 7500, 0)).toMatchObject({ index: 0, startMs: 7500, number: 3 });
	});

	it('covers every moment once, whatever the order, and both ways to ask agree', () => {
		const clip = fc.record({
			items: fc.array(
				fc.integer({ min: 1, max: 5000 }).map((ms) => item('m', ms)),
				{ minLength: 1, maxLength: 7 },
			),
			repeats: fc.boolean(),
			shuffled: fc.boolean(),
			ends: fc.constant('stand' as const),
			leadOutMs: fc.constant(0),
		});
		fc.assert(
			fc.property(clip, fc.nat(2 ** 31 - 1), fc.integer({ min: 1, max: 5 }), (made, seed, rounds) => {
				let comes = 0;
				const count = made.items.length * (made.repeats ? rounds : 1);
				const seen = new Map<number, number>();
				for (let number = 0; number < count; number++) {
					const placed = itemNumber(made, number, seed)!;
					expect(placed.startMs).toBe(comes);
					expect(itemAt(made, comes, seed)).toEqual(placed);
					comes += itemLengthMs(placed.item);
					expect(itemAt(made, comes - 1, seed)).toEqual(placed);
					seen.set(placed.index, (seen.get(placed.index) ?? 0) + 1);
				}
				// Shuffled or not, a round plays every file once.
				expect([...seen.values()]).toEqual(made.items.map(() => (made.repeats ? rounds : 1)));
				if (!made.repeats) expect(itemNumber(made, count, seed)).toBeNull();
			}),
		);
	});

	it('never shuffles the same file twice running, and begins in another order another time', () => {
		const shuffled = reel({ repeats: true, shuffled: true });
		fc.assert(
			fc.property(fc.nat(2 ** 31 - 1), (seed) => {
				const order = Array.from({ length: 60 }, (_, number) => itemNumber(shuffled, number, seed)!.index);
				for (const [i, index] of order.entries()) if (i > 0) expect(index).not.toBe(order[i - 1]);
			}),
		);
		const firsts = Array.from({ length: 50 }, (_, seed) => itemNumber(shuffled, 0, seed)!.index);
		expect(new Set(firsts).size).toBe(3);
	});
});

describe('a transport', () => {
	it('stands at the end of a clip that does not repeat, and goes on in one that does', () => {
		const playing = { ...AT_START, playing: true, positionMs: 1000, since: 50_000 };
		expect(positionAt(reel(), playing, 52_000)).toBe(3000);
		expect(positionAt(reel(), playing, 90_000)).toBe(7500);
		expect(positionAt(reel({ repeats: true }), playing, 90_000)).toBe(41_000);
		expect(positionAt(reel(), { ...playing, playing: false }, 90_000)).toBe(1000);
		// A page whose clock is behind the server's shows its beginning, not a time before it.
		expect(positionAt(reel(), playing, 49_000)).toBe(1000);
	});

	it('tells when its clip ends', () => {
		const playing = { ...AT_START, playing: true, positionMs: 1000, since: 50_000 };
		expect(endsPlayingAt(reel(), playing)).toBe(56_500);
		expect(endsPlayingAt(reel({ repeats: true }), playing)).toBeNull();
		expect(endsPlayingAt(reel(), { ...playing, playing: false })).toBeNull();
	});
});
