/** A song from a file, whatever format it is in. */
import type { Song } from '../song.ts';
import { isChordPro, readChordPro } from './chordpro.ts';
import { isXml, readOpenLyrics } from './openlyrics.ts';
import { readPlain } from './plain.ts';

/**
 * @param text of the whole file
 * @param fileName with its ending: the title of a text that has none
 * @throws {WordsUnreadable}
 */
export function readSong(text: string, fileName: string): Song {
	const name =
		fileName
			.replace(/^.*[\\/]/, '')
			.replace(/\.[A-Za-z0-9]{1,8}$/, '')
			.replaceAll('_', ' ')
			.trim() || fileName;
	if (isXml(text)) return readOpenLyrics(text);
	return isChordPro(text) ? readChordPro(text, name) : readPlain(text, name);
}
