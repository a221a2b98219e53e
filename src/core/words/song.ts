/** Words that are sung or read aloud, as the organisation keeps them for all its events. */
import * as v from 'valibot';
import { nameSchema } from '../show/basics.ts';

export const SECTIONS = ['verse', 'chorus', 'preChorus', 'bridge', 'intro', 'ending', 'other'] as const;
export type SectionKind = (typeof SECTIONS)[number];

/** As many as a hymn with all its verses has, and more. */
export const MOST_SECTIONS = 60;
export const MOST_LINES = 80;
/** A slide shows no more than two languages; a song may be kept in more. */
export const MOST_LANGUAGES = 6;
export const MOST_IN_ORDER = 120;
const lineSchema = v.pipe(v.string(), v.maxLength(400));
const languageSchema = v.pipe(v.string(), v.regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/));

export const sectionSchema = v.object({
	kind: v.picklist(SECTIONS),
	/** From 1; 0 for the only one of its kind. */
	number: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(99)),
	/**
	 * Each line in all languages of the song, in their order; '' where a language has no such line. Lines that are empty
	 * in all languages do not occur.
	 */
	lines: v.pipe(v.array(v.pipe(v.array(lineSchema), v.maxLength(MOST_LANGUAGES))), v.maxLength(MOST_LINES)),
});

export const songSchema = v.object({
	/** A text is read aloud: a reading, a poem. */
	kind: v.picklist(['song', 'text']),
	title: nameSchema,
	/** Of words and tune. */
	authors: v.pipe(v.array(v.pipe(v.string(), v.minLength(1), v.maxLength(160))), v.maxLength(20)),
	copyright: v.pipe(v.string(), v.maxLength(400)),
	/** Number by which a collecting society knows the song; '' when it is not known. */
	licence: v.pipe(v.string(), v.maxLength(40)),
	/** Where a text is from: book, chapter, edition. */
	source: v.pipe(v.string(), v.maxLength(400)),
	/** BCP 47 tags, the first one is sung when there is no other wish; '' is not known. */
	languages: v.pipe(v.array(v.union([v.literal(''), languageSchema])), v.minLength(1), v.maxLength(MOST_LANGUAGES)),
	sections: v.pipe(v.array(sectionSchema), v.maxLength(MOST_SECTIONS)),
	/** Indices of sections as they are sung, with repeats; as they stand when empty. */
	order: v.pipe(
		v.array(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(MOST_SECTIONS - 1))),
		v.maxLength(MOST_IN_ORDER),
	),
});

export type Section = v.InferOutput<typeof sectionSchema>;
export type Song = v.InferOutput<typeof songSchema>;

/** The sections in the order in which they are sung; what the order names and is not there is left out. */
export function sungSections({ sections, order }: Pick<Song, 'sections' | 'order'>): Section[] {
	if (order.length === 0) return [...sections];
	return order.map((index) => sections[index]).filter((section) => section !== undefined);
}

/** What a list of songs shows of one. */
export type SongLine = Pick<Song, 'kind' | 'title' | 'authors' | 'languages'> & {
	id: string;
	/** The first line that is sung. */
	begins: string;
	/** Milliseconds since 1970. */
	changedAt: number;
};

/** A text as it is compared: lower case, without accents, punctuation and doubled blanks. */
export function plainForm(text: string): string {
	return text
		.normalize('NFD')
		.replace(/\p{M}+/gu, '')
		.toLowerCase()
		.replace(/[’'`]/g, '')
		.replace(/[^\p{L}\p{N}]+/gu, ' ')
		.trim();
}

/** All that a search looks through: title, authors, and all lines; one per row. */
export function searchText(song: Pick<Song, 'title' | 'authors' | 'sections'>): string {
	const lines = song.sections.flatMap((section) => section.lines.flat());
	return [song.title, ...song.authors, ...lines]
		.map(plainForm)
		.filter((row) => row !== '')
		.join('\n');
}

/** Words of a text in threes, by which texts are compared. */
function threes(text: string): Set<string> {
	const words = plainForm(text).split(' ');
	if (words.length < 3) return new Set([words.join(' ')]);
	return new Set(words.slice(2).map((_, i) => words.slice(i, i + 3).join(' ')));
}

/**
 * How much of the shorter song's words the other has too, from 0 to 1 (overlap of word trigrams, M. Szymkiewicz and
 * G. Simpson): the same song with a verse more, other punctuation or a typo is near 1.
 */
export function likeness(one: Pick<Song, 'sections'>, other: Pick<Song, 'sections'>): number {
	const textOf = ({ sections }: Pick<Song, 'sections'>) =>
		sections.flatMap((section) => section.lines.map((line) => line[0] ?? '')).join(' ');
	const [a, b] = [threes(textOf(one)), threes(textOf(other))];
	const shared = [...a].filter((three) => b.has(three)).length;
	return shared / Math.min(a.size, b.size);
}

/** Two songs this alike are the same one, kept twice. */
export const SAME_SONG = 0.7;
