import { expect, it } from 'vitest';
import { Peaks, peaksPath } from './peaks.ts';

it('each part has its highest sample, whichever way it points, and nothing lies outside', () => {
	const peaks = new Peaks(4, 2);
	// Half a second each, at 10 samples a second.
	const samples = Float32Array.from({ length: 30 }, (_, i) => (i === 7 ? -0.5 : i === 12 ? 0.25 : i === 29 ? 1 : 0.1));
	peaks.add(samples, 0, 10);
	peaks.add(Float32Array.of(1, 1), -5, 10);
	expect([...peaks.heights].map((height) => Math.round(100 * height))).toEqual([10, 50, 25, 10]);
	peaks.add(Float32Array.of(-3), 1.9, 10);
	expect(peaks.heights[3]).toBe(1);
});

it('is drawn mirrored, and never thinner than a line', () => {
	expect(peaksPath([0.5, 0], 20)).toBe('M0 10L0 5.0L1 9.5L1 10.5L0 15.0Z');
	expect(peaksPath([], 20)).toBe('');
});
