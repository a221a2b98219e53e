import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layOutText, LINE_HEIGHT } from './text-layout.ts';

/** Letters of different widths, as in a font. */
const measure = (text: string) =>
	[...text].reduce((sum, letter) => sum + (letter === 'i' ? 0.25 : letter === 'W' ? 0.9 : 0.55), 0);

describe('a text in a box', () => {
	it('never runs out of it, whatever is written', () => {
		const text = fc.oneof(
			fc.string({ maxLength: 300 }),
			fc
				.array(fc.constantFrom('Maren', 'Oakshaw', 'of', 'iiii', 'WWWWWWWWWWWWWWWW'), { maxLength: 40 })
				.map((words) => words.join(' ')),
		);
		const length = fc.integer({ min: 20, max: 1500 });
		fc.assert(
			fc.property(text, length, length, fc.integer({ min: 8, max: 120 }), (words, width, height, wanted) => {
				const { size, lines } = layOutText(words, width, height, wanted, measure);
				expect(size).toBeLessThanOrEqual(wanted);
				expect(lines.join(' ')).toBe(words.split(/\s+/).filter(Boolean).join(' '));
				for (const line of lines) expect(measure(line) * size).toBeLessThanOrEqual(width + 1e-6);
				if (lines.length > 0) expect(lines.length * size * LINE_HEIGHT).toBeLessThanOrEqual(height + 1e-6);
			}),
			{ numRuns: 500 },
		);
	});

	it('keeps its size where there is room, shrinks a little, then wraps', () => {
		const fit = (words: string) => layOutText(words, 400, 200, 50, measure);
		expect(fit('Corin Vale')).toEqual({ size: 50, lines: ['Corin Vale'] });
		const longer = fit('Maren Oakshaw, hut');
		expect(longer.lines).toHaveLength(1);
		expect(longer.size).toBeLessThan(50);
		const long = fit('Maren Oakshaw, hut warden of Cold Tarn and keeper of the lanterns');
		expect(long.lines.length).toBeGreaterThan(1);
		expect(long.size).toBeGreaterThan(25);
	});
});
