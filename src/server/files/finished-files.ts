/** Where recordings go that are whole, so that all nodes have them: a folder that all of them see, or object storage. */
import { createReadStream } from 'node:fs';
import { copyFile, mkdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { Readable } from 'node:stream';
import { replaceWith } from './replace.ts';

export interface FinishedFiles {
	/** Takes a copy of a file. @throws when it is not there as a whole after that */
	put(eventId: string, file: string, from: string): Promise<void>;
	/** Bytes of one; null where there is none. @throws when that cannot be asked */
	sizeOf(eventId: string, file: string): Promise<number | null>;
	/** Bytes `from` to `to` of one, both included. */
	read(eventId: string, file: string, from: number, to: number): Promise<Readable>;
	remove(eventId: string, file: string): Promise<void>;
}

export class FinishedFolder implements FinishedFiles {
	readonly #folder: () => string;

	/** @param folder as it is now */
	constructor(folder: () => string) {
		this.#folder = folder;
	}

	#pathOf(eventId: string, file: string): string {
		return path.join(this.#folder(), eventId, file);
	}

	async put(eventId: string, file: string, from: string): Promise<void> {
		const to = this.#pathOf(eventId, file);
		await mkdir(path.dirname(to), { recursive: true });
		await copyFile(from, `${to}.part`);
		await replaceWith(`${to}.part`, to);
	}

	async sizeOf(eventId: string, file: string): Promise<number | null> {
		return (await stat(this.#pathOf(eventId, file)).catch(() => null))?.size ?? null;
	}

	read(eventId: string, file: string, from: number, to: number): Promise<Readable> {
		return Promise.resolve(createReadStream(this.#pathOf(eventId, file), { start: from, end: to }));
	}

	async remove(eventId: string, file: string): Promise<void> {
		await rm(this.#pathOf(eventId, file), { force: true });
	}
}
