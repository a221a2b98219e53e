import { expect, it } from 'vitest';
import { PictureSize } from './picture-size.ts';

const LARGE = { height: 720, fps: 30 };

it('sends what is wanted on a good line', () => {
	const size = new PictureSize();
	for (let i = 0; i < 50; i++) expect(size.observe(0.01)).toBe(false);
	expect(size.fit(LARGE)).toEqual({ ...LARGE, kbps: 2000 });
	expect(size.fit({ height: 180, fps: 10 })).toEqual({ height: 180, fps: 10, kbps: 150 });
	expect(size.fit({ height: 4000, fps: 10 }).height).toBe(1080);
});

it('sends less where packets are lost, step by step, and more again when it has been good for a while', () => {
	const size = new PictureSize();
	expect([0.08, null, 0.08].map((lost) => size.observe(lost))).toEqual([false, false, true]);
	expect(size.fit(LARGE)).toEqual({ height: 360, fps: 30, kbps: 600 });
	// What is small already gets no smaller than the smallest.
	expect(size.fit({ height: 180, fps: 10 }).height).toBe(180);
	for (let i = 0; i < 10; i++) size.observe(0.2);
	expect(size.fit(LARGE).height).toBe(180);
	const good = (times: number) => Array.from({ length: times }, () => size.observe(0)).filter(Boolean).length;
	expect(good(5)).toBe(0);
	expect(good(1)).toBe(1);
	expect(good(100)).toBe(2);
	expect(size.fit(LARGE).height).toBe(720);
});

it('takes one bad moment for a moment, and knows nothing of another line', () => {
	const size = new PictureSize();
	for (let i = 0; i < 20; i++) size.observe(i % 2 ? 0.3 : 0);
	expect(size.fit(LARGE).height).toBe(720);
	size.observe(0.3);
	size.observe(0.3);
	size.forget();
	expect(size.fit(LARGE).height).toBe(720);
});
