/** Recordings as people use them: listed, played, cut, deleted and brought back. */
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm, stat, statfs } from 'node:fs/promises';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import path from 'node:path';
import { and, desc, eq, isNotNull, lt } from 'drizzle-orm';
import type { Db } from '../db/database.ts';
import { recordings, type RecordingKind } from '../db/schema.ts';
import { log } from '../log.ts';
import { copyPart, durationOf, type Part } from './copy-part.ts';
import type { RecordingFolders } from './recording-folders.ts';
import { replaceWith } from './replace.ts';

export type RecordingRow = typeof recordings.$inferSelect;

/** A file that is being written. */
export type NewRecording = Pick<RecordingRow, 'id' | 'eventId' | 'broadcastId' | 'startedAt' | 'file' | 'name'> & {
	kind: RecordingKind;
};

/** A deleted recording can be brought back for this long. */
const KEPT_AFTER_DELETE_MS = 24 * 3600 * 1000;
/** An hour at a high rate. */
const MOST_CLIP_BYTES = 8e9;
const LOOK_AT_DISK_MS = 5000;

export class Recordings {
	#db: Db;
	readonly #folders: RecordingFolders;
	/** Those being finished, which may take a while for a long evening. */
	#finishing = new Map<string, Promise<void>>();
	/** Those that the database may not know of yet, since it was gone when they began. */
	#begun = new Map<string, RecordingRow>();

	#onFinish: () => void = () => {};

	/** What their disk has room for, bytes; null while that is not known. */
	roomBytes: number | null = null;
	#timer: NodeJS.Timeout;

	/** @param folders of all events' recordings */
	constructor(db: Db, folders: RecordingFolders) {
		this.#db = db;
		this.#folders = folders;
		this.#timer = setInterval(() => void this.#lookAtDisk(), LOOK_AT_DISK_MS);
		void this.#lookAtDisk();
	}

