/** Reads a bundle: all of it is looked at before anything is taken in, and then all of it is, or nothing. */
import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, open, rm } from 'node:fs/promises';
import path from 'node:path';
import type { Readable } from 'node:stream';
import { text } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import * as v from 'valibot';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import {
	BUNDLE_FILE,
	BUNDLE_VERSION,
	bundleSchema,
	filesOf,
	summaryOf,
	withOtherIds,
	type Bundle,
	type BundledFile,
	type BundleSummary,
} from '../../core/bundle/bundle.ts';
import { refuse } from '../../core/refusal.ts';
import { openShow } from '../../core/show/stored.ts';
import type { Bivvo } from '../bivvo.ts';
import { hasEvent, insertEvent, newEventId, removeEvent } from '../events.ts';
import { unsealWith } from './passphrase.ts';

type Parts = Pick<Bivvo, 'db' | 'destinations' | 'events' | 'media' | 'songs' | 'stills' | 'templates'>;

/** More text than this is none of ours. */
const MOST_JSON_BYTES = 200e6;
const MOST_ENTRIES = 100_000;

const openZip = promisify(yauzl.open.bind(yauzl)) as (file: string, options: yauzl.Options) => Promise<ZipFile>;

/** A bundle whose files were found to be what it says. */
export interface Looked {
	bundle: Bundle;
	/** Where its files lie meanwhile, by their paths in it. */
	files: ReadonlyMap<string, string>;
	summary: BundleSummary;
}

/**
 * Looks at a bundle from end to end.
 * @param folder for its files meanwhile
 * @param mostBytes that its files may have together: they may be packed to much less
 * @throws {Refusal} when it is torn, forged, of a later version, no bundle, or larger than the disk has room for
 */
export async function lookAt(file: string, folder: string, mostBytes: number): Promise<Looked> {
	const zip = await opened(file);
	try {
		const entries = await entriesOf(zip);
		const json = entries.get(BUNDLE_FILE);
		if (!json || json.uncompressedSize > MOST_JSON_BYTES) throw refuse('bundle', { why: 'none' });
		const bundle = parsed(await textOf(zip, json));
		const said = filesOf(bundle);
		if (said.reduce((sum, { bytes }) => sum + bytes, 0) > mostBytes) throw refuse('diskFull', {});
		const files = new Map<string, string>();
		await mkdir(folder, { recursive: true });
		for (const each of said) {
			const entry = entries.get(each.path);
			if (entry?.uncompressedSize !== each.bytes) throw refuse('bundle', { why: 'torn' });
			const to = path.join(folder, randomUUID());
			await extract(zip, entry, each, to);
			files.set(each.path, to);
		}
		return { bundle, files, summary: summaryOf(bundle) };
	} finally {
		zip.close();
	}
}

async function opened(file: string): Promise<ZipFile> {
	try {
		return await openZip(file, { lazyEntries: true, autoClose: false });
	} catch {
		throw refuse('bundle', { why: (await beginsAsZip(file)) ? 'torn' : 'none' });
	}
}

/** Whether a file begins as a zip does (APPNOTE 4.3.7): one that then has no end is torn. */
async function beginsAsZip(file: string): Promise<boolean> {
	const handle = await open(file);
	try {
		const { buffer, bytesRead } = await handle.read({ buffer: Buffer.alloc(4) });
		return bytesRead === 4 && buffer.readUInt32LE() === 0x04034b50;
	} finally {
		await handle.close();
	}
}

function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
	const entries = new Map<string, Entry>();
	return new Promise((resolve, reject) => {
		const torn = () => reject(refuse('bundle', { why: 'torn' }));
		zip.on('entry', (entry: Entry) => {
			entries.set(entry.fileName, entry);
			if (entries.size > MOST_ENTRIES) torn();
			else zip.readEntry();
		});
		zip.once('end', () => resolve(entries));
		zip.once('error', torn);
		zip.readEntry();
	});
}

const streamOf = (zip: ZipFile, entry: Entry) =>
	new Promise<Readable>((resolve, reject) =>
		zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))),
	);

async function textOf(zip: ZipFile, entry: Entry): Promise<string> {
	try {
		return await text(await streamOf(zip, entry));
	} catch {
		throw refuse('bundle', { why: 'torn' });
	}
}

