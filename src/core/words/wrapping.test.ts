import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { breakInto, wordsOf, wrap } from './wrapping.ts';

/** Every letter as wide as every other one. */
const measure = (text: string) => text.length;
const someWords = fc.array(fc.stringMatching(/^[a-z]{1,9}[,.;]?$/), { minLength: 1, maxLength: 24 });

describe('a line of words', () => {
	it('is broken after a comma rather than in the middle of a phrase', () => {
		expect(wrap('Lamp on the col, burn low, burn long', 26, measure)).toEqual([
			'Lamp on the col,',
			'burn low, burn long',
		]);
		expect(wrap('there is one small flame that is not alone', 25, measure)).toEqual([
			'there is one small flame',
			'that is not alone',
		]);
	});

	it('keeps small words with what they belong to', () => {
		for (const row of wrap('then one goes out to the wind and sky with oil for the lamp', 26, measure).slice(0, -1))
			expect(row).not.toMatch(/ (to|the|and|with|for|of)$/);
	});

	it('keeps every word once and in order, and is over the edge only where one word is', () => {
		fc.assert(
			fc.property(someWords, fc.integer({ min: 3, max: 60 }), (words, widest) => {
				const rows = wrap(words.join(' '), widest, measure);
				expect(rows.flatMap(wordsOf)).toEqual(words);
				for (const row of rows) expect(measure(row) <= widest || wordsOf(row).length === 1).toBe(true);
			}),
		);
	});

	it('leaves a word alone only where its neighbours do not fit beside it', () => {
		fc.assert(
			fc.property(someWords, fc.integer({ min: 24, max: 60 }), (words, widest) => {
				const rows = wrap(words.join(' '), widest, measure).map(wordsOf);
				if (rows.length < 2) return;
				// Three words of ten letters at most fit in a row of 32.
				if (widest >= 32) for (const row of rows) expect(row.length).toBeGreaterThan(1);
			}),
		);
	});

	it('is broken into as many pieces as are asked for', () => {
		fc.assert(
			fc.property(someWords, fc.integer({ min: 1, max: 24 }), (words, wanted) => {
				const pieces = Math.min(wanted, words.length);
				const broken = breakInto(words, pieces, Infinity, measure);
				expect(broken).toHaveLength(pieces);
				expect(broken.flatMap(wordsOf)).toEqual(words);
			}),
		);
	});
});
