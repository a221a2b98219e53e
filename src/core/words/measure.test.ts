import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { create, type Font } from 'fontkit';
import { expect, it } from 'vitest';
import { cutSong, type Fit } from './cutting.ts';
import { measureWords } from './measure.ts';

const font = create(
	readFileSync(
		'node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff2',
	),
) as Font;
/** As a browser lays it out: with kerning and ligatures. */
const drawn = (text: string) => font.layout(text).advanceWidth / font.unitsPerEm;
/** By how much pairs of a text are drawn nearer together than their letters are wide. */
function drawnNearer(text: string) {
	const { glyphs, positions } = font.layout(text);
	const nearer = glyphs.map(({ advanceWidth }, i) => Math.max(0, advanceWidth - positions[i]!.xAdvance));
	return nearer.reduce((sum, each) => sum + each, 0) / font.unitsPerEm;
}
const text = fc
	.array(fc.stringMatching(/^[A-Za-zÄÖÜäöüßéèçñ’.,;:!?-]{1,12}$/), { minLength: 1, maxLength: 12 })
	.map((words) => words.join(' '));

it('letters are as wide as the font that ships has them', () => {
	for (const point of font.characterSet.filter((each) => each > 32 && each < 0x2100)) {
		const letter = String.fromCodePoint(point);
		if (letter !== letter.normalize('NFC') || /\p{M}/u.test(letter)) continue;
		expect(measureWords(letter), letter).toBeCloseTo(font.glyphForCodePoint(point).advanceWidth / font.unitsPerEm);
	}
});

it('words are not wider than they were measured, and narrower by no more than pairs are drawn nearer together', () => {
	fc.assert(
		fc.property(text, (words) => {
			expect(drawn(words)).toBeLessThanOrEqual(measureWords(words) + 1e-9);
			expect(drawn(words) + drawnNearer(words)).toBeGreaterThanOrEqual(measureWords(words) - 1e-9);
		}),
		{ numRuns: 1000, examples: [['L’'], ['AV To fi fl ffi L’To']] },
	);
});

it('letters of other scripts have room, and marks that stand above others take none', () => {
	expect(measureWords('歌')).toBeGreaterThanOrEqual(1);
	expect(measureWords('a\u0308')).toBe(measureWords('ä'));
});

it('nothing that is cut is drawn over an edge', () => {
	const fit = fc.record<Fit>({
		width: fc.integer({ min: 200, max: 2000 }),
		height: fc.integer({ min: 60, max: 1000 }),
		size: fc.integer({ min: 20, max: 200 }),
		lines: fc.integer({ min: 0, max: 4 }),
		languages: fc.constant('first'),
	});
	fc.assert(
		fc.property(fc.array(text, { minLength: 1, maxLength: 6 }), fit, fit, (lines, hall, stream) => {
			const sections = [{ kind: 'verse' as const, number: 1, lines: lines.map((line) => [line]) }];
			const { slides, steps } = cutSong({ sections, order: [] }, hall, stream, measureWords);
			for (const [shown, { width }] of [
				[slides, hall],
				[steps, stream],
			] as const)
				for (const { rows, size } of shown)
					for (const row of rows) expect(drawn(row.text) * size).toBeLessThanOrEqual(width + 1e-6);
		}),
		{ numRuns: 40 },
	);
});
