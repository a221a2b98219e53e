import { expect, it } from 'vitest';
import { MotionMeter } from './motion.ts';
import type { Planes } from './planes.ts';

const planes = { y: 4, strideY: 48, width: 40, height: 24 } as Planes;
const picture = (luma: number) => new Uint8Array(4 + 48 * 24).fill(luma);

it('motion is the mean change of what is sampled, and the first picture has none', () => {
	const meter = new MotionMeter();
	expect(meter.observe(picture(40), planes)).toBe(0);
	expect(meter.observe(picture(40), planes)).toBe(0);
	expect(meter.observe(picture(235), planes)).toBe(195);
	const half = picture(235);
	for (let y = 0; y < 24; y++) half.fill(35, 4 + 48 * y, 4 + 48 * y + 20);
	// Three of the five columns that are looked at lie in the half that changed.
	expect(meter.observe(half, planes)).toBe((3 / 5) * 200);
	expect(meter.observe(picture(10), { ...planes, width: 8 } as Planes)).toBe(0);
});
