/** Songs as OpenLyrics files: one as it is, several in a zip. */
import { strToU8, zip } from 'fflate';
import { writeOpenLyrics } from '../../core/words/formats/openlyrics.ts';
import type { Song } from '../../core/words/song.ts';

const WRITER = 'Bivvo';
const xmlOf = (song: Song) => writeOpenLyrics(song, new Date().toISOString().slice(0, 19), WRITER);

/** A name that every system takes. */
const fileNameOf = (title: string) => title.replace(/[\\/:*?"<>|\p{Cc}]+/gu, ' ').trim() || 'song';

export function exportSong(song: Song): { blob: Blob; name: string } {
	return { blob: new Blob([xmlOf(song)], { type: 'application/xml' }), name: `${fileNameOf(song.title)}.xml` };
}

export async function exportSongs(songs: readonly Song[]): Promise<Blob> {
	const files: Record<string, Uint8Array> = {};
	for (const song of songs) {
		const name = fileNameOf(song.title);
		let free = name;
		for (let i = 2; `${free}.xml` in files; i++) free = `${name} ${i}`;
		files[`${free}.xml`] = strToU8(xmlOf(song));
	}
	const zipped = await new Promise<Uint8Array<ArrayBuffer>>((resolve, reject) =>
		zip(files, (error, data) => (error ? reject(error) : resolve(data as Uint8Array<ArrayBuffer>))),
	);
	return new Blob([zipped], { type: 'application/zip' });
}