	async #lookAtDisk(): Promise<void> {
		await this.#folders.look();
		const { current } = this.#folders;
		const disk = await statfs(current).catch(() => statfs(path.dirname(current)).catch(() => null));
		this.roomBytes = disk && disk.bavail * disk.bsize;
	}

	/** @param listener told whenever a file is whole */
	onFinish(listener: () => void): void {
		this.#onFinish = listener;
	}

	/** Where what is recorded of an event from now on lies. */
	folderOf(eventId: string): string {
		return path.join(this.#folders.current, eventId);
	}

	/** The same, after another look at its disk; it is made if it is not there. */
	async placeFor(eventId: string): Promise<string> {
		await this.#folders.look();
		const folder = this.folderOf(eventId);
		await mkdir(folder, { recursive: true });
		return folder;
	}

	/** True while the disk that was chosen for recordings is gone. */
	get isElsewhere(): boolean {
		return this.#folders.isElsewhere;
	}

	/** Those of an event that are not deleted, the newest first. */
	async list(eventId: string): Promise<RecordingRow[]> {
		const rows = await this.#db
			.select()
			.from(recordings)
			.where(eq(recordings.eventId, eventId))
			.orderBy(desc(recordings.startedAt));
		return rows.filter(({ deletedAt }) => deletedAt === null);
	}

	/** One with the path of its file, or null when there is none or its file is gone. */
	async find(eventId: string, id: string): Promise<(RecordingRow & { path: string }) | null> {
		const [row] = await this.#db
			.select()
			.from(recordings)
			.where(and(eq(recordings.eventId, eventId), eq(recordings.id, id)));
		if (!row) return null;
		for (const folder of this.#folders.all) {
			const file = path.join(folder, eventId, row.file);
			const there = await stat(file).catch(() => null);
			if (there) return { ...row, bytes: there.size, path: file };
		}
		return null;
	}

	/** Adds rows for files that are being written from now on. */
	async begin(rows: readonly NewRecording[]): Promise<void> {
		const whole = rows.map((row) => ({ ...row, endedAt: null, bytes: 0, deletedAt: null }));
		for (const row of whole) this.#begun.set(row.id, row);
		await this.#db.insert(recordings).values(whole);
		for (const { id } of whole) this.#begun.delete(id);
	}

	/**
	 * Makes an ordinary file of the one that was written in pieces, and notes its end. The pieces stay if that fails.
	 * @param startedAt of its first picture, milliseconds since 1970
	 */
	finish(eventId: string, id: string, startedAt: number | null): Promise<void> {
		const finishing =
			this.#finishing.get(id) ??
			this.#finish(eventId, id, startedAt).finally(() => {
				this.#finishing.delete(id);
				this.#onFinish();
			});
		this.#finishing.set(id, finishing);
		return finishing;
	}

	/** Whether its file is about to be replaced by an ordinary one. */
	isFinishing(id: string): boolean {
		return this.#finishing.has(id);
	}

	async #finish(eventId: string, id: string, startedAt: number | null): Promise<void> {
		const begun = this.#begun.get(id);
		if (begun) {
			await this.#db.insert(recordings).values(begun);
			this.#begun.delete(id);
		}
		const found = await this.find(eventId, id);
		const there = found && found.bytes > 0 ? found : null;
		const unreadable = (error: unknown) =>
			log.warn({ event: eventId, recording: id, err: error }, 'A recording stays as it was written');
		const durationS = there && (await durationOf(there.path).catch(unreadable));
		const beganAt = startedAt ?? found?.startedAt ?? Date.now();
		const endedAt = durationS ? Math.round(beganAt + durationS * 1000) : Date.now();
		const note = (part: Partial<RecordingRow>) => this.#db.update(recordings).set(part).where(eq(recordings.id, id));
		// Whatever comes in between now, it is not being recorded any more.
		await note({ endedAt, bytes: found?.bytes ?? 0, ...(startedAt !== null && { startedAt }) });
		// A sound's file is an ordinary one already.
		if (!there || !durationS || there.kind === 'channel') return;
		try {
			const whole = `${there.path}.whole`;
			await copyPart(there.path, whole, { fromS: 0, toS: Infinity });
			await replaceWith(whole, there.path);
			await note({ bytes: (await stat(there.path)).size });
		} catch (error) {
			unreadable(error);
		}
	}

	/**
	 * Finishes what was being written when the server was stopped the hard way.
	 * @param but those that are being written now
	 */
	async finishLeftOver(eventId: string, but: ReadonlySet<string>): Promise<void> {
		for (const { id, endedAt } of await this.list(eventId))
			if (endedAt === null && !but.has(id))
				await this.finish(eventId, id, null).catch((error: unknown) => log.warn({ err: error }));
	}

	/** Waits for what is being finished. */
	async close(): Promise<void> {
		clearInterval(this.#timer);
		await Promise.allSettled(this.#finishing.values());
	}

	/** Adds one whose file is whole, and lies in the event's folder. */
	async add(row: RecordingRow): Promise<void> {
		await this.#db
			.insert(recordings)
			.values(row)
			.onDuplicateKeyUpdate({ set: { bytes: row.bytes } });
	}

	/** Cuts a part out as a recording of its own; returns its id. @throws with a sentence */
	async cut(row: RecordingRow & { path: string }, { fromS, toS }: Part): Promise<string> {
		const to = await this.#excerptOf(row, { fromS, toS });
		return this.#noteExcerpt(row, to, await copyPart(row.path, to, { fromS, toS }));
	}

	/**
	 * Keeps a part that somebody else has cut out, as a recording of its own.
	 * @param body an MP4 file
	 * @returns its id
	 * @throws with a sentence when it is no such file, or not of that length
	 */
	async keepExcerpt(
		row: RecordingRow & { path: string },
		part: Part,
		body: ReadableStream<Uint8Array>,
	): Promise<string> {
		const to = await this.#excerptOf(row, part);
		const came = `${to}.came`;
		try {
			await pipeline(Readable.fromWeb(body as NodeReadableStream), bounded(MOST_CLIP_BYTES), createWriteStream(came));
			const wantedS = part.toS - part.fromS;
			const durationS = await durationOf(came).catch(() => {
				throw new Error('It is no MP4 file.');
			});
			if (Math.abs(durationS - wantedS) > 1) throw new Error(`It lasts ${durationS.toFixed(1)} s.`);
			await copyPart(came, to, { fromS: 0, toS: Infinity });
		} finally {
			await rm(came, { force: true });
		}
		return this.#noteExcerpt(row, to, part.fromS);
	}

	async #excerptOf({ file, eventId }: RecordingRow, { fromS, toS }: Part): Promise<string> {
		const name = `${file.replace(/\.\w+$/, '')}-excerpt-${Math.round(fromS)}-${Math.round(toS)}-${randomUUID().slice(0, 4)}.mp4`;
		return path.join(await this.placeFor(eventId), name);
	}

	async #noteExcerpt(row: RecordingRow, to: string, fromS: number): Promise<string> {
		const id = `excerpt-${randomUUID().slice(0, 18)}`;
		const { eventId, broadcastId, name } = row;
		const startedAt = Math.round(row.startedAt + 1000 * fromS);
		const endedAt = Math.round(startedAt + (await durationOf(to)) * 1000);
		const bytes = (await stat(to)).size;
		const excerpt = { id, eventId, broadcastId, startedAt, endedAt, bytes, file: path.basename(to), name };
		await this.#db.insert(recordings).values({ ...excerpt, kind: 'excerpt', deletedAt: null });
		return id;
	}

	/** Deletes one, or brings it back. What was deleted long ago is gone for good. */
	async setDeleted(eventId: string, id: string, deleted: boolean): Promise<void> {
		const now = Date.now();
		await this.#db
			.update(recordings)
			.set({ deletedAt: deleted ? now : null })
			.where(and(eq(recordings.eventId, eventId), eq(recordings.id, id)));
		const old = and(
			eq(recordings.eventId, eventId),
			isNotNull(recordings.deletedAt),
			lt(recordings.deletedAt, now - KEPT_AFTER_DELETE_MS),
		);
		for (const { file } of await this.#db.select().from(recordings).where(old))
			for (const folder of this.#folders.all) await rm(path.join(folder, eventId, file), { force: true });
		await this.#db.delete(recordings).where(old);
	}
}

/** A broadcast has a further recording for each start of the server while it lasts. */
export function recordingId(broadcastId: string, startedAt: number): string {
	return `${broadcastId}-${startedAt}`;
}

/** Passes this many bytes through, and fails beyond. */
function bounded(most: number): Transform {
	let bytes = 0;
	return new Transform({
		transform(chunk: Uint8Array, _, next) {
			bytes += chunk.length;
			next(bytes > most ? new Error('It is too large.') : null, chunk);
		},
	});
}

/** The program's recording that a track was recorded beside: they began at one instant. Of any other its own id. */
export function programOf(rows: readonly Identity[], { id, broadcastId, startedAt, kind }: Identity): string {
	if (kind === 'program' || kind === 'excerpt') return id;
	const isBeside = (row: Identity) =>
		row.kind === 'program' && row.broadcastId === broadcastId && row.startedAt === startedAt;
	// One that was deleted goes on holding its tracks together.
	return rows.find(isBeside)?.id ?? recordingId(broadcastId, startedAt);
}

type Identity = Pick<RecordingRow, 'id' | 'broadcastId' | 'startedAt' | 'kind'>;
