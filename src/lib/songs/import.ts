/** Song files of a computer, read here: what is sent to the server are songs. */
import { unzip, type UnzipFileInfo } from 'fflate';
import { WordsUnreadable } from '../../core/words/formats/headings.ts';
import { readSong } from '../../core/words/formats/read-song.ts';
import type { Song } from '../../core/words/song.ts';
import { songs as words, wordsProblemWords } from '../words/index.ts';

/** What is in a file. */
export type FromFile = { name: string } & ({ song: Song } | { problem: string });

/** Words are small; what is larger is something else. */
const MOST_BYTES = 1_000_000;
const MOST_IN_ZIP = 2000;
/** Folders and files that computers put beside others. */
const HIDDEN = /(^|\/)(\.|__MACOSX\/|Thumbs\.db$)|\/$/;

/** Reads files, and the files in zips. */
export async function readSongFiles(files: Iterable<File>): Promise<FromFile[]> {
	const read: FromFile[] = [];
	for (const file of files) {
		if (/\.zip$/i.test(file.name)) read.push(...(await readZip(file)));
		else if (file.size > MOST_BYTES) read.push({ name: file.name, problem: words.tooLarge });
		else read.push(fromBytes(file.name, new Uint8Array(await file.arrayBuffer())));
	}
	return read;
}

async function readZip(file: File): Promise<FromFile[]> {
	const tooLarge: FromFile[] = [];
	let count = 0;
	const filter = ({ name, originalSize }: UnzipFileInfo) => {
		if (HIDDEN.test(name) || ++count > MOST_IN_ZIP) return false;
		if (originalSize <= MOST_BYTES) return true;
		tooLarge.push({ name, problem: words.tooLarge });
		return false;
	};
	const bytes = new Uint8Array(await file.arrayBuffer());
	try {
		const entries = await new Promise<Record<string, Uint8Array>>((resolve, reject) =>
			unzip(bytes, { filter }, (error, unzipped) => (error ? reject(error) : resolve(unzipped))),
		);
		const read = Object.entries(entries).map(([name, entry]) => fromBytes(name, entry));
		const more = count > MOST_IN_ZIP ? [{ name: file.name, problem: words.tooManyInZip(MOST_IN_ZIP) }] : [];
		return [...read, ...tooLarge, ...more];
	} catch {
		return [{ name: file.name, problem: words.zipDamaged }];
	}
}

function fromBytes(name: string, bytes: Uint8Array): FromFile {
	const text = textOf(bytes);
	if (text === null) return { name, problem: words.noText };
	try {
		return { name, song: readSong(text, name) };
	} catch (error) {
		if (!(error instanceof WordsUnreadable)) throw error;
		return { name, problem: wordsProblemWords(error.problem) };
	}
}

/** @returns null when it is no text */
function textOf(bytes: Uint8Array): string | null {
	if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
	if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
	if (bytes.includes(0)) return null;
	try {
		return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
	} catch {
		// As older programs write it.
		return new TextDecoder('windows-1252').decode(bytes);
	}
}
