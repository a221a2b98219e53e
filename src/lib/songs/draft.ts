/** A song as its form has it: its words as text, as people type them. */
import * as v from 'valibot';
import { orderOf, readSections, writeOrder, writeSections } from '../../core/words/formats/plain.ts';
import { MOST_LANGUAGES, songSchema, type Section, type Song } from '../../core/words/song.ts';

export interface Draft {
	kind: Song['kind'];
	title: string;
	/** With commas between them. */
	authors: string;
	copyright: string;
	licence: string;
	source: string;
	languages: string[];
	/** By language. */
	texts: string[];
	/** "v1 c v2 c". */
	order: string;
}

export function draftOf(song: Song): Draft {
	const { kind, title, copyright, licence, source, languages, sections } = song;
	const texts = languages.map((_, i) => writeSections(sections, i));
	return {
		kind,
		title,
		authors: song.authors.join(', '),
		copyright,
		licence,
		source,
		languages,
		texts,
		order: writeOrder(song),
	};
}

export function emptyDraft(kind: Song['kind']): Draft {
	return {
		...{ kind, title: '', authors: '', copyright: '', licence: '', source: '' },
		...{ languages: [''], texts: [''], order: '' },
	};
}

/** What is wrong with a form, by the field's name. */
export type DraftProblem = { field: 'title' | 'texts' | 'languages' } | { field: 'order'; names: string };

/** @returns the song, as far as it can be made, and what keeps it from being stored */
export function songOfDraft(draft: Draft): { song: Song; problem: DraftProblem | null } {
	const byLanguage = draft.texts.map((text) => readSections(text).sections);
	const sections = (byLanguage[0] ?? []).map((section): Section => {
		const others = byLanguage.slice(1).map((all) => sameIn(all, section, byLanguage[0]!));
		const most = Math.max(section.lines.length, ...others.map((other) => other?.lines.length ?? 0));
		const lines = Array.from({ length: most }, (_, i) => [section, ...others].map((each) => each?.lines[i]?.[0] ?? ''));
		return { ...section, lines };
	});
	const typed = draft.order.trim();
	const repeated = readSections(draft.texts[0] ?? '').order;
	const order = typed === '' ? repeated : orderOf(typed, sections);
	const song: Song = {
		kind: draft.kind,
		title: draft.title.trim(),
		authors: draft.authors
			.split(',')
			.map((author) => author.trim())
			.filter((author) => author !== ''),
		copyright: draft.copyright.trim(),
		licence: draft.licence.trim(),
		source: draft.source.trim(),
		languages: draft.languages.map((language) => language.trim()).slice(0, MOST_LANGUAGES),
		sections,
		order,
	};
	return { song, problem: problemOf(song, typed) };
}

function problemOf(song: Song, typedOrder: string): DraftProblem | null {
	if (song.title === '') return { field: 'title' };
	const unknown = typedOrder
		.split(/[\s,;]+/)
		.filter((name) => name !== '' && orderOf(name, song.sections).length === 0);
	if (unknown.length > 0) return { field: 'order', names: unknown.join(', ') };
	const parsed = v.safeParse(songSchema, song);
	if (parsed.success) return null;
	const field = v.getDotPath(parsed.issues[0])?.split('.')[0];
	return { field: field === 'languages' ? 'languages' : field === 'title' ? 'title' : 'texts' };
}

/** The section of another language that goes with one: of the same name, or at the same place. */
function sameIn(others: readonly Section[], section: Section, all: readonly Section[]): Section | undefined {
	return (
		others.find(({ kind, number }) => kind === section.kind && number === section.number) ??
		others[all.indexOf(section)]
	);
}
