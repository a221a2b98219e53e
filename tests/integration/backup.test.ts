import { copyFile, readdir, readFile, truncate, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { gunzipSync } from 'node:zlib';
import { afterEach, beforeEach, expect, inject, it } from 'vitest';
import { checkBackup, restoreBackup, writeBackup } from '../../src/server/backup/backup-file.ts';
import {
	backupName,
	Backups,
	backupTime,
	KEPT_BACKUPS,
	listBackups,
	mayBackUp,
} from '../../src/server/backup/backups.ts';
import { createEvent, listEvents } from '../../src/server/events.ts';
import { readPlain } from '../../src/core/words/formats/plain.ts';
import { ORGANISATION } from '../../src/core/nodes/lease-of.ts';
import { events } from '../../src/server/db/schema.ts';
import { Leases } from '../../src/server/nodes/leases.ts';
import { openApp, ownDatabase, testFolder } from '../support/app.ts';

const PICTURE = { width: 1280, height: 720, fps: 30 } as const;
const DAY_MS = 24 * 3_600_000;
let url: string;
let temporary: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>> | null = null;
const fileOf = (name: string) => path.join(temporary.folder, name);
/** All rows, without the moment at which they were read. */
const rowsOf = async (file: string) =>
	gunzipSync(await readFile(file))
		.toString('utf8')
		.split('\n')
		.slice(1);

beforeEach(async () => {
	temporary = await testFolder();
	url = await ownDatabase(inject('databaseUrl'), 'backup');
});
afterEach(async () => {
	await running?.close();
	running = null;
	await temporary.remove();
});

/** Opens the server for a while. */
async function withServer<T>(act: (app: Awaited<ReturnType<typeof openApp>>['app']) => Promise<T>): Promise<T> {
	running = await openApp(url, temporary.folder);
	const result = await act(running.app);
	await running.close();
	running = null;
	return result;
}

it('a backup brings back every row as it was, whatever was done since', async () => {
	const water = readPlain('# Verse 1\nCarry the water, “lamp” \\ and\tcol 🏔', 'Carry the Water');
	const eventId = await withServer(async (app) => {
		await app.songs.add(water);
		const id = await createEvent(app, 'Lantern Night', '2026-11-28T19:00', PICTURE);
		const { hub } = await app.events.owner(id);
		await hub.submitAsServer({ type: 'renameEvent', title: 'Lantern Night ✦' });
		return id;
	});
	const file = fileOf('one.backup.gz');
	expect(await writeBackup(url, file, 1)).toBeGreaterThan(2);
	const before = await rowsOf(file);
	await withServer(async (app) => {
		for (const { id } of await app.songs.list()) await app.songs.remove(id);
		await createEvent(app, 'Mending Day', '', PICTURE);
		const { hub } = await app.events.owner(eventId);
		await hub.submitAsServer({ type: 'renameEvent', title: 'Gone' });
	});
	await restoreBackup(url, file);
	await writeBackup(url, fileOf('two.backup.gz'), 2);
	expect(await rowsOf(fileOf('two.backup.gz'))).toEqual(before);
	const { events, songs } = await withServer(async (app) => ({
		events: (await listEvents(app.db)).map(({ title }) => title),
		songs: (await app.songs.all()).map(({ song }) => song),
	}));
	expect(events).toContain('Lantern Night ✦');
	expect(events).not.toContain('Mending Day');
	expect(songs).toContainEqual(water);
});

it('what is torn, forged or no backup at all is refused in words, and nothing is changed', async () => {
	await withServer((app) => createEvent(app, 'Lantern Night', '', PICTURE));
	const file = fileOf('whole.backup.gz');
	await writeBackup(url, file, 1);
	const whole = await rowsOf(file);
	const bytes = await readFile(file);
	const bad: [string, () => Promise<void>, RegExp][] = [
		['torn', () => truncate(fileOf('torn'), bytes.length - 20), /torn/],
		[
			'flipped',
			() => writeFile(fileOf('flipped'), Buffer.from(bytes).fill(7, bytes.length >> 1, (bytes.length >> 1) + 8)),
			/torn|damaged/,
		],
		['text', () => writeFile(fileOf('text'), 'no backup'), /torn|no backup/i],
	];
	for (const [name, spoil, why] of bad) {
		await copyFile(file, fileOf(name));
		await spoil();
		await expect(restoreBackup(url, fileOf(name)), name).rejects.toThrow(why);
	}
	await expect(checkBackup(fileOf('nothing'))).rejects.toThrow(/no such backup/);
	await writeBackup(url, fileOf('after.backup.gz'), 2);
	expect(await rowsOf(fileOf('after.backup.gz'))).toEqual(whole);
});

it('one is made each day while nothing is on air, and fourteen are kept', async () => {
	await withServer(() => Promise.resolve());
	const folder = fileOf('daily');
	let isQuiet = false;
	const backups = new Backups(url, folder, () => Promise.resolve(isQuiet));
	const first = Date.UTC(2026, 10, 1, 4);
	await backups.look(first);
	expect(await listBackups(folder)).toEqual([]);
	isQuiet = true;
	for (let day = 0; day < KEPT_BACKUPS + 3; day++) {
		await backups.look(first + day * DAY_MS);
		// Twice a day is once too often.
		await backups.look(first + day * DAY_MS + 3_600_000);
		if (day === 0) await writeFile(path.join(folder, 'before-restore-1.backup.gz'), '');
	}
	await backups.close();
	const kept = await listBackups(folder);
	expect(kept).toHaveLength(KEPT_BACKUPS);
	expect(kept[0]).toEqual({ name: backupName(first + 16 * DAY_MS), at: first + 16 * DAY_MS });
	expect(backupTime('notes.txt')).toBeNull();
	expect(await readdir(folder)).toContain('before-restore-1.backup.gz');
	expect((await checkBackup(path.join(folder, kept[0]!.name))).rows).toBeGreaterThanOrEqual(0);
});

it('of several nodes one makes the backups, while none has an event on air; another one when that is gone', async () => {
	await withServer(async (app) => {
		const nodes = ['north', 'south', 'east'].map((node) => new Leases(app.db, node));
		const all = nodes.map((leases) => new Backups(url, temporary.folder, () => mayBackUp(app.db, leases)));
		const lookAt = (at: number) => Promise.all(all.map((backups) => backups.look(at)));
		const times = async () => (await listBackups(temporary.folder)).map(({ at }) => at / DAY_MS);
		const taken = await Promise.all(nodes.map((leases) => leases.acquire(ORGANISATION)));
		const first = taken.findIndex(({ is }) => is === 'own');

		await lookAt(20_000 * DAY_MS);
		expect(await times()).toEqual([20_000]);
		await lookAt(20_000.5 * DAY_MS);
		expect(await times()).toEqual([20_000]);

		const id = await createEvent(app, 'Lantern Night', '', PICTURE);
		await app.db.update(events).set({ onAir: true });
		await lookAt(20_001 * DAY_MS);
		expect(await times()).toEqual([20_000]);
		await app.db.update(events).set({ onAir: false });
		await nodes[first]!.release(ORGANISATION);
		await lookAt(20_001 * DAY_MS);
		expect(await times()).toEqual([20_000]);

		expect(await nodes[(first + 1) % 3]!.acquire(ORGANISATION)).toMatchObject({ is: 'own' });
		await lookAt(20_001 * DAY_MS);
		expect(await times()).toEqual([20_001, 20_000]);
		expect((await listEvents(app.db)).map((event) => event.id)).toEqual([id]);
		await Promise.all(all.map((backups) => backups.close()));
	});
});
