/**
 * Cuts what is sung into slides for the hall and lines for the stream, which go on together: a slide of the hall is made
 * of whole steps, and each step shows one line or two to viewers.
 *
 * A line of the song is a piece, or several where it does not fit. Pieces are put together to slides, and those of a
 * slide to steps. Both times all ways are compared, as in wrapping.ts: few and alike ones, that end where a sentence does.
 */
import * as v from 'valibot';
import { within, wholeWithin } from '../show/basics.ts';
import { sungSections, type Section, type Song } from './song.ts';
import { breakInto, wordsOf, wrap, type Measure } from './wrapping.ts';

/** Distance of rows in parts of the size. */
export const ROW_HEIGHT = 1.25;
/** The second of two languages that stand one beneath the other is so much smaller. */
export const BENEATH_SIZE = 0.75;

export const fitSchema = v.object({
	/** Of the room for words, in pixels of a picture 1080 high. */
	width: within(100, 8000),
	height: within(40, 4000),
	/** Of the letters, likewise: smaller only where not one word fits. */
	size: within(8, 600),
	/** Rows at a time in one language, at most; all of a section when 0, if it can be read then. */
	lines: wholeWithin(0, 12),
	/** Which languages: the first, the second, or both, which stand so. */
	languages: v.picklist(['first', 'second', 'beneath', 'beside']),
});
/** How much fits where. */
export type Fit = v.InferOutput<typeof fitSchema>;

/** One row as it is shown. */
export interface Row {
	text: string;
	/** 0 for the language above or left, 1 for the other. */
	language: 0 | 1;
}

export interface Slide {
	/** Rows from above; those of both languages mixed when one stands beneath the other. */
	rows: Row[];
	/** Of the letters in pixels, at most as wanted. */
	size: number;
}

export interface HallSlide extends Slide {
	/** Index among the sections in the order of singing. */
	section: number;
	/** Its first step, and how many it has. */
	firstStep: number;
	steps: number;
}

/** What one press brings. */
export interface Step extends Slide {
	section: number;
	/** Index of the hall's slide that stands meanwhile. */
	slide: number;
}

export interface Cut {
	/** As they are sung. */
	sections: Section[];
	slides: HallSlide[];
	steps: Step[];
}

/** A part of a line of the song that is not cut further; its texts by language. */
interface Piece {
	texts: string[];
	/** Index of the line in its section. */
	line: number;
	/** False when the line is there in the first language only. */
	hasSecond: boolean;
	/** True for the last piece of its line. */
	endsLine: boolean;
}

/** Cuts all of a song. @param measure of the font that both are shown in */
export function cutSong(song: Pick<Song, 'sections' | 'order'>, hall: Fit, stream: Fit, measure: Measure): Cut {
	const cut: Cut = { sections: sungSections(song), slides: [], steps: [] };
	cut.sections.forEach((section, index) => {
		const pieces = piecesOf(section, hall, stream, measure);
		for (const onSlide of group(pieces, hall, measure)) {
			const slide = cut.slides.length;
			const firstStep = cut.steps.length;
			for (const onStep of group(onSlide, stream, measure))
				cut.steps.push({ ...layOut(onStep, stream, measure), section: index, slide });
			const steps = cut.steps.length - firstStep;
			cut.slides.push({ ...layOut(onSlide, hall, measure), section: index, firstStep, steps });
		}
	});
	// Letters that grow and shrink from verse to verse are harder to read than small ones.
	const size = Math.min(...cut.slides.map((slide) => slide.size));
	return { ...cut, slides: cut.slides.map((slide) => ({ ...slide, size })) };
}

function piecesOf(section: Section, hall: Fit, stream: Fit, measure: Measure): Piece[] {
	return section.lines.flatMap((texts, line) => {
		const words = texts.map(wordsOf);
		const most = Math.max(1, ...words.map(({ length }) => length));
		let count = 1;
		const into = () =>
			Array.from({ length: count }, (_, i): Piece => ({
				texts: broken.map((parts) => parts[i] ?? ''),
				line,
				hasSecond: (texts[1] ?? '') !== '',
				endsLine: i === count - 1,
			}));
		let broken = words.map((each) => [each.join(' ')]);
		while (count < most && !into().every((piece) => fits([piece], hall, measure) && fits([piece], stream, measure))) {
			count++;
			broken = words.map((each) =>
				each.length === 0 ? [] : breakInto(each, Math.min(count, each.length), Infinity, measure),
			);
		}
		return into();
	});
}

/** Rows of pieces at the wanted size. */
function rowsOf(pieces: readonly Piece[], fit: Fit, measure: Measure, size = fit.size): Row[] {
	const rows: Row[] = [];
	const width = columnOf(fit);
	// Pieces of one line that stand on one slide are one line there.
	for (const { texts, hasSecond } of linesOf(pieces)) {
		const add = (language: 0 | 1, text: string, at: number) =>
			wrap(text, width / at, measure).forEach((row) => rows.push({ text: row, language }));
		// What is missing in the second language is shown in the first.
		add(0, texts[fit.languages === 'second' && hasSecond ? 1 : 0] ?? '', size);
		if (fit.languages === 'beneath') add(1, texts[1] ?? '', size * BENEATH_SIZE);
		if (fit.languages === 'beside') add(1, texts[1] ?? '', size);
	}
	return rows;
}

