import { describe, expect, it } from 'vitest';
import { PictureHealth, sampleLuma, type LumaSample } from './health.ts';
import type { Planes } from './planes.ts';

const planes = { y: 8, strideY: 320, width: 320, height: 180 } as Planes;
function sampleOf(byte: (i: number) => number): LumaSample {
	return sampleLuma(
		Uint8Array.from({ length: 8 + 320 * 180 }, (_, i) => byte(i)),
		planes,
	);
}
/** What is said after looking at a picture every 100 ms. */
function saidAfter(ms: number, picture: (i: number) => LumaSample): ReturnType<PictureHealth['fault']> {
	const health = new PictureHealth();
	for (let now = 0; now <= ms; now += 100) health.observe(picture(now), now);
	return health.fault(ms);
}
const black = sampleOf(() => 16);
const scene = sampleOf((i) => (i * 7) & 255);

describe('a camera’s picture', () => {
	it('that is black is named within two seconds, and not before one', () => {
		expect(saidAfter(900, () => black)).toBeNull();
		expect(saidAfter(2000, () => black)).toBe('black');
	});

	it('that is dark but has a lantern in it is not black', () => {
		const lit = (i: number) => (i - 8) % 320 > 100 && (i - 8) % 320 < 124 && i > 50 * 320 && i < 70 * 320;
		const night = (now: number) => sampleOf((i) => (lit(i) ? 200 : 17 + ((i + now / 100) % 3)));
		expect(saidAfter(3000, night)).toBeNull();
	});

	it('that stands still is named within two seconds', () => {
		expect(saidAfter(1000, () => scene)).toBeNull();
		expect(saidAfter(2000, () => scene)).toBe('frozen');
	});

	it('that moves is well, also when it moves little', () => {
		expect(saidAfter(5000, (now) => sampleOf((i) => ((i * 7) & 255) ^ (i > 40_000 ? (now / 100) & 1 : 0)))).toBeNull();
	});

	it('is well again as soon as it moves', () => {
		const health = new PictureHealth();
		for (let now = 0; now <= 3000; now += 100) health.observe(scene, now);
		expect(health.fault(3000)).toBe('frozen');
		health.observe(
			sampleOf((i) => i & 127),
			3100,
		);
		expect(health.fault(3100)).toBeNull();
	});

	it('is not judged when nobody has looked at it', () => {
		const health = new PictureHealth();
		health.observe(scene, 0);
		expect(health.fault(5000)).toBeNull();
		health.observe(scene, 5000);
		expect(health.fault(5100)).toBeNull();
	});
});
