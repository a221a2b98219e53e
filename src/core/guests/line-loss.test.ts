import { expect, it } from 'vitest';
import { LineLoss } from './line-loss.ts';

it('goes by the voice, each report once, and tells of the last two', () => {
	const loss = new LineLoss();
	expect(loss.part).toBeNull();
	expect(loss.take([])).toBeNull();
	const voice = (at: number, lost: number) => ({ of: 'voice' as const, at, lost });
	const pictures = (at: number, lost: number) => ({ of: 'pictures' as const, at, lost });
	expect(loss.take([pictures(5000, 0.3), voice(5000, 0.06), voice(1000, 0.5)])).toBe(0.06);
	expect(loss.take([pictures(7000, 0), voice(5000, 0.06)])).toBeNull();
	expect(loss.take([pictures(9000, 0), voice(10_000, 0.1)])).toBe(0.1);
	expect(loss.part).toBeCloseTo(0.08);
	expect(loss.take([voice(15_000, 0)])).toBe(0);
	expect(loss.part).toBeCloseTo(0.05);
	// A voice that is not sent any more.
	expect(loss.take([voice(15_000, 0), pictures(29_000, 0.2)])).toBeNull();
	expect(loss.take([voice(15_000, 0), pictures(31_000, 0.2)])).toBe(0.2);
});

it('goes by the pictures where there is no voice', () => {
	const loss = new LineLoss();
	expect(loss.take([{ of: 'pictures', at: 100, lost: 0.2 }])).toBe(0.2);
	expect(loss.part).toBe(0.2);
});
