/** Fits words into a box: they shrink a little, then wrap, then shrink for good. They never run out of it. */

export interface TextLayout {
	/** Pixels. */
	size: number;
	lines: string[];
}

/** Distance of lines in parts of the size. */
export const LINE_HEIGHT = 1.15;
/** Down to this part of the wanted size a text stays on one line. */
const SHRINK_FIRST = 0.7;

/**
 * @param width of the box in pixels, above 0
 * @param height of the box in pixels
 * @param wanted size in pixels, when there is room
 * @param measure width of a text at a size of one pixel; it grows in proportion
 */
export function layOutText(
	text: string,
	width: number,
	height: number,
	wanted: number,
	measure: (text: string) => number,
): TextLayout {
	const words = text.split(/\s+/).filter((word) => word !== '');
	if (words.length === 0) return { size: wanted, lines: [] };
	let best: TextLayout = { size: 0, lines: [words.join(' ')] };
	for (let count = 1; count <= Math.min(words.length, 6); count++) {
		const lines = balanced(words, count, measure);
		const widest = Math.max(...lines.map(measure));
		const size = Math.min(wanted, widest > 0 ? width / widest : wanted, height / (lines.length * LINE_HEIGHT));
		if (count === 1 && size >= wanted * SHRINK_FIRST) return { size, lines };
		// One more line must be worth it.
		if (size > best.size * 1.05) best = { size, lines };
	}
	return best;
}

/** Words on so many lines at most, as equally long as can be: the narrowest width that does it. */
function balanced(words: readonly string[], count: number, measure: (text: string) => number): string[] {
	const wrap = (limit: number) => {
		const lines: string[] = [];
		for (const word of words) {
			const last = lines.at(-1);
			if (last !== undefined && measure(`${last} ${word}`) <= limit) lines[lines.length - 1] = `${last} ${word}`;
			else lines.push(word);
		}
		return lines;
	};
	let [narrow, wide] = [Math.max(...words.map(measure)), measure(words.join(' '))];
	for (let i = 0; i < 12; i++) {
		const middle = (narrow + wide) / 2;
		if (wrap(middle).length <= count) wide = middle;
		else narrow = middle;
	}
	// Rounding while measuring must not make one line more.
	const lines = wrap(wide * 1.0001);
	return lines.length <= count ? lines : [words.join(' ')];
}
