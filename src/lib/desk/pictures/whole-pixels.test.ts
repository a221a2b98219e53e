import fc from 'fast-check';
import { expect, it } from 'vitest';
import { onWholePixels } from './whole-pixels.ts';

it('a picture lies on whole pixels of the screen, within its box, and leaves less than three of them', () => {
	const length = fc.double({ min: 0, max: 3000, noNaN: true });
	fc.assert(
		fc.property(length, length, length, length, fc.constantFrom(1, 1.25, 1.5, 2), (left, top, width, height, scale) => {
			const box = { left, top, right: left + width, bottom: top + height };
			const { size, style } = onWholePixels(box, scale);
			const x = (left + parseFloat(style.left)) * scale;
			expect(x).toBeCloseTo(Math.round(x), 6);
			expect(parseFloat(style.width) * scale).toBeCloseTo(size.width, 6);
			expect([size.width % 2, size.height % 2]).toEqual([0, 0]);
			expect(x + size.width).toBeLessThanOrEqual(box.right * scale + 1e-6 + (width * scale < 1 ? 1 : 0));
			expect(size.width).toBeGreaterThan(width * scale - 3);
			expect(size.height).toBeGreaterThan(height * scale - 3);
		}),
	);
	expect(onWholePixels({ left: 10, top: 20, right: 138, bottom: 92 }, 1)).toEqual({
		size: { width: 128, height: 72 },
		style: { left: '0px', top: '0px', width: '128px', height: '72px' },
	});
});
