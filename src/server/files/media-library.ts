/** The organisation's media library: files that came in by resumable uploads, and what is known of them. */
import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, rm, stat, statfs, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import { and, asc, eq, isNotNull, isNull, lt, or } from 'drizzle-orm';
import { imageSize } from 'image-size';
import * as v from 'valibot';
import {
	mediaAboutSchema,
	mediaSchema,
	MOST_MEDIA_BYTES,
	plainSettings,
	type Media,
	type MediaAbout,
	type mediaChangeSchema,
} from '../../core/media/media.ts';
import { refuse } from '../../core/refusal.ts';
import { idSchema, MOST_NAME_LETTERS } from '../../core/show/basics.ts';
import type { Db } from '../db/database.ts';
import { media } from '../db/schema.ts';
import { log } from '../log.ts';
import { hashOfFile, setPlace } from './placing.ts';

/** URL path of uploads. */
export const UPLOAD_PATH = '/api/media/upload';
/** What the disk keeps free for recordings, bytes. */
const RESERVE_BYTES = 2e9;
/** A deleted file can be brought back for this long; an upload that is not finished is kept as long. */
const KEPT_MS = 7 * 24 * 3600 * 1000;
const TIDY_EVERY_MS = 3600 * 1000;
/** A poster, and a strip of thumbnails. */
const MOST_PICTURE_BYTES = 2e6;

export type MediaPicture = 'poster' | 'strip';
type Change = v.InferOutput<typeof mediaChangeSchema>;

export class MediaLibrary {
	readonly #db: Db;
	readonly #folder: string;
	/** Takes uploads by the tus protocol, version 1.0.0: they go on after a broken line, a reload or a restart. */
	readonly uploads: Server;
	readonly #tidying: NodeJS.Timeout;
	readonly #incoming: FileStore;
	readonly #usedIds: () => Promise<ReadonlySet<string>>;

