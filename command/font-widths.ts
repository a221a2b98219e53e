/**
 * Writes src/core/words/font-widths.ts: how wide each letter of the font is that words are shown in.
 * Run it when the font's package has a new version; a test compares the two.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { create, type Font } from 'fontkit';

const FOLDER = 'node_modules/@fontsource/atkinson-hyperlegible-next/files';
const widths: Record<string, number> = {};
let unitsPerEm = 0;
for (const part of ['latin-ext', 'latin']) {
	const font = create(readFileSync(`${FOLDER}/atkinson-hyperlegible-next-${part}-700-normal.woff2`)) as Font;
	unitsPerEm = font.unitsPerEm;
	for (const point of font.characterSet)
		if (point >= 32) widths[String.fromCodePoint(point)] = font.glyphForCodePoint(point).advanceWidth;
}
/** Pairs that stand further apart than their widths say, by how much, of the letters that most words are made of. */
const apart: Record<number, string> = {};
const font = create(readFileSync(`${FOLDER}/atkinson-hyperlegible-next-latin-700-normal.woff2`)) as Font;
const letters = font.characterSet
	.filter((point) => point >= 32 && point < 0x2100)
	.map((point) => String.fromCodePoint(point))
	.filter((letter) => letter === letter.normalize('NFC') && !/\p{M}/u.test(letter));
for (const first of letters)
	for (const second of letters) {
		const more = font.layout(first + second).advanceWidth - widths[first]! - widths[second]!;
		if (more > 0) apart[more] = (apart[more] ?? '') + first + second;
	}
/** By width, all letters that have it: shorter than a line for each. */
const byWidth: Record<number, string> = {};
for (const [letter, width] of Object.entries(widths)) byWidth[width] = (byWidth[width] ?? '') + letter;
writeFileSync(
	'src/core/words/font-widths.ts',
	`/** Letters of Atkinson Hyperlegible Next, bold, by their width; made by command/font-widths.ts. */
export const UNITS_PER_EM = ${unitsPerEm};
export const LETTERS_BY_WIDTH: Readonly<Record<number, string>> = ${JSON.stringify(byWidth, null, '\t')};
/** Pairs of letters by how much further apart they stand. */
export const PAIRS_APART: Readonly<Record<number, string>> = ${JSON.stringify(apart, null, '\t')};
`,
);
