/** Writes a bundle: the same things make the same bytes. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { ZipFile } from 'yazl';
import { BUNDLE_FILE, BUNDLE_VERSION, filesOf, type Bundle, type BundledFile } from '../../core/bundle/bundle.ts';
import { isClip } from '../../core/show/clips/source.ts';
import type { SavedDestination, ShowState } from '../../core/show/state.ts';
import type { Bivvo } from '../bivvo.ts';
import { listEvents } from '../events.ts';
import { sealWith } from './passphrase.ts';

type Parts = Pick<Bivvo, 'db' | 'destinations' | 'events' | 'media' | 'songs' | 'stills' | 'templates'>;

/** No time of the day it was made in is in the file. */
const MTIME = new Date(2020, 0, 1);

export interface BundleOrder {
	/** Events by id; all that were not deleted, and the whole library, when null. */
	eventIds: readonly string[] | null;
	/** Null leaves keys and passwords at home. */
	passphrase: string | null;
}

/** A bundle as it is written. */
export interface Written {
	bundle: Bundle;
	stream: Readable;
}

export async function writeBundle(parts: Parts, { eventIds, passphrase }: BundleOrder): Promise<Written> {
	const listed = (await listEvents(parts.db)).map(({ id }) => id);
	const ids = (eventIds ?? listed).toSorted();
	const shows = await Promise.all(ids.map((id) => parts.events.stateOf(id)));
	const events = shows.map((show) => ({
		id: show.eventId,
		title: show.setup.title,
		show: shownIn(show, passphrase),
	}));
	const templates = eventIds === null ? await templatesOf(parts) : [];
	const of = [...shows, ...templates.map(({ show }) => show)];
	const stills = await stillsOf(parts, of);
	const { media, paths: mediaPaths } = await mediaOf(parts, eventIds === null ? null : usedMedia(of));
	const bundle: Bundle = {
		format: 'bivvo',
		version: BUNDLE_VERSION,
		events,
		templates: templates.map(({ id, name, asks, show }) => ({ id, name, asks, show: shownIn(show, passphrase) })),
		songs: await songsOf(parts, eventIds === null ? null : usedSongs(of)),
		media,
		stills: stills.map(({ path: _, ...still }) => still),
		...(await destinationsOf(parts, of, passphrase)),
	};
	const paths = new Map([...mediaPaths, ...stills.map(({ file, path }) => [file.path, path] as const)]);
	return { bundle, stream: zipOf(bundle, paths) };
}

/** A show without what only that evening knew; it has keys only where they come with it. */
function shownIn({ version, eventId, setup }: ShowState, passphrase: string | null) {
	const destinations = setup.destinations.map((each) => ({ ...withKey(each, passphrase), hostBroadcast: null }));
	return { version, eventId, setup: { ...setup, destinations }, live: {} };
}

/** Signed in to a host is this server alone. */
function withKey<D extends SavedDestination>(destination: D, passphrase: string | null): D {
	return { ...destination, hasKey: destination.hasKey && passphrase !== null, signed: null, watch: null };
}

function zipOf(bundle: Bundle, paths: ReadonlyMap<string, string>): Readable {
	const zip = new ZipFile();
	const how = { mtime: MTIME, forceDosTimestamp: true, mode: 0o100600 };
	zip.addBuffer(Buffer.from(JSON.stringify(bundle, null, '\t')), BUNDLE_FILE, how);
	// Films and pictures are packed already.
	for (const { path } of filesOf(bundle)) zip.addFile(paths.get(path)!, path, { ...how, compress: false });
	zip.end();
	return zip.outputStream as Readable;
}

async function templatesOf({ templates }: Parts) {
	const all = await Promise.all((await templates.list()).map(({ id }) => templates.get(id)));
	return all.toSorted((a, b) => (a.id < b.id ? -1 : 1));
}

function usedMedia(shows: readonly ShowState[]): Set<string> {
	const clips = shows.flatMap(({ setup }) => setup.sources.filter(isClip));
	return new Set(clips.flatMap(({ items }) => items.map(({ mediaId }) => mediaId)));
}

function usedSongs(shows: readonly ShowState[]): Set<string> {
	return new Set(shows.flatMap(({ setup }) => setup.words.items.flatMap(({ songId }) => songId ?? [])));
}

async function songsOf({ songs }: Parts, used: ReadonlySet<string> | null): Promise<Bundle['songs']> {
	const rows = (await songs.all()).filter(({ id }) => used === null || used.has(id));
	return rows.toSorted((a, b) => (a.id < b.id ? -1 : 1));
}

async function mediaOf({ media }: Parts, used: ReadonlySet<string> | null) {
	const paths = new Map<string, string>();
	const made: Bundle['media'] = [];
	for (const { id, bytes: _, ...about } of (await media.list()).toSorted((a, b) => (a.id < b.id ? -1 : 1))) {
		if (used !== null && !used.has(id)) continue;
		const [file, ...pictures] = await media.filesOf(id);
		// One whose file is gone is not there to be sent.
		if (!file) continue;
		const bundled = await Promise.all(
			[file, ...pictures].map((each) => bundledFile(`media/${id}${each.ending}`, each.path)),
		);
		[file, ...pictures].forEach((each, i) => paths.set(bundled[i]!.path, each.path));
		made.push({ id, ...about, file: bundled[0]!, pictures: bundled.slice(1) });
	}
	return { media: made, paths };
}

async function stillsOf({ stills }: Parts, shows: readonly ShowState[]) {
	const made: (Bundle['stills'][number] & { path: string })[] = [];
	for (const { eventId, setup } of shows)
		for (const source of setup.sources) {
			if (source.kind !== 'still') continue;
			const path = await stills.find(eventId, source.fileId);
			const isKnown = made.some(({ of, id }) => of === eventId && id === source.fileId);
			if (!path || isKnown) continue;
			const file = await bundledFile(`stills/${eventId}/${source.fileId}`, path);
			made.push({ of: eventId, id: source.fileId, file, path });
		}
	return made;
}

async function destinationsOf({ destinations }: Parts, shows: readonly ShowState[], passphrase: string | null) {
	const used = new Set(shows.flatMap(({ setup }) => setup.destinations.map(({ id }) => id)));
	const all = (await destinations.list()).filter(({ id }) => used.has(id)).toSorted((a, b) => (a.id < b.id ? -1 : 1));
	if (passphrase === null) return { destinations: all.map((each) => withKey(each, null)), secrets: null };
	const secrets = await Promise.all(all.map(async ({ id }) => [id, await destinations.secretOf(id)] as const));
	return {
		destinations: all.map((each) => withKey(each, passphrase)),
		secrets: await sealWith(passphrase, JSON.stringify(Object.fromEntries(secrets))),
	};
}

async function bundledFile(path: string, from: string): Promise<BundledFile> {
	const hash = createHash('sha256');
	let bytes = 0;
	await pipeline(createReadStream(from), async (chunks) => {
		for await (const chunk of chunks as AsyncIterable<Buffer>) {
			bytes += chunk.length;
			hash.update(chunk);
		}
	});
	return { path, bytes, sha256: hash.digest('hex') };
}
