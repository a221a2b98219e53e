/** Stills given to an event: kept as files in the data folder, named by what is in them. */
import { createHash, randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { readStillHeader, stillProblem } from '../../core/picture/still-header.ts';

export class Stills {
	#folder: string;

	/** @param folder of all events' files */
	constructor(folder: string) {
		this.#folder = folder;
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
			await mkdir(path.dirname(file), { recursive: true });
			await writeFile(part, bytes);
			await rename(part, file);
		} catch (error) {
			await rm(part, { force: true }).catch(() => {});
			const { code } = error as NodeJS.ErrnoException;
			if (code === 'ENOSPC')
				throw new Error('The disk is full. Make room, then add the picture again.', { cause: error });
			throw new Error(`The picture cannot be kept (${code ?? (error as Error).message}).`, { cause: error });
		}
		return id;
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