function parsed(written: string): Bundle {
	let json: unknown;
	try {
		json = JSON.parse(written);
	} catch {
		throw refuse('bundle', { why: 'torn' });
	}
	const version = v.safeParse(v.object({ format: v.literal('bivvo'), version: v.number() }), json);
	if (!version.success) throw refuse('bundle', { why: 'none' });
	if (version.output.version > BUNDLE_VERSION) throw refuse('newerVersion', { version: version.output.version });
	const read = v.safeParse(bundleSchema, json);
	if (!read.success) throw refuse('bundle', { why: 'torn' });
	// A show of a later version is refused here, before anything is taken in.
	for (const { id, title, show } of read.output.events) openShow(id, title, show);
	for (const { id, name, show } of read.output.templates) openShow(id, name, show);
	return read.output;
}

async function extract(zip: ZipFile, entry: Entry, { bytes, sha256 }: BundledFile, to: string): Promise<void> {
	const hash = createHash('sha256');
	let count = 0;
	try {
		await pipeline(
			await streamOf(zip, entry),
			async function* (chunks: AsyncIterable<Buffer>) {
				for await (const chunk of chunks) {
					count += chunk.length;
					hash.update(chunk);
					yield chunk;
				}
			},
			createWriteStream(to, { mode: 0o600 }),
		);
	} catch {
		throw refuse('bundle', { why: 'torn' });
	}
	if (count !== bytes || hash.digest('hex') !== sha256) throw refuse('bundle', { why: 'torn' });
}

/**
 * Takes a bundle in. What is here already, byte for byte, is not taken twice; what has an id of something else gets another one.
 * @returns ids of its events here
 * @throws {Refusal} when the passphrase is another one; nothing is changed then
 */
export async function takeIn(
	parts: Parts,
	{ bundle, files }: Looked,
	passphrase: string | null,
): Promise<{ events: string[] }> {
	const sealed = bundle.secrets;
	const secrets =
		sealed && passphrase !== null
			? (JSON.parse(await unsealWith(passphrase, sealed)) as Record<
					string,
					{ key: string; password: string; token: string }
				>)
			: {};
	const ids = new Map<string, string>();
	const placed: (() => Promise<unknown>)[] = [];
	try {
		for (const { id, file, pictures, ...about } of bundle.media) {
			const here = await parts.media.freeIdFor(id, file);
			if (here.id !== id) ids.set(`mediaId ${id}`, here.id);
			if (here.isKnown) continue;
			placed.push(() => parts.media.forget(here.id));
			await parts.media.bringIn({ id: here.id, ...about, bytes: file.bytes }, files.get(file.path)!, (ending) => {
				const picture = pictures.find((each) => each.path.endsWith(ending));
				return picture ? files.get(picture.path)! : null;
			});
		}
		for (const { id, song, changedAt } of bundle.songs) {
			const here = await parts.songs.freeIdFor(id, song);
			if (here.id !== id) ids.set(`songId ${id}`, here.id);
			if (here.isKnown) continue;
			placed.push(() => parts.songs.remove(here.id));
			await parts.songs.put(here.id, song, changedAt);
		}
		for (const destination of bundle.destinations) {
			// What is sent where is never changed by a file from outside.
			if ((await parts.destinations.list()).some(({ id }) => id === destination.id)) continue;
			placed.push(() => parts.destinations.forget(destination.id));
			const secret = secrets[destination.id] ?? { key: '', password: '', token: '' };
			await parts.destinations.save({ ...destination, hasKey: secret.key !== '' }, secret);
		}
		for (const { id, name, asks, show } of bundle.templates) {
			const here = (await parts.templates.find(id)) ? randomUUID() : id;
			placed.push(() => parts.templates.forget(here));
			const { state } = openShow(here, name, withOtherIds(show, ids));
			await parts.templates.make(name, asks, state, here);
			await bringStills(parts, bundle, files, id, here);
			placed.push(() => parts.stills.forget(here));
		}
		const events: string[] = [];
		for (const { id, title, show } of bundle.events) {
			const here = (await hasEvent(parts.db, id)) ? newEventId(title) : id;
			placed.push(() => removeEvent(parts.db, here));
			const { state } = openShow(here, title, withOtherIds(show, ids));
			await bringStills(parts, bundle, files, id, here);
			placed.push(() => parts.stills.forget(here));
			await insertEvent(parts.db, { ...state, eventId: here });
			events.push(here);
		}
		return { events };
	} catch (error) {
		for (const undo of placed.toReversed()) await undo().catch(() => {});
		throw error;
	}
}

async function bringStills(
	{ stills }: Parts,
	bundle: Bundle,
	files: ReadonlyMap<string, string>,
	of: string,
	here: string,
): Promise<void> {
	for (const still of bundle.stills)
		if (still.of === of) await stills.bringIn(here, still.id, files.get(still.file.path)!);
}

/** Throws a looked-at bundle away. */
export function throwAway(folder: string): Promise<void> {
	return rm(folder, { recursive: true, force: true });
}
