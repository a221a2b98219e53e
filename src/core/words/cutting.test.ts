import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutSong, heightOf, type Cut, type Fit, type Slide } from './cutting.ts';
import type { Section, Song } from './song.ts';
import { wordsOf } from './wrapping.ts';

/** Letters half as wide as high, as they are about. */
const measure = (text: string) => 0.5 * text.length;
const hall: Fit = { width: 1700, height: 900, size: 96, lines: 0, languages: 'first' };
const stream: Fit = { width: 1500, height: 200, size: 60, lines: 2, languages: 'first' };
const verse = (number: number, ...lines: string[]): Section => ({
	kind: 'verse',
	number,
	lines: lines.map((line) => line.split(' | ')),
});
const song = (...sections: Section[]): Pick<Song, 'sections' | 'order'> => ({ sections, order: [] });
const texts = ({ rows }: Slide, language = 0) =>
	rows.filter((row) => row.language === language).map(({ text }) => text);

const lamp = song(
	verse(
		1,
		'When evening comes down on the high grey stone,',
		'and the path goes dark between cairn and cairn,',
		'there is one small flame that is not alone:',
		'it was lit by hands that have climbed and gone.',
	),
);

const letters = fc.stringMatching(/^[A-Za-zäß’]{1,14}[,.;:]?$/);
const lineOf = (languages: number) =>
	fc.array(
		fc.array(letters, { minLength: 1, maxLength: 14 }).map((words) => words.join(' ')),
		{ minLength: languages, maxLength: languages },
	);
const someSong = fc.integer({ min: 1, max: 2 }).chain((languages) =>
	fc.record({
		sections: fc.array(
			fc
				.array(lineOf(languages), { minLength: 1, maxLength: 9 })
				.map((lines): Section => ({ kind: 'verse', number: 1, lines })),
			{ minLength: 1, maxLength: 4 },
		),
		order: fc.array(fc.integer({ min: 0, max: 3 }), { maxLength: 6 }),
	}),
);
const someFit = fc.record<Fit>({
	width: fc.integer({ min: 100, max: 3000 }),
	height: fc.integer({ min: 40, max: 1500 }),
	size: fc.integer({ min: 8, max: 400 }),
	lines: fc.integer({ min: 0, max: 6 }),
	languages: fc.constantFrom('first', 'second', 'beneath', 'beside'),
});

/** All words that a row of slides shows, in the language that is shown first or beside it. */
const shown = (slides: readonly Slide[], language: 0 | 1) =>
	slides.flatMap((slide) => texts(slide, language).flatMap(wordsOf));

function expectInside(slide: Slide, fit: Fit): void {
	const columns = fit.languages === 'beside' ? 2 : 1;
	for (const { text, language } of slide.rows) {
		const size = fit.languages === 'beneath' && language === 1 ? 0.75 * slide.size : slide.size;
		expect(measure(text) * size * columns).toBeLessThanOrEqual(fit.width + 1e-6);
	}
	expect(heightOf(slide.rows, fit, slide.size)).toBeLessThanOrEqual(fit.height + 1e-6);
	expect(slide.size).toBeLessThanOrEqual(fit.size);
}