/** Width of a column; two of them have a gap between. */
export const columnOf = (fit: Pick<Fit, 'languages' | 'width'>) =>
	fit.languages === 'beside' ? fit.width / 2.1 : fit.width;

function linesOf(pieces: readonly Piece[]): Piece[] {
	const lines: Piece[] = [];
	for (const piece of pieces) {
		const before = lines.at(-1);
		if (before?.line !== piece.line) lines.push(piece);
		else
			lines[lines.length - 1] = { ...piece, texts: piece.texts.map((text, i) => `${before.texts[i]} ${text}`.trim()) };
	}
	return lines;
}

/** How high rows are together, in pixels. */
export function heightOf(rows: readonly Row[], fit: Pick<Fit, 'languages'>, size: number): number {
	const of = (language: 0 | 1) => rows.filter((row) => row.language === language).length;
	if (fit.languages === 'beside') return Math.max(of(0), of(1)) * ROW_HEIGHT * size;
	return (of(0) + of(1) * BENEATH_SIZE) * ROW_HEIGHT * size;
}

/** Width of the widest row in pixels. */
function widthOf(rows: readonly Row[], fit: Fit, size: number, measure: Measure): number {
	const scale = (row: Row) => (fit.languages === 'beneath' && row.language === 1 ? BENEATH_SIZE : 1);
	return Math.max(0, ...rows.map((row) => measure(row.text) * size * scale(row)));
}

function fits(pieces: readonly Piece[], fit: Fit, measure: Measure): boolean {
	const rows = rowsOf(pieces, fit, measure);
	const inLanguage = (language: 0 | 1) => rows.filter((row) => row.language === language).length;
	if (fit.lines > 0 && Math.max(inLanguage(0), inLanguage(1)) > fit.lines) return false;
	const width = columnOf(fit);
	return heightOf(rows, fit, fit.size) <= fit.height && widthOf(rows, fit, fit.size, measure) <= width;
}

/** Rows and the size at which none of them is over an edge. */
function layOut(pieces: readonly Piece[], fit: Fit, measure: Measure): Slide {
	let size = fit.size;
	const width = columnOf(fit);
	for (;;) {
		const rows = rowsOf(pieces, fit, measure, size);
		const tooWide = widthOf(rows, fit, size, measure) / width;
		const tooHigh = heightOf(rows, fit, size) / fit.height;
		if (tooWide <= 1 && tooHigh <= 1) return { rows, size };
		// Smaller letters need fewer rows; the next look says whether that is enough.
		size *= Math.min(0.97, Math.max(0.5, 1 / Math.max(tooWide, tooHigh)));
	}
}

/** A section stays whole when its letters are at least this part of the wanted size. */
const WHOLE_AT = 0.7;
const ENDS_SENTENCE = -0.6;
const ENDS_PHRASE = -0.3;
/** A line of the song goes on after this slide. */
const WITHIN_LINE = 2;
/** One word alone on a slide. */
const LONE_WORD = 5;

/** How well a slide ends with this piece; less is better. */
function endCost(piece: Piece): number {
	if (!piece.endsLine) return WITHIN_LINE;
	const text = piece.texts[0] ?? '';
	if (/[.!?…]["”’»)]*$/u.test(text)) return ENDS_SENTENCE;
	return /[,;:–—]["”’»)]*$/u.test(text) ? ENDS_PHRASE : 0;
}

/** Puts pieces together to what is shown at a time; each group fits, or is one piece. */
function group(pieces: readonly Piece[], fit: Fit, measure: Measure): Piece[][] {
	interface Way {
		groups: number;
		cost: number;
		ends: number[];
	}
	const count = pieces.length;
	if (count === 0) return [];
	if (fit.lines === 0 && fits(pieces, { ...fit, size: WHOLE_AT * fit.size }, measure)) return [[...pieces]];
	const least = leastGroups(pieces, fit, measure);
	const wanted = count / least;
	const ways: (Way | null)[] = [{ groups: 0, cost: 0, ends: [] }];
	for (let end = 1; end <= count; end++) {
		let best: Way | null = null;
		for (let start = end - 1; start >= 0; start--) {
			const shown = pieces.slice(start, end);
			if (shown.length > 1 && !fits(shown, fit, measure)) break;
			const way = ways[start];
			if (!way) continue;
			const uneven = (shown.length - wanted) / wanted;
			const isLone = count > 1 && shown.length === 1 && wordsOf(shown[0]!.texts[0] ?? '').length === 1;
			const cost = way.cost + uneven * uneven + (end < count ? endCost(shown.at(-1)!) : 0) + (isLone ? LONE_WORD : 0);
			const groups = way.groups + 1;
			// A slide more than need be costs as much as a break in the middle of a line.
			if (!best || cost + WITHIN_LINE * groups < best.cost + WITHIN_LINE * best.groups)
				best = { groups, cost, ends: [...way.ends, end] };
		}
		ways.push(best);
	}
	const { ends } = ways[count]!;
	return ends.map((end, i) => pieces.slice(i === 0 ? 0 : ends[i - 1], end));
}

function leastGroups(pieces: readonly Piece[], fit: Fit, measure: Measure): number {
	let groups = 1;
	let start = 0;
	for (let end = 2; end <= pieces.length; end++) {
		if (fits(pieces.slice(start, end), fit, measure)) continue;
		groups++;
		start = end - 1;
	}
	return groups;
}
