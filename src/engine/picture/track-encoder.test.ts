import fc from 'fast-check';
import { expect, it } from 'vitest';
import { trackSize } from './track-encoder.ts';

it('a picture recorded apart keeps its shape, has even sides, and is never made larger', () => {
	expect(trackSize({ width: 1280, height: 720 }, 540)).toEqual({ width: 960, height: 540 });
	expect(trackSize({ width: 640, height: 480 }, 540)).toEqual({ width: 640, height: 480 });
	expect(trackSize({ width: 1081, height: 1921 }, 360)).toEqual({ width: 202, height: 360 });
	fc.assert(
		fc.property(
			fc.integer({ min: 16, max: 7680 }),
			fc.integer({ min: 16, max: 4320 }),
			fc.constantFrom(360, 540, 720),
			(width, height, most) => {
				const size = trackSize({ width, height }, most);
				expect([size.width % 2, size.height % 2]).toEqual([0, 0]);
				expect(size.height).toBeLessThanOrEqual(Math.max(16, Math.min(most, height + 1)));
				if (size.width > 16 && size.height > 16)
					expect(Math.abs(size.width / size.height - width / height)).toBeLessThan((0.15 * width) / height + 0.1);
			},
		),
	);
});
