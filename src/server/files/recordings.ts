/** Recordings as people use them: listed, played, cut, deleted and brought back. */
import { randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, rm, stat, statfs } from 'node:fs/promises';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import path from 'node:path';
import { and, desc, eq, isNotNull, isNull, lt } from 'drizzle-orm';
import type { Db } from '../db/database.ts';
import { recordings, type RecordingKind } from '../db/schema.ts';
import { log } from '../log.ts';
import { writeFenced, type Fence } from '../nodes/fence.ts';
import { copyPart, durationOf, type Part } from './copy-part.ts';
import { HandingOver, type NodePlace } from './handing-over.ts';
import type { RecordingFolders } from './recording-folders.ts';
import { replaceWith } from './replace.ts';

export type RecordingRow = typeof recordings.$inferSelect;

/** A recording whose file is there. */
export interface Found extends RecordingRow {
	/** Of its file on this machine; null for one that is in the storage of all nodes alone. */
	path: string | null;
	/** Bytes `from` to `to` of it, both included. */
	read: (from: number, to: number) => Promise<Readable>;
}

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
	readonly #timer: NodeJS.Timeout;
	readonly #place: NodePlace | null;
	readonly #handing: HandingOver | null;

	/**
	 * @param folders of all events' recordings
	 * @param place null on a server of one node, where files stay where they are written
	 */
	constructor(db: Db, folders: RecordingFolders, place: NodePlace | null = null) {
		this.#db = db;
		this.#folders = folders;
		this.#place = place;
		const isBusy = (id: string) => this.#begun.has(id) || this.#finishing.has(id);
		this.#handing = place && new HandingOver(db, place, folders, isBusy);
		this.#timer = setInterval(() => void this.#lookAtDisk(), LOOK_AT_DISK_MS);
		void this.#lookAtDisk();
		if (place) void this.#finishOwn(place.id);
	}

	/** Finishes what this node was writing when it was stopped the hard way: its events are elsewhere by now. */
	async #finishOwn(place: string): Promise<void> {
		const isLeft = and(eq(recordings.place, place), isNull(recordings.endedAt), lt(recordings.startedAt, Date.now()));
		try {
			for (const { eventId, id } of await this.#db.select().from(recordings).where(isLeft))
				if (!this.#begun.has(id)) await this.finish(eventId, id, null);
		} catch (error) {
			log.warn({ err: error }, 'What this node has recorded before has no end yet');
		}
		this.#handing?.look();
	}

	/** How many files lie on this node alone; 0 on a server of one. */
	get keeps(): number {
		return this.#handing?.keeps ?? 0;
	}

	/** Whether another node writes it, or has not handed it over. */
	isElsewherePlaced({ place }: Pick<RecordingRow, 'place'>): boolean {
		return place !== '' && place !== this.#place?.id;
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

	/** One with its file, or null when there is none or its file is gone. */
	async find(eventId: string, id: string): Promise<Found | null> {
		const [row] = await this.#db
			.select()
			.from(recordings)
			.where(and(eq(recordings.eventId, eventId), eq(recordings.id, id)));
		if (!row) return null;
		for (const folder of this.#folders.all) {
			const file = path.join(folder, eventId, row.file);
			const there = await stat(file).catch(() => null);
			const read = (from: number, to: number) => Promise.resolve(createReadStream(file, { start: from, end: to }));
			if (there) return { ...row, bytes: there.size, path: file, read };
		}
		const { finished } = this.#place ?? {};
		if (!finished || row.place !== '') return null;
		const bytes = await finished.sizeOf(eventId, row.file);
		const read = (from: number, to: number) => finished.read(eventId, row.file, from, to);
		return bytes === null ? null : { ...row, bytes, path: null, read };
	}

	/**
	 * Does something with files of recordings that needs them whole, on this machine: what is in the storage of all nodes is
	 * fetched for that.
	 */
	async withFiles<T>(found: readonly Found[], work: (files: string[]) => Promise<T>): Promise<T> {
		const fetched: string[] = [];
		try {
			const files: string[] = [];
			for (const { path: own, eventId, file, bytes, read } of found) {
				const here = own ?? path.join(await this.placeFor(eventId), `${file}.${randomUUID()}.fetched`);
				files.push(here);
				if (own !== null) continue;
				fetched.push(here);
				await pipeline(await read(0, bytes - 1), createWriteStream(here));
			}
			return await work(files);
		} finally {
			for (const file of fetched) await rm(file, { force: true });
		}
	}

	/**
	 * Adds rows for files that are being written from now on.
	 * @throws {FencedOff} when another node owns the event; what was begun is kept all the same, as it is finished
	 */
	async begin(rows: readonly NewRecording[], fence: Fence = null): Promise<void> {
		const place = this.#place?.id ?? '';
		const whole = rows.map((row) => ({ ...row, place, endedAt: null, bytes: 0, deletedAt: null }));
		for (const row of whole) {
			this.#begun.set(row.id, row);
			this.#handing?.keep(row.id);
		}
		await writeFenced(this.#db, fence, (db) => db.insert(recordings).values(whole));
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
				this.#handing?.look();
			});
		this.#finishing.set(id, finishing);
		this.#handing?.keep(id);
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
		const there = found && found.path !== null && found.bytes > 0 ? { kind: found.kind, path: found.path } : null;
		const unreadable = (error: unknown) =>
			log.warn({ event: eventId, recording: id, err: error }, 'A recording stays as it was written');
		const durationS = there && (await durationOf(there.path).catch(unreadable));
		const beganAt = startedAt ?? found?.startedAt ?? Date.now();
		const endedAt = durationS ? Math.round(beganAt + durationS * 1000) : Date.now();
		const own = and(eq(recordings.id, id), eq(recordings.place, this.#place?.id ?? ''));
		const note = (part: Partial<RecordingRow>) => this.#db.update(recordings).set(part).where(own);
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
		for (const { id, endedAt, place } of await this.list(eventId))
			if (endedAt === null && !but.has(id) && place === (this.#place?.id ?? ''))
				await this.finish(eventId, id, null).catch((error: unknown) => log.warn({ err: error }));
	}

	/** Waits for what is being finished. */
	async close(): Promise<void> {
		clearInterval(this.#timer);
		await Promise.allSettled(this.#finishing.values());
		await this.#handing?.close();
	}

	/** Adds one whose file is whole, and lies in the event's folder. */
	async add(row: Omit<RecordingRow, 'place'>): Promise<void> {
		await this.#db
			.insert(recordings)
			.values({ ...row, place: this.#place?.id ?? '' })
			.onDuplicateKeyUpdate({ set: { bytes: row.bytes } });
		this.#handing?.keep(row.id);
		this.#handing?.look();
	}

	/** Cuts a part out as a recording of its own; returns its id. @throws with a sentence */
	async cut(found: Found, { fromS, toS }: Part): Promise<string> {
		const to = await this.#excerptOf(found, { fromS, toS });
		const beganS = await this.withFiles([found], ([file]) => copyPart(file!, to, { fromS, toS }));
		return this.#noteExcerpt(found, to, beganS);
	}

	/**
	 * Keeps a part that somebody else has cut out, as a recording of its own.
	 * @param body an MP4 file
	 * @returns its id
	 * @throws with a sentence when it is no such file, or not of that length
	 */
	async keepExcerpt(row: RecordingRow, part: Part, body: ReadableStream<Uint8Array>): Promise<string> {
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
		await this.add({ ...excerpt, kind: 'excerpt', deletedAt: null });
		return id;
	}

	async #remove(eventId: string, file: string): Promise<void> {
		for (const folder of this.#folders.all) await rm(path.join(folder, eventId, file), { force: true });
		await this.#place?.finished.remove(eventId, file);
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
		for (const { file } of await this.#db.select().from(recordings).where(old)) await this.#remove(eventId, file);
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
