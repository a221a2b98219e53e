/** Where finished recordings go that all nodes have: a folder, and storage that speaks the S3 protocol. */
import { randomBytes } from 'node:crypto';
import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import S3rver from 's3rver';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { FinishedFolder, type FinishedFiles } from '../../src/server/files/finished-files.ts';
import { ObjectStore, type ObjectStoreConfig } from '../../src/server/files/object-store.ts';
import { RecordingFolders } from '../../src/server/files/recording-folders.ts';
import { Recordings } from '../../src/server/files/recordings.ts';
import { openDatabase, type Database } from '../../src/server/db/database.ts';
import { testFolder, until } from '../support/app.ts';
import { decodeAll, makeMaterial } from '../support/media.ts';

let temporary: Awaited<ReturnType<typeof testFolder>>;
let storage: S3rver;
let database: Database;
let config: ObjectStoreConfig;
beforeAll(async () => {
	temporary = await testFolder();
	const directory = path.join(temporary.folder, 'objects');
	await mkdir(directory);
	storage = new S3rver({
		port: 0,
		address: '127.0.0.1',
		silent: true,
		directory,
		configureBuckets: [{ name: 'bivvo', configs: [] }],
	});
	const { port } = await storage.run();
	config = {
		...{ endpoint: `http://127.0.0.1:${port}`, bucket: 'bivvo', prefix: 'hall', region: 'us-east-1' },
		...{ accessKey: 'S3RVER', secretKey: 'S3RVER' },
	};
	database = await openDatabase(inject('databaseUrl'), 'src/server/db/migrations');
});
afterAll(async () => {
	await database.close();
	await storage.close();
	await temporary.remove();
});

const kinds: [string, () => FinishedFiles][] = [
	['a folder', () => new FinishedFolder(() => path.join(temporary.folder, 'shared'))],
	['object storage', () => new ObjectStore(config)],
];

describe.each(kinds)('in %s', (name, open) => {
	it('a file longer than one part is put, measured, read in parts and removed', async () => {
		const files = open();
		const bytes = randomBytes(40e6);
		const from = path.join(temporary.folder, 'long.mp4');
		await writeFile(from, bytes);
		expect(await files.sizeOf('evening', 'long.mp4')).toBeNull();
		await files.put('evening', 'long.mp4', from);
		expect(await files.sizeOf('evening', 'long.mp4')).toBe(bytes.length);
		const part = await buffer(await files.read('evening', 'long.mp4', 33_000_000, 33_999_999));
		expect(part.equals(bytes.subarray(33_000_000, 34_000_000))).toBe(true);
		await files.remove('evening', 'long.mp4');
		expect(await files.sizeOf('evening', 'long.mp4')).toBeNull();
		await files.remove('evening', 'long.mp4');
	});

	it('a recording goes there when it is whole, is played from there, and cut', async () => {
		await makeMaterial(temporary.folder, 8);
		const own = path.join(temporary.folder, `own of ${name}`);
		const folders = new RecordingFolders(own, () => ({ recordingsFolder: '', earlierFolders: [] }));
		const place = { id: `place of ${name}`.replaceAll(' ', '-'), finished: open() };
		const recordings = new Recordings(database.db, folders, place);
		const eventId = `hall-${place.id}`;
		const id = `evening-${place.id}`;
		const folder = await recordings.placeFor(eventId);
		const whole = await readFile(path.join(temporary.folder, 'material.mp4'));
		await writeFile(path.join(folder, 'program.mp4'), whole);
		const row = { id, eventId, broadcastId: 'evening', startedAt: 1e12, name: '', kind: 'program' as const };
		await recordings.begin([{ ...row, file: 'program.mp4' }]);
		expect((await recordings.find(eventId, id))!.path).toBe(path.join(folder, 'program.mp4'));
		expect(recordings.keeps).toBe(1);
		await recordings.finish(eventId, id, null);
		const found = await until('the move', async () => {
			const there = await recordings.find(eventId, id);
			return there?.place === '' && there.path === null && there;
		});
		const played = await buffer(await found.read(0, found.bytes - 1));
		const file = path.join(temporary.folder, `played-${place.id}.mp4`);
		await writeFile(file, played);
		expect(await decodeAll(file)).toBe('');
		const excerpt = await recordings.cut(found, { fromS: 2, toS: 5 });
		await until('the excerpt', async () => (await recordings.find(eventId, excerpt))?.place === '');
		await recordings.close();
		expect(recordings.keeps).toBe(0);
		expect(await readdir(folder)).toEqual([]);
	});
});

it('a recording without a file is waited for; one that no bytes came of is not', async () => {
	const own = path.join(temporary.folder, 'own of one without a file');
	const folders = new RecordingFolders(own, () => ({ recordingsFolder: '', earlierFolders: [] }));
	const shared = path.join(temporary.folder, 'shared');
	const place = { id: 'without-a-file', finished: new FinishedFolder(() => shared) };
	const recordings = new Recordings(database.db, folders, place);
	const eventId = 'hall-without-a-file';
	const row = { eventId, broadcastId: 'evening', startedAt: 1e12, name: '', kind: 'program' as const };
	await recordings.begin([{ ...row, id: 'never-begun', file: 'never.mp4' }]);
	await recordings.finish(eventId, 'never-begun', null);
	await until('it to be let go', () => recordings.keeps === 0);

	const later = { ...row, id: 'comes-later', file: 'later.mp4', endedAt: 1e12, bytes: 5, deletedAt: null };
	await recordings.add(later);
	const placeOf = async (id: string) => (await recordings.list(eventId)).find((each) => each.id === id)?.place;
	expect([recordings.keeps, await placeOf('never-begun'), await placeOf('comes-later')]).toEqual([1, '', place.id]);
	await writeFile(path.join(await recordings.placeFor(eventId), 'later.mp4'), 'later');
	await recordings.add(later);
	await until('it to be handed over', () => recordings.keeps === 0);
	expect(await readFile(path.join(shared, eventId, 'later.mp4'), 'utf8')).toBe('later');
	await recordings.close();
});

it('what object storage does not take stays where it is', async () => {
	const wrong = new ObjectStore({ ...config, bucket: 'no-such-bucket' });
	const from = path.join(temporary.folder, 'kept.mp4');
	await writeFile(from, 'a recording');
	await expect(wrong.put('evening', 'kept.mp4', from)).rejects.toThrow();
	expect(await readFile(from, 'utf8')).toBe('a recording');
});
