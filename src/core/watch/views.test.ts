import fc from 'fast-check';
import { expect, it } from 'vitest';
import { isView, orderMark, VIEW_NAMES, VIEWS, wallCell } from './views.ts';

it('finds room for as many scenes as there are, none upon another', () => {
	fc.assert(
		fc.property(fc.integer({ min: 1, max: 100 }), (count) => {
			const cells = Array.from({ length: count }, (_, i) => wallCell(count, i));
			for (const { x, y, width, height } of cells) {
				expect([x % 2, y % 2, width % 2, height % 2]).toEqual([0, 0, 0, 0]);
				expect(width).toBeGreaterThanOrEqual(8);
				expect(x + width).toBeLessThanOrEqual(VIEWS.wall.width);
				expect(y + height).toBeLessThanOrEqual(VIEWS.wall.height);
			}
			expect(new Set(cells.map(({ x, y }) => `${x} ${y}`)).size).toBe(count);
		}),
	);
	expect(wallCell(5, 4)).toEqual({ x: 340, y: 192, width: 340, height: 192 });
});

it('tells orders of scenes apart', () => {
	expect(orderMark(['a', 'b'])).toBe(orderMark(['a', 'b']));
	const others = [['b', 'a'], ['a'], ['ab'], []];
	expect(new Set([['a', 'b'], ...others].map(orderMark)).size).toBe(5);
});

it('knows its own names', () => {
	expect(VIEW_NAMES.every(isView)).toBe(true);
	expect([isView('walls'), isView(null), isView('')]).toEqual([false, false, false]);
});
