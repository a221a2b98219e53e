/**
 * What guests' browsers have recorded of them: comes in by resumable uploads, waits until the broadcast has ended, and is put
 * beside the program where the same voice is heard.
 */
import { randomUUID } from 'node:crypto';
import { mkdir, readdir, readFile, rename, rm, stat, statfs, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import * as v from 'valibot';
import { MOST_OWN_BYTES, ownRecordingSchema, type OwnRecording } from '../../core/guests/own-recording.ts';
import { idSchema, nameSchema } from '../../core/show/basics.ts';
import { log } from '../log.ts';
import { copyPlaced, endingFor } from './copy-placed.ts';
import { placeOwn } from './place-own.ts';
import type { RecordingRow, Recordings } from './recordings.ts';

/** URL path of a guest's uploads, with those of the event and the guest's link, and that of one upload. */
const UPLOAD_PATH = /^\/api\/events\/([\w-]{1,64})\/guest\/([\w-]{1,64})\/recording(?:\/([\w-]{1,64}))?\/?$/;
/** What the disk keeps free for recordings, bytes. */
const RESERVE_BYTES = 2e9;
/** A guest's browser begins a new one with each change of a device. */
const MOST_OF_A_GUEST = 60;
/** An upload that is not finished is kept as long. */
const KEPT_MS = 7 * 24 * 3600 * 1000;
const TIDY_EVERY_MS = 3600 * 1000;
/** A guest's clock, and all that their line does, is this far off at most. */
const CLOCKS_MS = 10_000;

/** One that is whole, and waits to be placed. */
const waitingSchema = v.object({
	...ownRecordingSchema.entries,
	id: idSchema,
	eventId: idSchema,
	name: nameSchema,
});
type Waiting = v.InferOutput<typeof waitingSchema>;

/** How a guest is called, and the event's broadcast now, or its last one. */
type AboutGuest = (eventId: string, guestId: string) => Promise<{ name: string; broadcastId: string | null }>;

export class OwnRecordings {
	readonly #folder: string;
	readonly #recordings: Recordings;
	readonly #aboutGuest: AboutGuest;
	readonly #tidying: NodeJS.Timeout;
	readonly #uploads: Server;
	readonly #incomingStore: FileStore;
	#placing: Promise<void> = Promise.resolve();

	/**
	 * @param folder of what comes in and waits; the folder it lies in is there
	 * @param aboutGuest what the show knows, by event and link
	 */
	constructor(folder: string, recordings: Recordings, aboutGuest: AboutGuest) {
		this.#folder = folder;
		this.#recordings = recordings;
		this.#aboutGuest = aboutGuest;
		this.#incomingStore = new FileStore({ directory: this.#incoming, expirationPeriodInMilliseconds: KEPT_MS });
		this.#uploads = new Server({
			path: '/api/events',
			datastore: this.#incomingStore,
			maxSize: MOST_OWN_BYTES,
			relativeLocation: true,
			respectForwardedHeaders: false,
			// Whose it is stands in its address, which the door has checked: nobody gets at another one's.
			namingFunction: (request) => {
				const { eventId, guestId } = addressOf(request);
				return `${eventId}~${guestId}~${randomUUID()}`;
			},
			generateUrl: (request, { id }) => `${new URL(request.url).pathname.replace(/\/$/, '')}/${id.split('~').at(-1)}`,
			getFileIdFromRequest: (request) => {
				const { eventId, guestId, upload } = addressOf(request);
				return upload && `${eventId}~${guestId}~${upload}`;
			},
			onUploadCreate: async (request, upload) => {
				await this.#check(request, upload);
				return {};
			},
			onUploadFinish: async (request, upload) => {
				await this.#keep(request, upload);
				return {};
			},
			onResponseError: (_, error) => {
				if (error instanceof Error) log.error({ err: error }, 'A guest’s recording was not taken');
				return undefined;
			},
		});
		recordings.onFinish(() => this.place());
		this.place();
		this.#tidying = setInterval(() => void this.#incomingStore.deleteExpired().catch(() => 0), TIDY_EVERY_MS);
		this.#tidying.unref();
	}

	get #incoming(): string {
		return path.join(this.#folder, 'incoming');
	}

	get #waiting(): string {
		return path.join(this.#folder, 'waiting');
	}

	/** A step of an upload (tus, version 1.0.0). */
	handle(request: Request): Promise<Response> {
		return this.#uploads.handleWeb(request);
	}

	/** @throws what the protocol answers when it cannot be taken */
	async #check(request: Request, { size, metadata }: Upload): Promise<void> {
		const about = aboutOf(metadata);
		if (!about || size === undefined)
			throw { status_code: 400, body: 'The upload does not say what recording it is, or how long.' };
		const { eventId, guestId } = addressOf(request);
		const rows = await this.#recordings.list(eventId);
		const { broadcastId } = await this.#aboutGuest(eventId, guestId);
		if (about.broadcastId !== broadcastId && !rows.some((row) => row.broadcastId === about.broadcastId))
			throw { status_code: 400, body: 'The event had no such broadcast.' };
		const all = await Promise.all([this.#incoming, this.#waiting].map((folder) => readdir(folder).catch(() => [])));
		// Beside each lies what is known of it.
		const coming = all
			.flat()
			.filter((name) => name.startsWith(`${eventId}~${guestId}~`) && !/\.(json|unplaced)$/.test(name));
		const placed = rows.filter(({ id }) => id.startsWith(`own-${guestId}-`));
		if (coming.length + placed.length >= MOST_OF_A_GUEST)
			throw { status_code: 400, body: 'These are more recordings than are taken.' };
		const disk = await statfs(path.dirname(this.#folder)).catch(() => null);
		const room = disk ? disk.bavail * disk.bsize - RESERVE_BYTES : Infinity;
		if (size > room) throw { status_code: 507, body: 'The disk of the server has no room for it.' };
	}

	/** Lets one that has come in whole wait until it can be placed. */
	async #keep(request: Request, { id, metadata }: Upload): Promise<void> {
		const about = aboutOf(metadata);
		if (!about) throw new Error('An upload has lost what was said of it.');
		const { eventId, guestId } = addressOf(request);
		const { name } = await this.#aboutGuest(eventId, guestId).catch(() => ({ name: '' }));
		const own = `own-${guestId}-${id.split('~').at(-1)!.slice(0, 8)}`;
		const waiting: Waiting = { ...about, id: own, eventId, name: name || 'Guest' };
		await mkdir(this.#waiting, { recursive: true });
		// What is known of it first: a server that dies in between finds the other where it came in.
		await writeFile(path.join(this.#waiting, `${id}.json`), JSON.stringify(waiting));
		await rename(path.join(this.#incoming, id), path.join(this.#waiting, id));
		await rm(path.join(this.#incoming, `${id}.json`), { force: true });
		this.place();
	}

	/** Places what can be placed now, one after another. */
	place(): void {
		this.#placing = this.#placing.then(() => this.#placeAll());
	}

	async #placeAll(): Promise<void> {
		const files = await readdir(this.#waiting).catch(() => []);
		for (const file of files.filter((each) => each.endsWith('.json'))) {
			const json = path.join(this.#waiting, file);
			const media = json.replace(/\.json$/, '');
			const read = v.safeParse(waitingSchema, await readJson(json));
			if (!read.success) continue;
			const isHere = await stat(media).catch(() => null);
			if (!isHere) await rename(path.join(this.#incoming, path.basename(media)), media).catch(() => {});
			try {
				await endingFor(media);
			} catch (error) {
				log.error({ file: media, err: error }, 'A guest’s recording cannot be read; it stays where it is');
				await rename(json, `${media}.unplaced`).catch(() => {});
				continue;
			}
			try {
				if (await this.#placeOne(media, read.output)) for (const each of [media, json]) await rm(each, { force: true });
			} catch (error) {
				// A database that is gone, a disk that is full: it is tried again with the next one, or by the next start.
				log.error({ file: media, err: error }, 'A guest’s recording cannot be placed yet');
			}
		}
	}

	/** @returns false while it has to wait */
	async #placeOne(media: string, { id, eventId, name, broadcastId, startedAt }: Waiting): Promise<boolean> {
		const rows = (await this.#recordings.list(eventId)).filter((row) => row.broadcastId === broadcastId);
		const programs = rows.filter(({ kind }) => kind === 'program');
		if (rows.some((row) => row.endedAt === null || this.#recordings.isFinishing(row.id))) return false;
		// A broadcast has a further recording for each start of the server.
		const program = programs.find((row) => row.startedAt <= startedAt + CLOCKS_MS) ?? programs.at(-1);
		const beganAt = program?.startedAt ?? startedAt;
		const beside = rows.filter((row) => row.kind === 'channel' && row.startedAt === beganAt);
		// What bears their name is most likely theirs.
		const sounds = beside.toSorted((a, b) => Number(b.name.includes(name)) - Number(a.name.includes(name)));
		const aboutS = (startedAt - beganAt) / 1000;
		const found = await Promise.all(sounds.map(({ id: sound }) => this.#recordings.find(eventId, sound)));
		const heard = await this.#recordings.withFiles(
			found.filter((each) => each !== null),
			(files) => placeOwn(media, files, aboutS),
		);
		const stem = program?.file.replace(/-program\.\w+$/, '') ?? `guest-${startedAt}`;
		const to = path.join(await this.#recordings.placeFor(eventId), `${stem}-${id}.${await endingFor(media)}`);
		const endS = await copyPlaced(media, to, heard ?? { beginsS: aboutS, rate: 1, isExact: false });
		const row: Omit<RecordingRow, 'place'> = {
			...{ id, eventId, broadcastId, name, startedAt: beganAt, deletedAt: null },
			endedAt: Math.round(beganAt + 1000 * endS),
			file: path.basename(to),
			bytes: (await stat(to)).size,
			kind: heard?.isExact ? 'own' : 'ownRoughly',
		};
		await this.#recordings.add(row);
		log.info(
			{ event: eventId, recording: id, placed: heard ?? 'by the clocks' },
			'A guest’s recording lies in its place',
		);
		return true;
	}

	/** Waits for what is being placed. */
	async close(): Promise<void> {
		clearInterval(this.#tidying);
		await this.#placing;
	}
}

function addressOf(request: Request): { eventId: string; guestId: string; upload: string | undefined } {
	const [, eventId, guestId, upload] = UPLOAD_PATH.exec(new URL(request.url).pathname) ?? [];
	if (!eventId || !guestId) throw new Error('This is no address of a guest’s recording.');
	return { eventId, guestId, upload };
}

function aboutOf(metadata: Upload['metadata']): OwnRecording | null {
	try {
		const about = v.safeParse(ownRecordingSchema, JSON.parse(metadata?.about ?? 'null'));
		return about.success ? about.output : null;
	} catch {
		return null;
	}
}

async function readJson(file: string): Promise<unknown> {
	try {
		return JSON.parse(await readFile(file, 'utf8'));
	} catch {
		return null;
	}
}
