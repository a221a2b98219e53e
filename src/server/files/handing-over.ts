/** Moves what one node of several has recorded to where all nodes have it. */
import { rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { and, eq } from 'drizzle-orm';
import type { Db } from '../db/database.ts';
import { recordings } from '../db/schema.ts';
import { log } from '../log.ts';
import type { FinishedFiles } from './finished-files.ts';
import type { RecordingFolders } from './recording-folders.ts';

type Row = typeof recordings.$inferSelect;

/** Where this node writes, and where files go that are finished, so that all nodes have them. */
export interface NodePlace {
	/** Of the data folder; the same after each start. Rows of files in it are changed by this node alone. */
	id: string;
	finished: FinishedFiles;
}

/** What could not be handed over is tried again so often. */
const AGAIN_MS = 60_000;

export class HandingOver {
	readonly #db: Db;
	readonly #place: NodePlace;
	readonly #folders: RecordingFolders;
	readonly #isBusy: (id: string) => boolean;
	/** Those whose files lie on this node alone, the ones being written included. */
	readonly #kept = new Set<string>();
	readonly #timer: NodeJS.Timeout;
	#working: Promise<void> = Promise.resolve();

	/** @param isBusy true for a recording that is being begun or finished */
	constructor(db: Db, place: NodePlace, folders: RecordingFolders, isBusy: (id: string) => boolean) {
		this.#db = db;
		this.#place = place;
		this.#folders = folders;
		this.#isBusy = isBusy;
		this.#timer = setInterval(() => this.look(), AGAIN_MS);
	}

	/** How many files lie on this node alone: what the others lack while it is gone. */
	get keeps(): number {
		return this.#kept.size;
	}

	/** Counts one that lies here from now on. */
	keep(id: string): void {
		this.#kept.add(id);
	}

	/** Hands over what is whole and still lies here. */
	look(): void {
		this.#working = this.#working.then(async () => {
			const rows = await this.#ownRows().catch(() => []);
			for (const row of rows) if (row.endedAt !== null && !this.#isBusy(row.id)) await this.#handOver(row);
		});
	}

	/** What lies here by the database. Deleted ones may be gone for good without having been handed over. */
	async #ownRows(): Promise<Row[]> {
		const known = [...this.#kept];
		const rows = await this.#db.select().from(recordings).where(eq(recordings.place, this.#place.id));
		for (const id of known) if (!this.#isBusy(id)) this.#kept.delete(id);
		for (const { id } of rows) this.#kept.add(id);
		return rows;
	}

	/** A file stays when that fails, and is tried again. */
	async #handOver({ id, eventId, file, bytes }: Row): Promise<void> {
		const { id: place, finished } = this.#place;
		try {
			const own = await this.#fileOf(eventId, file);
			// One whose first bytes never came has none. Any other may be on a disk that is not there now.
			if (own === null && (bytes > 0 || this.#folders.isElsewhere)) throw new Error('Its file is not there');
			if (own !== null) await finished.put(eventId, file, own);
			await this.#db
				.update(recordings)
				.set({ place: '' })
				.where(and(eq(recordings.id, id), eq(recordings.place, place)));
			this.#kept.delete(id);
			if (own !== null) await rm(own, { force: true });
		} catch (error) {
			log.warn({ event: eventId, recording: id, err: error }, 'A recording stays on this node; it is tried again');
		}
	}

	async #fileOf(eventId: string, file: string): Promise<string | null> {
		for (const folder of this.#folders.all) {
			const own = path.join(folder, eventId, file);
			if (await stat(own).catch(() => null)) return own;
		}
		return null;
	}

	/** Waits for what is being handed over. */
	async close(): Promise<void> {
		clearInterval(this.#timer);
		await this.#working;
	}
}