	/**
	 * @param folder of the library's files; the folder it lies in is there
	 * @param usedIds ids of the files that some event plays: these are never removed for good
	 */
	constructor(db: Db, folder: string, usedIds: () => Promise<ReadonlySet<string>>) {
		this.#usedIds = usedIds;
		this.#db = db;
		this.#folder = folder;
		this.#incoming = new FileStore({
			directory: path.join(folder, 'incoming'),
			expirationPeriodInMilliseconds: KEPT_MS,
		});
		this.uploads = new Server({
			path: UPLOAD_PATH,
			datastore: this.#incoming,
			maxSize: MOST_MEDIA_BYTES,
			relativeLocation: true,
			respectForwardedHeaders: false,
			onUploadCreate: async (_, upload) => {
				await this.#checkUpload(upload);
				return {};
			},
			onUploadFinish: async (_, upload) => {
				await this.#take(upload);
				return { headers: { 'X-Media-Id': upload.id } };
			},
			onResponseError: (_, error) => {
				if (error instanceof Error) log.error({ err: error }, 'An upload failed');
				return undefined;
			},
		});
		this.#tidying = setInterval(() => void this.#tidy(), TIDY_EVERY_MS);
		void this.#tidy();
	}

	/** @throws what the protocol answers when there is no room, or nothing is said of the file */
	async #checkUpload({ size, metadata }: Upload): Promise<void> {
		if (!aboutOf(metadata)) throw { status_code: 400, body: 'The upload does not say what file it is.' };
		const disk = await statfs(path.dirname(this.#folder)).catch(() => null);
		const room = disk ? disk.bavail * disk.bsize - RESERVE_BYTES : Infinity;
		if ((size ?? 0) > room)
			throw {
				status_code: 507,
				body: 'The disk of the server has no room for this file. Delete recordings or clips first.',
			};
	}

	/** Makes an entry of an upload that has come in whole. */
	async #take({ id, size, metadata }: Upload): Promise<void> {
		const about = aboutOf(metadata);
		if (!about) throw new Error('An upload has lost what was said of it.');
		await this.add({ id, name: nameOf(metadata), folder: metadata?.folder ?? '', bytes: size ?? 0, about }, (to) =>
			rename(path.join(this.#folder, 'incoming', id), to),
		);
		await this.#incoming.configstore.delete(id);
	}

	/**
	 * Adds a file.
	 * @param bring puts it where it belongs
	 */
	async add(
		{ id, name, folder, bytes, about }: Pick<Media, 'id' | 'name' | 'folder' | 'bytes' | 'about'>,
		bring: (to: string) => Promise<unknown>,
	): Promise<void> {
		await mkdir(this.#folder, { recursive: true });
		await bring(this.#pathOf(id));
		const row = {
			id,
			name,
			folder: folder.slice(0, 120),
			bytes,
			addedAt: Date.now(),
			about,
			settings: plainSettings(),
		};
		await this.#db
			.insert(media)
			.values({ ...row, analysis: null, deletedAt: null })
			.onDuplicateKeyUpdate({ set: { deletedAt: null } });
	}

	/** All that are not deleted, by name. */
	async list(): Promise<Media[]> {
		const rows = await this.#db.select().from(media).orderBy(asc(media.name));
		return rows.flatMap((row) => {
			const read = row.deletedAt === null ? v.safeParse(mediaSchema, row) : null;
			if (read && !read.success) log.warn({ media: row.id }, 'A file of the media library cannot be read');
			return read?.success ? [read.output] : [];
		});
	}

	/** Of each file whether it can be played, as far as anybody has looked: one whose file is shorter than it was is torn. */
	async states(): Promise<Map<string, 'good' | 'damaged'>> {
		const rows = await this.#db.select({ id: media.id, bytes: media.bytes }).from(media).where(isNull(media.deletedAt));
		const looked = rows.map(async ({ id, bytes }): Promise<[string, 'good' | 'damaged'] | null> => {
			const found = await stat(this.#pathOf(id)).catch(() => null);
			return found && [id, found.size === bytes ? 'good' : 'damaged'];
		});
		return new Map((await Promise.all(looked)).filter((each) => each !== null));
	}

	/** Path and size of a file; null when there is none. Deleted ones are there until they are gone for good. */
	async find(id: string): Promise<{ path: string; bytes: number; about: MediaAbout } | null> {
		if (!v.is(idSchema, id)) return null;
		const [row] = await this.#db.select().from(media).where(eq(media.id, id));
		const about = v.safeParse(mediaAboutSchema, row?.about);
		const there = await stat(this.#pathOf(id)).catch(() => null);
		return about.success && there ? { path: this.#pathOf(id), bytes: there.size, about: about.output } : null;
	}

	/** @throws {Refusal} when there is no such file */
	async change(id: string, { deleted, ...change }: Change): Promise<void> {
		const [row] = await this.#db.select({ id: media.id }).from(media).where(eq(media.id, id));
		if (!row) throw refuse('notFound', { what: 'file' });
		const deletion = deleted === undefined ? {} : { deletedAt: deleted ? Date.now() : null };
		const set = { ...change, ...deletion };
		if (Object.keys(set).length > 0) await this.#db.update(media).set(set).where(eq(media.id, id));
	}

	/** @throws {Refusal} when it is no JPEG of a size that a poster or a strip can have */
	async setPicture(id: string, which: MediaPicture, bytes: Uint8Array): Promise<void> {
		if (!(await this.find(id))) throw refuse('notFound', { what: 'file' });
		if (bytes.length > MOST_PICTURE_BYTES || !isJpeg(bytes)) throw refuse('body', { problem: 'jpeg', field: '' });
		await writeFile(`${this.#pathOf(id)}.${which}`, bytes);
	}

	async picture(id: string, which: MediaPicture): Promise<Buffer | null> {
		if (!v.is(idSchema, id)) return null;
		return readFile(`${this.#pathOf(id)}.${which}`).catch(() => null);
	}

	/** Where a file and its pictures lie: the file first, if it is there. */
	async filesOf(id: string): Promise<{ ending: '' | `.${MediaPicture}`; path: string }[]> {
		const files = (['', '.poster', '.strip'] as const).map((ending) => ({
			ending,
			path: `${this.#pathOf(id)}${ending}`,
		}));
		const there = await Promise.all(
			files.map(({ path: file }) =>
				stat(file).then(
					() => true,
					() => false,
				),
			),
		);
		return there[0] ? files.filter((_, i) => there[i]) : [];
	}

	/** The id under which a file can come in: its own, unless something else has that; and whether it is here already. */
	async freeIdFor(
		id: string,
		{ bytes, sha256 }: { bytes: number; sha256: string },
	): Promise<{ id: string; isKnown: boolean }> {
		const rows = await this.#db
			.select({ id: media.id, deletedAt: media.deletedAt })
			.from(media)
			.where(or(eq(media.id, id), eq(media.bytes, bytes)));
		// One that was deleted is no match: it will be gone for good.
		for (const row of rows.filter(({ deletedAt }) => deletedAt === null)) {
			const here = await this.find(row.id);
			if (here?.bytes === bytes && (await hashOfFile(here.path)) === sha256) return { id: row.id, isKnown: true };
		}
		return { id: rows.some((row) => row.id === id) ? randomUUID() : id, isKnown: false };
	}

	/** Takes in a file with all that is known of it. @param pictureOf path of its poster or strip, if there is one */
	async bringIn(
		{ id, addedAt, analysis, settings, ...rest }: Media,
		file: string,
		pictureOf: (ending: MediaPicture) => string | null,
	): Promise<void> {
		for (const ending of ['poster', 'strip'] as const) {
			const picture = pictureOf(ending);
			if (picture) await setPlace(picture, `${this.#pathOf(id)}.${ending}`);
		}
		await this.add({ id, ...rest }, (to) => setPlace(file, to));
		await this.#db.update(media).set({ addedAt, analysis, settings }).where(eq(media.id, id));
	}

	/** Removes a file for good. */
	async forget(id: string): Promise<void> {
		for (const end of ['', '.poster', '.strip']) await rm(`${this.#pathOf(id)}${end}`, { force: true });
		await this.#db.delete(media).where(eq(media.id, id));
	}

	#pathOf(id: string): string {
		return path.join(this.#folder, id);
	}

	/** Removes what was deleted long ago, and uploads that nobody goes on with. */
	async #tidy(): Promise<void> {
		try {
			await this.#incoming.deleteExpired().catch(() => 0);
			const old = and(isNotNull(media.deletedAt), lt(media.deletedAt, Date.now() - KEPT_MS));
			const rows = await this.#db.select({ id: media.id }).from(media).where(old);
			const used = rows.length > 0 ? await this.#usedIds() : new Set();
			for (const { id } of rows) {
				if (!used.has(id)) await this.forget(id);
			}
		} catch (error) {
			log.warn({ err: error }, 'The media library was not tidied');
		}
	}

	close(): void {
		clearInterval(this.#tidying);
	}
}

function aboutOf(metadata: Upload['metadata']): MediaAbout | null {
	try {
		const about = v.safeParse(mediaAboutSchema, JSON.parse(metadata?.about ?? 'null'));
		return about.success ? about.output : null;
	} catch {
		return null;
	}
}

function nameOf(metadata: Upload['metadata']): string {
	const name = (metadata?.filename ?? '').replace(/\.[^.]+$/, '').trim();
	return name.slice(0, MOST_NAME_LETTERS) || 'Clip';
}

function isJpeg(bytes: Uint8Array): boolean {
	try {
		return imageSize(bytes).type === 'jpg';
	} catch {
		return false;
	}
}
