import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { readOpenLyrics } from '../../core/words/formats/openlyrics.ts';
import { draftOf, emptyDraft, songOfDraft } from './draft.ts';

const lamp = readOpenLyrics(readFileSync('standins/words/lamp-on-the-col.xml', 'utf8'));

it('a form gives the song that it was filled with', () => {
	expect(songOfDraft(draftOf(lamp))).toEqual({ song: lamp, problem: null });
	const both = {
		...lamp,
		languages: ['en', 'de'],
		sections: lamp.sections.map((each) => ({
			...each,
			lines: each.lines.map(([line]) => [line!, `${line} auf Deutsch`]),
		})),
	};
	expect(songOfDraft(draftOf(both))).toEqual({ song: both, problem: null });
});

it('two languages go together by their headings, or by their places', () => {
	const draft = { ...emptyDraft('song'), title: 'Wall', languages: ['en', 'de'] };
	const texts = ['Verse 1\none\ntwo\n\nChorus\nthree', 'Chorus\ndrei\n\nVerse 1\neins'];
	expect(songOfDraft({ ...draft, texts }).song.sections.map(({ lines }) => lines)).toEqual([
		[
			['one', 'eins'],
			['two', ''],
		],
		[['three', 'drei']],
	]);
	expect(songOfDraft({ ...draft, texts: ['one\n\ntwo', 'eins\n\nzwei'] }).song.sections[1]!.lines).toEqual([
		['two', 'zwei'],
	]);
});

it('what keeps a song from being stored is named', () => {
	const draft = { ...emptyDraft('song'), title: 'Wall', texts: ['one'] };
	expect(songOfDraft({ ...draft, title: ' ' }).problem).toEqual({ field: 'title' });
	expect(songOfDraft({ ...draft, order: 'v1 c' }).problem).toEqual({ field: 'order', names: 'c' });
	expect(songOfDraft({ ...draft, languages: ['English, please'] }).problem).toEqual({ field: 'languages' });
	expect(songOfDraft({ ...draft, texts: ['x'.repeat(500)] }).problem).toEqual({ field: 'texts' });
	expect(songOfDraft(draft).problem).toBeNull();
});
