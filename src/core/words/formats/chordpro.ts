/**
 * Songs in ChordPro, a text format for chords above words, which are taken off. Directives as in its reference,
 * version 6; unknown ones are left out, as the reference asks for.
 */
import type { Song } from '../song.ts';
import { readHeading, WordsUnreadable, type SectionName } from './headings.ts';
import { joinRepeats } from './plain.ts';
import { songOf } from './song-of.ts';

/** Directives that begin something which is not sung. */
const NOT_SUNG = new Set(['tab', 'grid', 'abc', 'ly', 'svg', 'textblock']);
const SHORT: Readonly<Record<string, string>> = {
	t: 'title',
	st: 'subtitle',
	soc: 'start_of_chorus',
	eoc: 'end_of_chorus',
	sov: 'start_of_verse',
	eov: 'end_of_verse',
	sob: 'start_of_bridge',
	eob: 'end_of_bridge',
	sot: 'start_of_tab',
	eot: 'end_of_tab',
	sog: 'start_of_grid',
	eog: 'end_of_grid',
};

export function isChordPro(text: string): boolean {
	return /^\s*\{\s*(t|title|soc|sov|start_of_\w+|artist|key|c|comment|meta)\b[^}]*\}\s*$/im.test(text);
}

/** @param name of the file without its ending: the title when the text has none @throws WordsUnreadable */
export function readChordPro(text: string, name: string): Song {
	const blocks: { heading: (SectionName & { times: number }) | null; lines: string[] }[] = [];
	const known: Record<string, string[]> = {};
	let open: (typeof blocks)[number] | null = null;
	let isSung = true;
	for (const row of text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/)) {
		if (/^\s*#/.test(row)) continue;
		const directive = /^\s*\{\s*(?<name>[\w-]+)\s*(?:[:\s]\s*(?<value>.*?))?\s*\}\s*$/.exec(row)?.groups;
		if (directive) {
			const value = directive.value ?? '';
			const is = SHORT[directive.name!.toLowerCase()] ?? directive.name!.toLowerCase();
			const start = /^start_of_(?<what>\w+)$/.exec(is)?.groups?.what;
			if (start) {
				if (NOT_SUNG.has(start)) isSung = false;
				else {
					const label = /label="(?<label>[^"]*)"/.exec(value)?.groups?.label ?? value;
					const heading = readHeading(`[${label}]`) ?? readHeading(`[${start.replace('_', ' ')}]`);
					blocks.push((open = { heading: heading ?? { kind: 'other', number: 0, times: 1 }, lines: [] }));
				}
			} else if (is.startsWith('end_of_')) {
				open = null;
				isSung = true;
			} else if (is === 'chorus') {
				blocks.push({ heading: { kind: 'chorus', number: 0, times: 1 }, lines: [] });
				open = null;
			} else if (is === 'comment' || is === 'c' || is === 'comment_italic' || is === 'ci') {
				const heading = readHeading(value);
				if (heading) blocks.push((open = { heading, lines: [] }));
			} else if (is === 'meta') {
				const meta = /^(?<key>\w+)\s+(?<of>.*)$/.exec(value)?.groups;
				if (meta) (known[meta.key!] ??= []).push(meta.of!);
			} else (known[is] ??= []).push(value);
			continue;
		}
		if (!isSung) continue;
		// "[Chorus]" alone is a heading; "[C]" is played.
		const heading = /^\s*\[[^\]]{3,}\]\s*$/.test(row) ? readHeading(row) : null;
		const line = withoutChords(row);
		if (heading) blocks.push((open = { heading, lines: [] }));
		else if (row.trim() === '') {
			if (open && (open.lines.length > 0 || !open.heading)) open = null;
		} else if (line !== '') {
			if (!open) blocks.push((open = { heading: null, lines: [] }));
			open.lines.push(line);
		}
	}
	const { sections, order } = joinRepeats(blocks);
	if (sections.length === 0) throw new WordsUnreadable({ code: 'noWords' });
	const authors = ['lyricist', 'composer', 'artist'].flatMap((key) => known[key] ?? []).filter((each) => each !== '');
	return songOf({
		title: known.title?.[0] || name,
		authors: [...new Set(authors)],
		copyright: known.copyright?.join('; ') ?? '',
		sections,
		order,
	});
}

/** The words of a row: chords in brackets and annotations are taken off, syllables that they parted are joined. */
function withoutChords(row: string): string {
	return row
		.replace(/\[[^\]]*\]/g, '')
		.replace(/\{[^}]*\}/g, '')
		.replace(/\s+/g, ' ')
		.trim();
}
