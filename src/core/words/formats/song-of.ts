import * as v from 'valibot';
import { songSchema, type Song } from '../song.ts';
import { WordsUnreadable } from './headings.ts';

/** A song of what a file says; what it does not say is empty. @throws WordsUnreadable when it is longer than songs can be */
export function songOf(known: Pick<Song, 'title' | 'sections'> & Partial<Song>): Song {
	const song = {
		...{ kind: 'song', authors: [], copyright: '', licence: '', source: '', languages: [''], order: [] },
		...known,
		title: known.title.trim().slice(0, 120),
	};
	const parsed = v.safeParse(songSchema, song);
	if (!parsed.success) throw new WordsUnreadable({ code: 'tooLong' });
	return parsed.output;
}
