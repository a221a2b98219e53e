import type { WordsProblem } from '../../../core/words/formats/headings.ts';
import type { SectionKind } from '../../../core/words/song.ts';
import type { Value } from '../value.ts';

/** Words of the interface: songs and texts of the organisation. */
export const songs = {
	title: 'Songs and texts',
	about: 'What is sung and read aloud, for all events. An event gets a copy of its own.',
	add: 'Import files',
	drop: 'Drop song files here',
	dropHint:
		'OpenLyrics, ChordPro (chords are left out), plain text with blank lines between verses; several, or a zip.',
	newSong: 'New song',
	newText: 'New text',
	search: 'Search title, author or a line',
	empty: 'No songs yet. Import files, or write one.',
	nothingFound: 'No song has these words.',
	exportAll: 'Export all',
	exportOne: 'Export',
	zipName: 'songs.zip',
	count: (count: number) => (count === 1 ? '1 song or text' : `${count} songs and texts`),
	listLost: 'The songs cannot be read now. Reload the page.',
	songLost: 'This song cannot be read. Somebody may have removed it.',
	remove: 'Remove',
	removed: (title: Value) => `${title} is removed.`,
	undo: 'Undo',
	saved: 'Saved',
	saving: 'Saves as you type',
	notSaved: 'Not saved. It is tried again with the next key.',
	cannotSave: {
		title: 'Give it a title; then it is saved.',
		languages: 'A language is written as en, de or fr.',
		texts: 'It is longer than a song can be.',
	},
	close: 'Close',
	name: 'Title',
	authors: 'Authors',
	authorsHint: 'Several with commas between them',
	copyright: 'Copyright',
	licence: 'Licence number',
	licenceHint: 'Number by which your licence knows the song',
	source: 'Source',
	sourceHint: 'Book, chapter, edition',
	order: 'Order',
	orderHint: 'v1 c v2 c: verse 1, chorus, verse 2, chorus. Empty: as it stands.',
	orderUnknown: (names: Value) => `There is no ${names}.`,
	language: { first: 'Language', second: 'Second language' },
	languageHint: 'en, de, fr …',
	words: 'Words',
	secondWords: 'Words in the second language',
	wordsHint: 'A heading over each part: Verse 1, Chorus, Bridge. A blank line between parts.',
	secondHint: 'The same headings; line by line as beside.',
	hasSecond: 'In two languages',
	untitled: 'Untitled',
	text: 'Text',
	sections: {
		verse: 'Verse',
		chorus: 'Chorus',
		preChorus: 'Pre-chorus',
		bridge: 'Bridge',
		intro: 'Intro',
		ending: 'Ending',
		other: 'Part',
	} satisfies Record<SectionKind, string>,
	previewHall: 'In the hall',
	previewStream: 'For viewers',
	preview: 'How it is cut',
	importing: (done: number, of: number) => `${done} of ${of} files`,
	imported: (count: number) => (count === 1 ? '1 song added' : `${count} songs added`),
	isSame: (file: Value, title: Value) => `${file} is much like ${title}, which is here already.`,
	replace: 'Replace',
	beside: 'Keep both',
	tooLarge: 'This is too large for words of a song.',
	tooManyInZip: (most: number) => `There are more than ${most} files in it; the others were left out.`,
	zipDamaged: 'This zip cannot be opened. Pack it again.',
	noText: 'This is not a text file. Save it as plain text, and import that.',
};

/** Why a file of words is not read. */
export function wordsProblemWords(problem: WordsProblem): string {
	switch (problem.code) {
		case 'noWords':
			return 'There are no words in it.';
		case 'notXml':
			return `It is damaged in row ${problem.row}: ${problem.problem}`;
		case 'otherXml':
			return `This is XML, but not OpenLyrics: it begins with “${problem.found}”.`;
		case 'schema':
			return `It is not as OpenLyrics asks for at ${problem.where}.`;
		case 'tooLong':
			return 'It is longer than a song can be: 60 parts, 80 lines in each, 400 letters in a line.';
	}
}