describe('a song, cut for hall and stream', () => {
	it('shows the hall a whole verse, and viewers two lines of it at a time', () => {
		const { slides, steps } = cutSong(lamp, hall, stream, measure);
		expect(slides).toHaveLength(1);
		expect(slides[0]).toMatchObject({ firstStep: 0, steps: 2 });
		expect(steps.map((step) => texts(step))).toEqual([
			['When evening comes down on the high grey stone,', 'and the path goes dark between cairn and cairn,'],
			['there is one small flame that is not alone:', 'it was lit by hands that have climbed and gone.'],
		]);
	});

	it('cuts a verse that is too high for the hall in halves, and not three lines and one', () => {
		const { slides, steps } = cutSong(lamp, { ...hall, width: 2400, height: 250 }, { ...stream, lines: 1 }, measure);
		expect(slides.map((slide) => texts(slide).length)).toEqual([2, 2]);
		expect(steps.map(({ slide }) => slide)).toEqual([0, 0, 1, 1]);
	});

	it('cuts at the end of a sentence where it can', () => {
		const uneven = song(verse(1, 'One line and', 'a second one.', 'A third one', 'goes on, and', 'ends.'));
		const { slides } = cutSong(uneven, { ...hall, lines: 3 }, stream, measure);
		expect(slides.map((slide) => texts(slide))).toEqual([
			['One line and', 'a second one.'],
			['A third one', 'goes on, and', 'ends.'],
		]);
	});

	it('shows a long line as two steps, while the hall sees all of it', () => {
		const long = song(verse(1, 'Somebody young will come to the door and carry the water, as we have done before'));
		const { slides, steps } = cutSong(long, hall, { ...stream, width: 1300, lines: 1 }, measure);
		expect(slides).toHaveLength(1);
		expect(steps.map((step) => texts(step).join(' / '))).toEqual([
			'Somebody young will come to the door',
			'and carry the water, as we have done before',
		]);
	});

	it('keeps two languages together, one beneath the other or side by side', () => {
		const both = song(
			verse(
				1,
				'Carry the water up from the spring | Trag das Wasser vom Quell herauf',
				'two on the yoke | zwei auf dem Joch',
			),
		);
		const beneath = cutSong(
			both,
			{ ...hall, languages: 'beneath' },
			{ ...stream, lines: 1, languages: 'second' },
			measure,
		);
		expect(beneath.slides[0]!.rows).toEqual([
			{ text: 'Carry the water up from the spring', language: 0 },
			{ text: 'Trag das Wasser vom Quell herauf', language: 1 },
			{ text: 'two on the yoke', language: 0 },
			{ text: 'zwei auf dem Joch', language: 1 },
		]);
		expect(beneath.steps.map((step) => texts(step))).toEqual([
			['Trag das Wasser vom Quell herauf'],
			['zwei auf dem Joch'],
		]);
		const beside = cutSong(both, { ...hall, size: 60, languages: 'beside' }, stream, measure);
		expect(texts(beside.slides[0]!, 1)[0]).toMatch(/^Trag das Wasser/);
		expectInside(beside.slides[0]!, { ...hall, size: 60, languages: 'beside' });
	});

	it('shows every word once and in order, nothing over the edge, and goes on in step, whatever the size', () => {
		fc.assert(
			fc.property(someSong, someFit, someFit, (words, hallFit, streamFit) => {
				const cut = cutSong(words, hallFit, streamFit, measure);
				for (const [slides, fit] of [
					[cut.slides, hallFit],
					[cut.steps, streamFit],
				] as const) {
					const sung = (language: number) =>
						cut.sections.flatMap(({ lines }) => lines.flatMap((line) => wordsOf(line[language] ?? '')));
					const hasSecond = words.sections[0]!.lines[0]!.length > 1;
					if (fit.languages === 'second') expect(shown(slides, 0)).toEqual(sung(hasSecond ? 1 : 0));
					else expect(shown(slides, 0)).toEqual(sung(0));
					if (fit.languages === 'beneath' || fit.languages === 'beside') expect(shown(slides, 1)).toEqual(sung(1));
					for (const slide of slides) expectInside(slide, fit);
				}
				expectInStep(cut);
			}),
		);
	});
});

/** Each slide of the hall stands for whole steps, which show the same words. */
function expectInStep({ slides, steps }: Cut): void {
	let step = 0;
	slides.forEach((slide, index) => {
		expect(slide.firstStep).toBe(step);
		expect(slide.steps).toBeGreaterThan(0);
		for (let i = 0; i < slide.steps; i++, step++) {
			expect(steps[step]!.slide).toBe(index);
			expect(steps[step]!.section).toBe(slide.section);
		}
	});
	expect(step).toBe(steps.length);
}
