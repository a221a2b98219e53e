import { expect, it } from 'vitest';
import { LoudnessCurve, type LoudnessPoint } from './loudness-curve.ts';

const point = (second: number): LoudnessPoint => ({ at: second * 1000, shortTerm: -20, integrated: -18 });
const seconds = ({ points }: LoudnessCurve) => points.map(({ at }) => at / 1000);

it('keeps an evening from its beginning to now in a bounded number of points without a hole', () => {
	const known = Array.from({ length: 3000 }, (_, i) => point(i * 5));
	const curve = new LoudnessCurve(known);
	for (let second = 15_000; second < 20_000; second++) {
		curve.add(point(second));
		expect(seconds(curve).at(-1)).toBe(second);
	}
	const kept = seconds(curve);
	expect(kept.length).toBeGreaterThan(250);
	expect(kept.length).toBeLessThanOrEqual(600);
	expect(kept[0]).toBe(0);
	const gaps = kept.slice(1).map((second, i) => second - kept[i]!);
	expect(Math.min(...gaps)).toBeGreaterThan(0);
	expect(Math.max(...gaps)).toBeLessThanOrEqual(80);
});
