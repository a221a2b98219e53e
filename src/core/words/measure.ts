/** Widths of texts in the font that words are shown in, the same on server, desk and every page. */
import { LETTERS_BY_WIDTH, PAIRS_APART, UNITS_PER_EM } from './font-widths.ts';

const WIDTHS = new Map(
	Object.entries(LETTERS_BY_WIDTH).flatMap(([width, letters]) =>
		[...letters].map((letter) => [letter, Number(width) / UNITS_PER_EM] as const),
	),
);
/** Letters of other scripts come from another font, which is not known; few are wider than high. */
const UNKNOWN = 1;
const APART = new Map(
	Object.entries(PAIRS_APART).flatMap(([apart, pairs]) =>
		(pairs.match(/../gu) ?? []).map((pair) => [pair, Number(apart) / UNITS_PER_EM] as const),
	),
);

/**
 * Width of a text in Atkinson Hyperlegible Next, bold, at a size of 1. Not less than what is drawn, and hardly more: pairs
 * that are drawn nearer together are measured as they would be apart.
 */
export function measureWords(text: string): number {
	let width = 0;
	let before = '';
	for (const letter of text.normalize('NFC')) {
		width += WIDTHS.get(letter) ?? (/\p{M}/u.test(letter) ? 0 : UNKNOWN);
		width += APART.get(before + letter) ?? 0;
		before = letter;
	}
	return width;
}
