import { createHash } from 'node:crypto';
import { copyFile, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { afterEach, beforeEach, describe, expect, inject, it } from 'vitest';
import { plainClip, wholeItem } from '../../src/core/show/clips/clip.ts';
import { plainSource } from '../../src/core/show/sources/source.ts';
import { plainAsks } from '../../src/core/show/templates/template.ts';
import { readPlain } from '../../src/core/words/formats/plain.ts';
import { lookAt } from '../../src/server/bundle/read.ts';
import { writeBundle, type BundleOrder } from '../../src/server/bundle/write.ts';
import { createEvent, listEvents, putAway } from '../../src/server/events.ts';
import { openApp, ownDatabase, testFolder } from '../support/app.ts';

type App = Awaited<ReturnType<typeof openApp>>['app'];
const PICTURE = { width: 1280, height: 720, fps: 30 } as const;
const ALL: BundleOrder = { eventIds: null, passphrase: null };
let temporary: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
let app: App;

async function opened(): Promise<void> {
	temporary = await testFolder();
	running = await openApp(await ownDatabase(inject('databaseUrl'), 'bundle'), temporary.folder);
	({ app } = running);
}
async function closed(): Promise<void> {
	await running.close();
	await temporary.remove();
}
beforeEach(opened);
afterEach(closed);

/** Another machine: an empty database, an empty folder, another key. */
async function wipe(): Promise<void> {
	await closed();
	await opened();
}

/** An event with a song, a clip, a still, a destination with a key, and a template of it. */
async function fill(): Promise<string> {
	const song = readPlain('# Verse 1\nCarry the water', 'Carry the Water');
	const added = (await app.songs.add(song)) as { id: string };
	const film = path.join(temporary.folder, 'film');
	await writeFile(film, Buffer.alloc(300_000, 'film'));
	const about = {
		...{ kind: 'video' as const, lengthMs: 90_000, sound: null },
		picture: { width: 1280, height: 720, fps: 30, codec: 'avc1.640028', alpha: false },
	};
	await app.media.add({ id: 'film', name: 'Season on the fell', folder: '2026', bytes: 300_000, about }, (to) =>
		copyFile(film, to),
	);
	await app.destinations.save(
		{
			...{
				id: 'ridge',
				name: 'Ridge Channel',
				address: 'rtmp://127.0.0.1/ridge',
				userName: '',
				hasKey: true,
				keyLasts: false,
			},
			...{ maxHeight: null, maxKbps: null, maxFps: null, accountUrl: null, signed: null, watch: null },
		},
		{ key: 'a-secret-key', password: '', token: '' },
	);
	const id = await createEvent(app, 'Lantern Night', '2026-11-28T19:00', PICTURE);
	const { hub } = await app.events.owner(id);
	const png = await readFile('static/favicon.png').catch(() => ONE_PIXEL);
	const fileId = await app.stills.keep(id, png);
	const clip = plainSource('film', 'Film', { kind: 'clip', ...plainClip([wholeItem('film', 'Season', 90_000)]) });
	const still = plainSource('sheet', 'Booking sheet', { kind: 'still', fileId, fileName: 'sheet.png' });
	for (const source of [clip, still]) await hub.submitAsServer({ type: 'addSource', source });
	await hub.submitAsServer({ type: 'addWords', item: { id: 'water', songId: added.id, song } });
	await app.templates.make('Hut evening', plainAsks(hub.state.setup), hub.state);
	return id;
}
const ONE_PIXEL = Buffer.from(
	'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
	'base64',
);

const exported = async (order: BundleOrder) => buffer((await writeBundle(app, order)).stream);
const imported = async (zip: Buffer, passphrase: string | null = null) => {
	const { id, summary } = await app.bundles.receive(Readable.toWeb(Readable.from([zip])) as ReadableStream);
	return { summary, ...(await app.bundles.take(id, passphrase)) };
};
const hashOf = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');

describe('a bundle', () => {
	it('is exported, everything is wiped, it is imported, and exported again it is the same, byte for byte', async () => {
		const id = await fill();
		const zip = await exported(ALL);
		expect(zip.includes('a-secret-key')).toBe(false);
		expect(hashOf(await exported(ALL))).toBe(hashOf(zip));
		await wipe();
		const { summary, events } = await imported(zip);
		expect(summary).toMatchObject({
			events: ['Lantern Night'],
			templates: ['Hut evening'],
			songs: 1,
			media: 1,
			bytes: 300_000,
		});
		expect(events).toEqual([id]);
		expect(hashOf(await exported(ALL))).toBe(hashOf(zip));
		const { hub } = await app.events.owner(id);
		expect(hub.state.setup.sources.map(({ name }) => name)).toEqual(['Film', 'Booking sheet']);
		expect((await app.destinations.list())[0]).toMatchObject({ hasKey: false });
	});

	it('comes beside what is here: nothing is taken twice, and what has an id of something else gets another one', async () => {
		const id = await fill();
		const zip = await exported({ eventIds: [id], passphrase: null });
		await app.media.forget('film');
		const other = path.join(temporary.folder, 'other');
		await writeFile(other, Buffer.alloc(300_000, 'other'));
		const about = { kind: 'video' as const, lengthMs: 1000, sound: null, picture: null };
		await app.media.add({ id: 'film', name: 'Another film', folder: '', bytes: 300_000, about }, (to) =>
			copyFile(other, to),
		);
		const { events } = await imported(zip);
		expect(events).toHaveLength(1);
		expect(events[0]).not.toBe(id);
		// One that was deleted may still be brought back, and keeps its id.
		await putAway(app.db, id, { deleted: true });
		expect((await imported(zip)).events[0]).not.toBe(id);
		expect(await app.songs.all()).toHaveLength(1);
		// The second time it is here already, under the id it got.
		const media = await app.media.list();
		expect(media.map(({ name }) => name).toSorted()).toEqual(['Another film', 'Season on the fell']);
		const [clip] = (await app.events.owner(events[0]!)).hub.state.setup.sources;
		expect(clip).toMatchObject({ items: [{ mediaId: media.find(({ name }) => name !== 'Another film')!.id }] });
	});

	it('carries keys only when they are sealed, and opens them with the same passphrase only', async () => {
		await fill();
		const zip = await exported({ eventIds: null, passphrase: 'lamp on the col' });
		expect(zip.includes('a-secret-key')).toBe(false);
		await wipe();
		await expect(imported(zip, 'another one altogether')).rejects.toMatchObject({ reason: { code: 'passphrase' } });
		expect(await app.songs.all()).toEqual([]);
		expect((await imported(zip, 'lamp on the col')).summary.hasSecrets).toBe(true);
		expect(await app.destinations.secretOf('ridge')).toMatchObject({ key: 'a-secret-key' });
	});

	it('that is torn, forged or none at all changes nothing, and says why', async () => {
		const id = await fill();
		const zip = await exported(ALL);
		await wipe();
		const film = zip.indexOf(Buffer.alloc(100, 'film'));
		const forged = Buffer.from(zip);
		forged[film + 50] = 88;
		const broken: [string, Buffer, string][] = [
			['torn', zip.subarray(0, zip.length - 100), 'torn'],
			['forged', forged, 'torn'],
			['text', Buffer.from('no zip'), 'none'],
			['empty', Buffer.alloc(0), 'none'],
		];
		for (const [name, bytes, why] of broken)
			await expect(imported(bytes), name).rejects.toMatchObject({ reason: { code: 'bundle', about: { why } } });
		const file = path.join(temporary.folder, 'whole.zip');
		await writeFile(file, zip);
		const small = lookAt(file, path.join(temporary.folder, 'looked'), 200_000);
		await expect(small, 'larger than the disk').rejects.toMatchObject({ reason: { code: 'diskFull' } });
		expect(await listEvents(app.db)).toEqual([]);
		expect([await app.songs.all(), await app.media.list(), await app.templates.list()]).toEqual([[], [], []]);
		expect((await imported(zip)).events).toEqual([id]);
	});
});
