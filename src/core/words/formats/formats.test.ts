import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { likeness, plainForm, SAME_SONG, searchText, sungSections, type Song } from '../song.ts';
import { isChordPro, readChordPro } from './chordpro.ts';
import { readHeading, WordsUnreadable, type WordsProblem } from './headings.ts';
import { readOpenLyrics, writeOpenLyrics } from './openlyrics.ts';
import { readPlain } from './plain.ts';

const lamp = readFileSync('standins/words/lamp-on-the-col.xml', 'utf8');
const water = readFileSync('standins/words/carry-the-water.txt', 'utf8');
const names = (song: Song) => sungSections(song).map(({ kind, number }) => `${kind}${number || ''}`);
const first = (song: Song, index = 0) => song.sections[index]!.lines.map((line) => line[0]);
function problemOf(read: () => unknown): WordsProblem {
	try {
		read();
	} catch (error) {
		if (error instanceof WordsUnreadable) return error.problem;
		throw error;
	}
	throw new Error('it was read');
}
const inSong = (lyrics: string, properties = '<titles><title>Cairn</title></titles>') =>
	`<song xmlns="http://openlyrics.info/namespace/2009/song" version="0.9"><properties>${properties}</properties><lyrics>${lyrics}</lyrics></song>`;

describe('OpenLyrics', () => {
	it('is read with its authors, verses and the order in which they are sung', () => {
		const song = readOpenLyrics(lamp);
		expect(song).toMatchObject({
			...{ kind: 'song', title: 'Lamp on the Col', languages: ['en'], copyright: 'Chapel of Nether Hollin' },
			authors: ['Corin Vale', 'Choir of Nether Hollin'],
		});
		expect(names(song)).toEqual(['verse1', 'chorus', 'verse2', 'chorus', 'verse3', 'chorus']);
		expect(first(song, 1)[0]).toBe('Lamp on the col, burn low, burn long,');
	});

	it('loses chords, tags and comments, joins syllables, and repeats what is repeated', () => {
		const song = readOpenLyrics(
			inSong(
				'<verse name="v1"><lines repeat="2">Stone up<chord name="D7"/>on <tag name="it">stone</tag>,<comment>softly</comment><br/>\n' +
					'\t\t<chord root="G">we</chord> climb &amp; climb</lines></verse>',
			),
		);
		expect(first(song)).toEqual(['Stone upon stone,', 'we climb & climb', 'Stone upon stone,', 'we climb & climb']);
	});

	it('puts the languages of a verse line by line beside each other, the original one first', () => {
		const song = readOpenLyrics(
			inSong(
				'<verse name="v1" lang="de"><lines>Trag das Wasser<br/>herauf</lines></verse>' +
					'<verse name="v1" lang="en"><lines>Carry the water</lines></verse>',
				'<titles><title lang="de">Wasser</title><title lang="en" original="true">Water</title></titles>',
			),
		);
		expect(song).toMatchObject({ title: 'Water', languages: ['en', 'de'] });
		expect(song.sections[0]!.lines).toEqual([
			['Carry the water', 'Trag das Wasser'],
			['', 'herauf'],
		]);
	});

	it('takes parts of a verse as one', () => {
		const song = readOpenLyrics(
			inSong(
				'<verse name="v1a"><lines>one</lines></verse><verse name="v1b"><lines>two</lines></verse><verse name="c"><lines>three</lines></verse>',
				'<titles><title>Cairn</title></titles><verseOrder>v1a v1b c v1a v1b</verseOrder>',
			),
		);
		expect(names(song)).toEqual(['verse1', 'chorus', 'verse1']);
		expect(first(song)).toEqual(['one', 'two']);
	});

	it.each<[string, string, string]>([
		['a version that is missing', '<song><properties/></song>', 'song/@version'],
		['no title', inSong('<verse name="v1"><lines>one</lines></verse>', ''), 'song/properties/titles'],
		['no verse', inSong(''), 'song/lyrics/verse'],
		['a verse without a name', inSong('<verse><lines>one</lines></verse>'), 'song/lyrics/verse/@name'],
		['a name that is none', inSong('<verse name="Verse 1"><lines>one</lines></verse>'), 'song/lyrics/verse/@name'],
		['an element that is unknown', inSong('<verse name="v1"><text>one</text></verse>'), 'song/lyrics/verse/text'],
		['words outside of lines', inSong('<verse name="v1">one<lines>two</lines></verse>'), 'song/lyrics/verse'],
		['entities of its own', `<!DOCTYPE song [<!ENTITY a "b">]>${inSong('')}`, '<!DOCTYPE>'],
	])('is refused for %s, and where it is wrong is said', (_, text, where) => {
		expect(problemOf(() => readOpenLyrics(text))).toEqual({ code: 'schema', where });
	});

	it('is refused when it is other XML, none at all, or has no words', () => {
		expect(problemOf(() => readOpenLyrics('<html><body/></html>'))).toEqual({ code: 'otherXml', found: 'html' });
		expect(problemOf(() => readOpenLyrics('<song><verse></song>'))).toMatchObject({ code: 'notXml', row: 1 });
		expect(problemOf(() => readOpenLyrics(inSong('<verse name="v1"><lines> </lines></verse>')))).toEqual({
			code: 'noWords',
		});
	});

	it('is written so that it is read as it was', () => {
		const line = fc
			.array(fc.stringMatching(/^[A-Za-zäß&<>"'’,.]{1,8}$/), { minLength: 1, maxLength: 5 })
			.map((all) => all.join(' '));
		const kinds = ['verse', 'chorus', 'preChorus', 'bridge', 'intro', 'ending', 'other'] as const;
		const section = fc.record({
			kind: fc.constantFrom(...kinds),
			number: fc.constant(0),
			lines: fc.array(fc.tuple(line, line), { minLength: 1, maxLength: 4 }),
		});
		const song = fc.array(section, { minLength: 1, maxLength: 6 }).chain((sections) =>
			fc.record<Song>({
				kind: fc.constant('song'),
				title: line,
				authors: fc.uniqueArray(line, { maxLength: 3 }),
				copyright: fc.oneof(fc.constant(''), line),
				licence: fc.constantFrom('', '4711'),
				source: fc.constant(''),
				languages: fc.constant(['en', 'de']),
				sections: fc.constant(sections),
				order: fc.array(fc.nat({ max: sections.length - 1 }), { maxLength: 8 }),
			}),
		);
		fc.assert(
			fc.property(song, (written) => {
				const read = readOpenLyrics(writeOpenLyrics(written, '2026-11-28', 'Bivvo'));
				const wordsOf = (of: Song) => sungSections(of).map(({ kind, lines }) => ({ kind, lines }));
				// The same section twice in a row is two parts of a verse to a reader of the format.
				const inRow = written.order.some((index, i) => index === written.order[i - 1]);
				if (!inRow) expect(wordsOf(read)).toEqual(wordsOf(written));
				expect(read).toMatchObject({ title: written.title, authors: written.authors, licence: written.licence });
			}),
		);
	});
});

describe('plain text', () => {
	it('is read with what is known above and headings over its verses', () => {
		const song = readPlain(water, 'file');
		expect(song).toMatchObject({ title: 'Carry the Water', authors: ['Corin Vale'], order: [] });
		expect(names(song)).toEqual(['verse1', 'verse2', 'verse3', 'verse4']);
		expect(first(song)).toHaveLength(4);
	});

	it('needs no headings: a title on top, and what comes again is sung again', () => {
		const song = readPlain('\uFEFFWind and Wall\r\n\r\none\r\ntwo\r\n\r\nthree\r\n\r\none\r\ntwo\r\n', 'file');
		expect(song.title).toBe('Wind and Wall');
		expect(song.sections).toHaveLength(2);
		expect(song.order).toEqual([0, 1, 0]);
	});

	it('takes the file’s name as title, a heading alone as a repeat, and so many times as it says', () => {
		const song = readPlain('[Verse 1]\none\n\nChorus:\n\ntwo\n\nVerse 2\nthree\n\nChorus (x2)\n', 'Wind and Wall');
		expect(song.title).toBe('Wind and Wall');
		expect(names(song)).toEqual(['verse1', 'chorus', 'verse2', 'chorus', 'chorus']);
	});

	it('is refused without words, and when it is longer than songs are', () => {
		expect(problemOf(() => readPlain('Title: Nothing\n\n', 'file'))).toEqual({ code: 'noWords' });
		expect(problemOf(() => readPlain('a\n'.repeat(90), 'file'))).toEqual({ code: 'tooLong' });
	});

	it('tells headings from lines that are sung', () => {
		expect(readHeading('Pre-Chorus')).toMatchObject({ kind: 'preChorus', number: 0 });
		expect(readHeading('V2')).toMatchObject({ kind: 'verse', number: 2 });
		expect(readHeading('[C]')).toMatchObject({ kind: 'chorus' });
		for (const sung of ['O', 'I', 'Chorus of the wind', 'Verse by verse we go', ''])
			expect(readHeading(sung)).toBeNull();
	});
});

describe('ChordPro', () => {
	const text = `{title: Wind and Wall}
{lyricist: Corin Vale}
# a comment
{start_of_verse: Verse 1}
[G]Wind on the [D7]wall, and [Em]stone up[G]on stone
{end_of_verse}

{soc}
We [C]climb
[Am] [G] [C]
{eoc}
{start_of_tab}
e|--3--|
{end_of_tab}
{sov}
Snow on the roof
{eov}
{chorus}
{unknown: thing}`;

	it('is read without chords, tablature and comments, in its order', () => {
		expect(isChordPro(text)).toBe(true);
		expect(isChordPro(water)).toBe(false);
		const song = readChordPro(text, 'file');
		expect(song).toMatchObject({ title: 'Wind and Wall', authors: ['Corin Vale'] });
		expect(names(song)).toEqual(['verse1', 'chorus', 'verse2', 'chorus']);
		expect(first(song)).toEqual(['Wind on the wall, and stone upon stone']);
		expect(first(song, 1)).toEqual(['We climb']);
	});

	it('is refused where nothing is sung', () => {
		expect(problemOf(() => readChordPro('{title: Wind}\n[G] [C]\n', 'file'))).toEqual({ code: 'noWords' });
	});
});

describe('songs of a library', () => {
	it('are found by title and line, whatever the accents and the punctuation', () => {
		expect(plainForm('  Où est l’Étoile?  ')).toBe('ou est letoile');
		expect(searchText(readOpenLyrics(lamp))).toContain('burn till the last of us comes along');
	});

	it('are the same one when most of their words are, and others when not', () => {
		const song = readOpenLyrics(lamp);
		const typed = readPlain(`Lamp\n\n${first(song).join('\n').replace('grey', 'gray').toUpperCase()}`, 'file');
		expect(likeness(song, typed)).toBeGreaterThan(SAME_SONG);
		expect(likeness(song, readPlain(water, 'file'))).toBeLessThan(0.2);
	});
});
