/** Stills given to an event: kept as files in the data folder, named by what is in them. */
import { createHash, randomUUID } from 'node:crypto';
import { cp, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { setPlace } from './placing.ts';
import { readStillHeader, stillProblem } from '../../core/picture/still-header.ts';

/** Of one event. */
const MOST_BYTES = 1e9;
const MOST_FILES = 2000;

export class Stills {
	#folder: string;
	readonly #mostBytes: number;

	/**
	 * @param folder of all events' files
	 * @param mostBytes of one event
	 */
	constructor(folder: string, mostBytes = MOST_BYTES) {
		this.#folder = folder;
		this.#mostBytes = mostBytes;
	}

	/**
	 * Keeps a PNG, JPEG or WebP picture, known by its first bytes and not by its name.
	 * @returns the id of the file, the same for the same bytes
	 * @throws with a sentence when it is too large, no picture, or cannot be written
	 */
	async keep(eventId: string, bytes: Buffer): Promise<string> {
		const problem = stillProblem('The file', bytes.length, readStillHeader(bytes));
		if (problem) throw new Error(problem);
		const id = createHash('sha256').update(bytes).digest('hex').slice(0, 32);
		const file = this.#pathOf(eventId, id);
		// Whole or not at all, also when the power fails or two people give the same one at once.
		const part = `${file}.${randomUUID()}.part`;
		try {
			const folder = path.dirname(file);
			await mkdir(folder, { recursive: true });
			if (!(await this.#hasRoom(folder, bytes.length)))
				throw new Error('This event has as many pictures as can be kept; 1 GB is the most. Remove some first.');
			await writeFile(part, bytes);
			await rename(part, file);
		} catch (error) {
			await rm(part, { force: true }).catch(() => {});
			const { code } = error as NodeJS.ErrnoException;
			if (code === undefined) throw error;
			if (code === 'ENOSPC')
				throw new Error('The disk is full. Make room, then add the picture again.', { cause: error });
			throw new Error(`The picture cannot be kept (${code}).`, { cause: error });
		}
		return id;
	}

	/** Nobody fills the disk with pictures. */
	async #hasRoom(folder: string, bytes: number): Promise<boolean> {
		const files = await readdir(folder);
		if (files.length >= MOST_FILES) return false;
		// One that is being kept by somebody else has its last name by now.
		const sizeOf = (file: string) =>
			stat(path.join(folder, file)).then(
				({ size }) => size,
				() => 0,
			);
		const sizes = await Promise.all(files.map(sizeOf));
		return sizes.reduce((sum, size) => sum + size, bytes) <= this.#mostBytes;
	}

	/** Where a file lies; null when there is none. Ids must have been checked. */
	async find(eventId: string, id: string): Promise<string | null> {
		const file = this.#pathOf(eventId, id);
		return stat(file).then(
			() => file,
			() => null,
		);
	}

	/** Takes in a file that was kept elsewhere. */
	bringIn(eventId: string, id: string, file: string): Promise<void> {
		return setPlace(file, this.#pathOf(eventId, id));
	}

	/** Removes all files of an event. */
	forget(eventId: string): Promise<void> {
		return rm(path.dirname(this.#pathOf(eventId, 'any')), { recursive: true, force: true });
	}

	/** Gives an event, or a template, all files of another one. */
	async copy(from: string, to: string): Promise<void> {
		const [source, target] = [from, to].map((id) => path.dirname(this.#pathOf(id, 'any')));
		await cp(source!, target!, { recursive: true, force: true }).catch((error: NodeJS.ErrnoException) => {
			// It has none.
			if (error.code !== 'ENOENT') throw error;
		});
	}

	/** A kept file with its type, or null when there is none. Ids must have been checked. */
	async read(eventId: string, id: string): Promise<{ bytes: Buffer; type: string } | null> {
		try {
			const bytes = await readFile(this.#pathOf(eventId, id));
			return { bytes, type: readStillHeader(bytes)?.type ?? 'application/octet-stream' };
		} catch (error) {
			if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
			throw error;
		}
	}

	#pathOf(eventId: string, id: string): string {
		return path.join(this.#folder, eventId, id);
	}
}
