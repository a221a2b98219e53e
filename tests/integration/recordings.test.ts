import { mkdir, readdir, readFile, rm, truncate } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { Recorder } from '../../src/server/broadcast/recorder.ts';
import { insertEvent } from '../../src/server/events.ts';
import { copyPart, durationOf } from '../../src/server/files/copy-part.ts';
import { emptyShow } from '../../src/core/show/state.ts';
import { openApp, testFolder } from '../support/app.ts';
import { decodeAll, makeMaterial, probePackets, type Material } from '../support/media.ts';

const EVENT = 'recorded-night';
const STARTED_AT = Date.UTC(2026, 10, 28, 18, 45);
let temporary: Awaited<ReturnType<typeof testFolder>>;
let open: Awaited<ReturnType<typeof openApp>>;
let material: Material;
let folder: string;
beforeAll(async () => {
	temporary = await testFolder();
	open = await openApp(inject('databaseUrl'), temporary.folder);
	material = await makeMaterial(temporary.folder);
	await insertEvent(open.app.db, emptyShow(EVENT, 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }));
	folder = open.app.recordings.folderOf(EVENT);
});
afterAll(async () => {
	await open.close();
	await temporary.remove();
});

/** Records the material in pieces, as on air. */
async function record(name: string, startedAt: number): Promise<string> {
	const { recordings } = open.app;
	await mkdir(folder, { recursive: true });
	const id = `${name}-${startedAt}`;
	const file = `${name}.mp4`;
	await recordings.begin([{ id, eventId: EVENT, broadcastId: name, startedAt, file, kind: 'program', name: '' }]);
	const recorder = await Recorder.begin(path.join(folder, `${name}.mp4`), material.video, material.audio, (error) => {
		throw error;
	});
	for (const packet of material.packets) recorder.write(packet);
	await recorder.end();
	return id;
}
const found = async (id: string) => {
	const there = (await open.app.recordings.find(EVENT, id))!;
	return { ...there, path: there.path! };
};
const hasPieces = async (file: string) => (await readFile(file)).includes('moof');

it('a recording that has ended becomes an ordinary file, with nothing lost', async () => {
	const id = await record('evening', STARTED_AT);
	const before = await found(id);
	expect(await hasPieces(before.path)).toBe(true);
	const packets = await probePackets(before.path);
	await open.app.recordings.finish(EVENT, id, STARTED_AT + 700);
	const after = await found(id);
	expect(after).toMatchObject({ startedAt: STARTED_AT + 700, file: 'evening.mp4' });
	expect(after.endedAt! - after.startedAt).toBeGreaterThan(19_500);
	expect(await hasPieces(after.path)).toBe(false);
	expect(await decodeAll(after.path)).toBe('');
	expect(await probePackets(after.path)).toHaveLength(packets.length);
});

it('an excerpt begins at the key frame before, and is a recording of its own', async () => {
	const [row] = await open.app.recordings.list(EVENT);
	const excerpt = await found(await open.app.recordings.cut(await found(row!.id), { fromS: 5.2, toS: 9 }));
	expect(excerpt.startedAt).toBe(row!.startedAt + 4000);
	expect(await decodeAll(excerpt.path)).toBe('');
	const packets = await probePackets(excerpt.path);
	expect(packets.find(({ kind }) => kind === 'video')).toMatchObject({ key: true });
	// Key frames are two seconds apart: from 4 to 9.
	expect(await durationOf(excerpt.path)).toBeCloseTo(5, 1);
	await expect(open.app.recordings.cut(await found(row!.id), { fromS: 900, toS: 901 })).rejects.toThrow(
		'nothing between',
	);
	expect((await readdir(folder)).filter((file) => file.endsWith('.part'))).toEqual([]);
});

it('the sound comes alone', async () => {
	const [row] = await open.app.recordings.list(EVENT);
	const to = path.join(temporary.folder, 'sound.m4a');
	await copyPart((await found(row!.id)).path, to, { fromS: 0, toS: Infinity, soundOnly: true });
	const kinds = new Set((await probePackets(to)).map(({ kind }) => kind));
	expect([...kinds]).toEqual(['audio']);
	expect(await decodeAll(to)).toBe('');
});

it('what a power cut left in mid-word is finished up to its last whole piece', async () => {
	const id = await record('cut-short', STARTED_AT + 60_000);
	const { path: file, bytes } = await found(id);
	await truncate(file, Math.round(bytes * 0.6));
	await open.app.recordings.finishLeftOver(EVENT, new Set());
	const after = await found(id);
	expect(after.endedAt).not.toBeNull();
	expect(await decodeAll(after.path)).toBe('');
	expect(await durationOf(after.path)).toBeGreaterThan(8);
});

it('deleting can be undone, and a file that is gone is said to be', async () => {
	const { recordings } = open.app;
	const all = (await recordings.list(EVENT)).map(({ id }) => id);
	await recordings.setDeleted(EVENT, all[0]!, true);
	expect((await recordings.list(EVENT)).map(({ id }) => id)).toEqual(all.slice(1));
	await recordings.setDeleted(EVENT, all[0]!, false);
	expect((await recordings.list(EVENT)).map(({ id }) => id)).toEqual(all);
	await rm((await found(all[0]!)).path);
	expect(await recordings.find(EVENT, all[0]!)).toBeNull();
});
