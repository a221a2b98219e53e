import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plainScene, wholeLayer } from '../scenes/scene.ts';
import { plainSource } from '../sources/source.ts';
import { cellsOf, Gathering } from './gathering.ts';
import { newGuest } from './guest.ts';

describe('cells for guests', () => {
	it('lie in the picture, beside each other, and are of one size, for each number up to eleven', () => {
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 11 }), (guests) => {
				const cells = cellsOf(guests);
				expect(cells).toHaveLength(guests);
				for (const [i, a] of cells.entries()) {
					expect(Math.min(a.x, a.y, 1 - a.x - a.width, 1 - a.y - a.height)).toBeGreaterThan(-1e-9);
					expect([a.width, a.height]).toEqual([cells[0]!.width, cells[0]!.height]);
					for (const b of cells.slice(i + 1)) {
						const apart = Math.max(Math.abs(a.x - b.x) - a.width, Math.abs(a.y - b.y) - a.height);
						expect(apart).toBeGreaterThan(-1e-9);
					}
				}
			}),
		);
	});

	it('give one guest all of it, and stand a short row in the middle', () => {
		expect(cellsOf(0)).toEqual([]);
		expect(cellsOf(1)).toEqual([{ x: 0, y: 0, width: 1, height: 1 }]);
		const [left, right] = cellsOf(2);
		expect(left!.x).toBe(0);
		expect(right!.x + right!.width).toBeCloseTo(1);
		const third = cellsOf(3)[2]!;
		expect(third.x + third.width / 2).toBeCloseTo(0.5);
	});
});

describe('a scene that gathers', () => {
	const seat = (id: string) =>
		plainSource(id, id, { kind: 'seat', shows: 'camera', empty: 'nothing', reservedFor: null });
	const sources = [seat('one'), seat('two'), plainSource('paper', 'Paper', { kind: 'colour', colour: '#12161c' })];
	const layers = ['paper', 'one', 'two'].map((id) => wholeLayer(`${id}-layer`, id));
	const scenes = [{ ...plainScene('all', 'All', layers), gathers: true }, plainScene('other', 'Other', layers)];
	const at = (id: string, seatId: string | null) => ({ ...newGuest(id, id), isIn: true, seatId });

	it('shows who has a seat, and all else as it was made', () => {
		const gathering = new Gathering();
		const [all, other] = gathering.of({ scenes, sources, guests: [at('ysolde', 'two'), at('pello', null)] });
		expect(all!.layers.map(({ sourceId, box }) => [sourceId, box.width])).toEqual([
			['paper', 1],
			['two', 1],
		]);
		expect(other).toBe(scenes[1]);
		const both = gathering.of({ scenes, sources, guests: [at('ysolde', 'two'), at('pello', 'one')] })[0]!;
		expect(both.layers.map(({ sourceId }) => sourceId)).toEqual(['paper', 'one', 'two']);
		expect(both.layers[1]!.box.x).toBeLessThan(both.layers[2]!.box.x);
	});

	it('is the same object as long as nobody comes or goes', () => {
		const gathering = new Gathering();
		const guests = [at('ysolde', 'one')];
		const first = gathering.of({ scenes, sources, guests });
		expect(gathering.of({ scenes, sources, guests: [{ ...guests[0]!, name: 'Ysolde Brann' }] })).toBe(first);
		expect(gathering.of({ scenes, sources, guests: [{ ...guests[0]!, seen: false }] })).not.toBe(first);
	});
});
