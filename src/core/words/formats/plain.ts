/**
 * Songs as plain text: sections with blank lines between them, headings where somebody wrote them, what is known of the
 * song above all ("Title: …"). A section that comes again word for word, or whose heading stands alone, is sung again.
 */
import type { Section, SectionKind, Song } from '../song.ts';
import { readHeading, WordsUnreadable, type SectionName } from './headings.ts';
import { songOf } from './song-of.ts';

const KNOWN = {
	title: ['title'],
	authors: ['author', 'authors', 'by', 'words', 'music', 'words and music', 'artist'],
	copyright: ['copyright', '©', '(c)'],
	licence: ['licence', 'license', 'song number', 'licence number'],
	source: ['source', 'from'],
	order: ['order', 'sequence'],
} as const;
type KnownField = keyof typeof KNOWN;

function readKnown(row: string): { field: KnownField; value: string } | null {
	const match = /^\s*(?<name>[\p{L} ©()]{1,20}?)\s*:\s+(?<value>\S.*)$/u.exec(row);
	if (!match) return null;
	const name = match.groups!.name!.toLowerCase();
	const found = Object.entries(KNOWN).find(([, names]) => (names as readonly string[]).includes(name));
	return found ? { field: found[0] as KnownField, value: match.groups!.value!.trim() } : null;
}

/**
 * @param text of a whole file
 * @param name of the file without its ending: the title when the text has none
 * @throws WordsUnreadable
 */
export function readPlain(text: string, name: string): Song {
	const rows = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
	const known: Partial<Record<KnownField, string[]>> = {};
	let at = 0;
	for (; at < rows.length; at++) {
		const row = rows[at]!;
		const found = readKnown(row);
		if (found) (known[found.field] ??= []).push(found.value);
		else if (row.trim() !== '') break;
	}
	const blocks = blocksOf(rows.slice(at));
	// One row and a blank one at the top, and no title yet: that is the title.
	const first = blocks[0];
	if (!known.title && first && blocks.length > 1 && first.lines.length === 1 && !first.heading) {
		known.title = first.lines;
		blocks.shift();
	}
	const { sections, order } = joinRepeats(blocks);
	if (sections.length === 0) throw new WordsUnreadable({ code: 'noWords' });
	return songOf({
		title: known.title?.[0] ?? name,
		authors: (known.authors ?? []).flatMap((each) => each.split(/\s*[;&]\s*|,\s+/)),
		copyright: known.copyright?.join('; ') ?? '',
		licence: known.licence?.[0] ?? '',
		source: known.source?.[0] ?? '',
		sections,
		order: known.order ? orderOf(known.order[0]!, sections) : order,
	});
}

/** Sections of a text that is nothing but words and headings. */
export function readSections(text: string): { sections: Section[]; order: number[] } {
	return joinRepeats(blocksOf(text.split(/\r\n|\r|\n/)));
}

interface Block {
	heading: (SectionName & { times: number }) | null;
	lines: string[];
}

function blocksOf(rows: readonly string[]): Block[] {
	const blocks: Block[] = [];
	let open: Block | null = null;
	for (const row of rows) {
		const heading = readHeading(row);
		if (heading) blocks.push((open = { heading, lines: [] }));
		else if (row.trim() === '') {
			// A heading may have a blank line below it.
			if (open && (open.lines.length > 0 || !open.heading)) open = null;
		} else {
			if (!open) blocks.push((open = { heading: null, lines: [] }));
			open.lines.push(row.trim().replace(/\s+/g, ' '));
		}
	}
	return blocks;
}

/** Sections that come again are kept once. */
export function joinRepeats(blocks: readonly Block[]): { sections: Section[]; order: number[] } {
	const sections: Section[] = [];
	const order: number[] = [];
	let verses = 0;
	for (const { heading, lines } of blocks) {
		const same = sections.findIndex(
			(section) =>
				(lines.length > 0 && section.lines.map((line) => line[0]).join('\n') === lines.join('\n')) ||
				(lines.length === 0 &&
					section.kind === heading?.kind &&
					(section.number === heading.number || !heading.number)),
		);
		let index = same;
		if (index < 0) {
			if (lines.length === 0) continue;
			const kind = heading?.kind ?? 'verse';
			const number = heading?.number || (kind === 'verse' ? verses + 1 : 0);
			if (kind === 'verse') verses = number;
			index = sections.push({ kind, number, lines: lines.map((line) => [line]) }) - 1;
		}
		for (let i = 0; i < (heading?.times ?? 1); i++) order.push(index);
	}
	const isPlain = order.length === sections.length && order.every((index, i) => index === i);
	return { sections, order: isPlain ? [] : order };
}

/** @param written "v1 c v2 c", with blanks or commas */
export function orderOf(written: string, sections: readonly SectionName[]): number[] {
	return written
		.split(/[\s,;]+/)
		.map((word) => readHeading(`[${word}]`))
		.map((name) =>
			name === null
				? -1
				: sections.findIndex(({ kind, number }) => kind === name.kind && (number === name.number || !name.number)),
		)
		.filter((index) => index >= 0);
}

const TITLES: Readonly<Record<SectionKind, string>> = {
	verse: 'Verse',
	chorus: 'Chorus',
	preChorus: 'Pre-chorus',
	bridge: 'Bridge',
	intro: 'Intro',
	ending: 'Ending',
	other: 'Part',
};
const SHORT: Readonly<Record<SectionKind, string>> = {
	...{ verse: 'v', chorus: 'c', preChorus: 'p', bridge: 'b', intro: 'i', ending: 'e', other: 'o' },
};

/** "Verse 2". */
export const headingOf = ({ kind, number }: SectionName) => `${TITLES[kind]}${number ? ` ${number}` : ''}`;
/** "v2". */
export const shortHeadingOf = ({ kind, number }: SectionName) => `${SHORT[kind]}${number || ''}`;

/** The words of all sections in one language, with a heading over each, as readPlain reads them. */
export function writeSections(sections: readonly Section[], language = 0): string {
	return sections
		.map((section) => [headingOf(section), ...section.lines.map((line) => line[language] ?? '')].join('\n').trimEnd())
		.join('\n\n');
}

/** "v1 c v2 c"; '' where they are sung as they stand. */
export function writeOrder({ sections, order }: Pick<Song, 'sections' | 'order'>): string {
	return order
		.flatMap((index) => sections[index] ?? [])
		.map(shortHeadingOf)
		.join(' ');
}
