/**
 * Breaks one line of words into rows, where people breathe: after a comma rather than before "of", and no word alone.
 * All ways are compared by dynamic programming over the words (D. Knuth and M. Plass, "Breaking paragraphs into lines",
 * Software: Practice and Experience 11, 1981), with costs of our own.
 */

/** Width of a text at a size of 1; it grows in proportion. */
export type Measure = (text: string) => number;

export function wordsOf(text: string): string[] {
	return text.split(/\s+/u).filter((word) => word !== '');
}

/** What a break costs, in shares of a row left empty. */
const COST = { afterSentence: -0.3, afterPhrase: -0.25, beforeClause: -0.15, afterSmallWord: 0.3, elsewhere: 0 };
/** A row of one word where there could be two is worse than any other break. */
const LONE = 100;
/** A row over the edge is worse still: only a word wider than the row is one. */
const OVER = 1e6;

/** Words that belong to the next one. */
const SMALL = new Set(
	(
		'a an the of in on at to by for with from and or but nor as if my your his her its our their this that these those no ' +
		'so is are was o oh the le la les de du des un une et ou mon ma der die das den dem des ein eine und oder mein dein'
	).split(' '),
);

/** Words that begin a clause. */
const CLAUSE = new Set(
	'that and but who whom when where which till until because if for und dass der die aber wenn weil et que qui mais quand'.split(
		' ',
	),
);

/** How well a break between these words suits who sings; less is better. */
function breakCost(word: string, next: string): number {
	if (/[.!?…:;]["”’»)]*$/u.test(word)) return COST.afterSentence;
	if (/[,–—]["”’»)]*$/u.test(word)) return COST.afterPhrase;
	if (SMALL.has(word.toLowerCase())) return COST.afterSmallWord;
	return CLAUSE.has(next.toLowerCase()) ? COST.beforeClause : COST.elsewhere;
}

interface Way {
	cost: number;
	/** Where each row ends, as a count of words. */
	ends: number[];
}

/**
 * @param pieces into how many, at most the number of words
 * @param widest how wide a piece should be at most, at a size of 1; pieces are as alike as can be when it is infinite
 * @returns words of each piece, joined; every word once, in order
 */
export function breakInto(words: readonly string[], pieces: number, widest: number, measure: Measure): string[] {
	const count = words.length;
	const whole = measure(words.join(' '));
	// Rows that are alike look best, and none is empty.
	const wanted = whole / pieces;
	/** By pieces so far, then by words so far. */
	let ways: (Way | null)[] = Array.from({ length: count + 1 }, (_, i) => (i === 0 ? { cost: 0, ends: [] } : null));
	for (let piece = 1; piece <= pieces; piece++) {
		const next: (Way | null)[] = Array.from({ length: count + 1 }, () => null);
		for (let start = 0; start < count; start++) {
			const way = ways[start];
			if (!way) continue;
			for (let end = start + 1; end <= count - (pieces - piece); end++) {
				if (piece === pieces && end < count) continue;
				const width = measure(words.slice(start, end).join(' '));
				const isLone = end - start === 1 && count > 1;
				const uneven = (width - wanted) / Math.max(wanted, 1e-9);
				const over = width > widest ? OVER * (width / widest) : 0;
				const cost =
					way.cost +
					uneven * uneven +
					over +
					(isLone ? LONE : 0) +
					(end < count ? breakCost(words[end - 1]!, words[end]!) : 0);
				if (cost < (next[end]?.cost ?? Infinity)) next[end] = { cost, ends: [...way.ends, end] };
			}
		}
		ways = next;
	}
	const { ends } = ways[count]!;
	return ends.map((end, i) => words.slice(i === 0 ? 0 : ends[i - 1], end).join(' '));
}

/**
 * @param widest a row, at a size of 1
 * @returns as few rows as can be; every word once, in order. A row is wider than `widest` only when it is one word.
 */
export function wrap(text: string, widest: number, measure: Measure): string[] {
	const words = wordsOf(text);
	if (words.length === 0) return [];
	const least = leastRows(words, widest, measure);
	return breakInto(words, least, widest, measure);
}

/** How many rows it takes, filled one after the other. */
function leastRows(words: readonly string[], widest: number, measure: Measure): number {
	let rows = 1;
	let row = words[0]!;
	for (const word of words.slice(1)) {
		const longer = `${row} ${word}`;
		if (measure(longer) <= widest) row = longer;
		else {
			rows++;
			row = word;
		}
	}
	return rows;
}
