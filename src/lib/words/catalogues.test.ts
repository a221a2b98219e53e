import { describe, expect, it } from 'vitest';
import * as en from './en/index.ts';

/** All sentences of an area, those with blanks filled in with examples. */
function sentences(words: object): [key: string, sentence: unknown][] {
	return Object.entries(words).flatMap(([key, value]): [string, unknown][] => {
		if (typeof value === 'function')
			return [[key, (value as (...blanks: string[]) => unknown)('Ä', 'B', 'C', 'D', 'E')]];
		if (typeof value === 'object') return sentences(value as object).map(([of, each]) => [`${key}.${of}`, each]);
		return [[key, value]];
	});
}
const areas = Object.entries(en).filter(([, words]) => typeof words === 'object');

describe('the catalogue of', () => {
	it.each(areas)('%s has words for everything, with nothing missing from a blank', (_, words) => {
		for (const [key, sentence] of sentences(words)) {
			if (sentence === null) continue;
			expect(sentence, key).toMatch(/\S/);
			expect(sentence, key).not.toMatch(/undefined|\[object|\s\s|''/);
		}
	});

	it.each(areas)('%s puts each blank into its sentence', (_, words) => {
		for (const [key, value] of Object.entries(words)) {
			if (typeof value !== 'function' || (value as () => unknown).length === 0) continue;
			expect((value as (...blanks: string[]) => string)('Ä', 'B', 'C', 'D', 'E'), key).toContain('Ä');
		}
	});
});
