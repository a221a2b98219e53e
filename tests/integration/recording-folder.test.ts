/** Recordings on another disk: chosen, used, gone, and back. */
import { existsSync } from 'node:fs';
import { mkdir, readdir, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { FIRST_TRACK, type MediaPacket } from '../../src/core/delivery/uplink.ts';
import { plainChannel } from '../../src/core/show/mix/mix.ts';
import { plainSource } from '../../src/core/show/sources/source.ts';
import { toPcm24 } from '../../src/core/sound/wav.ts';
import type { Bivvo } from '../../src/server/bivvo.ts';
import { createEvent } from '../../src/server/events.ts';
import { RecordingFolders, takeFolder } from '../../src/server/files/recording-folders.ts';
import { openApp, testFolder, until } from '../support/app.ts';
import { endWithDesk, makeMaterial, play, type Material } from '../support/media.ts';

let folder: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
let app: Bivvo;
let material: Material;
let disk: string;

beforeAll(async () => {
	folder = await testFolder();
	material = await makeMaterial(folder.folder, 8);
	running = await openApp(inject('databaseUrl'), path.join(folder.folder, 'data'));
	({ app } = running);
	await mkdir(path.join(folder.folder, 'disk'));
	disk = path.join(folder.folder, 'disk', 'recordings');
});
afterAll(async () => {
	// Other tests have the same database.
	await app.settings.set({ reachesLocal: false, recordingsFolder: '' });
	await running.close();
	await folder.remove();
});

/** A broadcast of some seconds. @returns its recording, with the path of its file */
async function recorded(id: string) {
	const eventId = await createEvent(app, 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
	const room = await app.events.owner(eventId);
	await room.hub.submitAsServer({ type: 'startBroadcast', broadcastId: id });
	const broadcast = await until('the broadcast', () => room.keeper.broadcast);
	broadcast.attach('desk', () => {});
	broadcast.receive(material.video);
	broadcast.receive(material.audio);
	await play(material, (packet) => broadcast.receive(packet), 8).done;
	const { elsewhere } = room.keeper.recording;
	await endWithDesk(broadcast);
	await room.hub.submitAsServer({ type: 'endBroadcast' });
	const row = await until('the recording', async () => {
		const [newest] = await app.recordings.list(eventId);
		return newest && newest.endedAt !== null && !app.recordings.isFinishing(newest.id) ? newest : null;
	});
	return { elsewhere, eventId, found: (await app.recordings.find(eventId, row.id))! };
}

it('a folder that is none, or cannot be written to, is refused with the reason', async () => {
	for (const wrong of ['recordings', './here', '/'])
		await expect(takeFolder(wrong), wrong).rejects.toMatchObject({
			reason: { code: 'folderUnusable', about: { why: 'path' } },
		});
	const file = path.join(folder.folder, 'a-file');
	await writeFile(file, '');
	for (const unusable of ['/proc/no-such/recordings', path.join(file, 'x'), path.join(folder.folder, 'not/there')])
		await expect(takeFolder(unusable), unusable).rejects.toMatchObject({ reason: { about: { why: 'write' } } });
	expect(existsSync(path.join(folder.folder, 'not'))).toBe(false);
});

it('recordings go to the chosen disk, to the data folder while it is gone, and all are found', async () => {
	const own = path.join(folder.folder, 'data', 'recordings');
	const first = await recorded('first');
	expect([first.elsewhere, first.found.path!.startsWith(own)]).toEqual([false, true]);

	await takeFolder(disk);
	await app.settings.set({ ...app.settings.now, recordingsFolder: disk });
	const second = await recorded('second');
	expect([second.elsewhere, second.found.path!.startsWith(disk)]).toEqual([false, true]);
	expect(second.found.bytes).toBeGreaterThan(100_000);

	// Somebody pulls it out: an empty folder is left where it was.
	const pulled = `${disk}-pulled`;
	await rename(disk, pulled);
	await mkdir(disk);
	const third = await recorded('third');
	expect([third.elsewhere, third.found.path!.startsWith(own)]).toEqual([true, true]);
	expect(await readdir(disk)).toEqual([]);
	expect(await app.recordings.find(second.eventId, second.found.id)).toBeNull();

	await rm(disk, { recursive: true });
	await rename(pulled, disk);
	for (const { eventId, found } of [first, second, third])
		await until(found.file, async () => (await app.recordings.find(eventId, found.id))?.path === found.path);
	expect((await recorded('fourth')).found.path!.startsWith(disk)).toBe(true);

	// Another disk is chosen: what lies on the one before is still found.
	const other = `${disk}-other`;
	await takeFolder(other);
	await app.settings.set({ reachesLocal: false, recordingsFolder: other });
	expect((await app.recordings.find(second.eventId, second.found.id))?.path).toBe(second.found.path!);
	await app.settings.set({ reachesLocal: false, recordingsFolder: disk });
	expect(app.settings.now.earlierFolders).toEqual([other]);
});

it('a disk that goes while it is recorded on: program and sounds go on in second files, in the data folder', async () => {
	const eventId = await createEvent(app, 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
	const room = await app.events.owner(eventId);
	const source = plainSource('console', 'Console', { kind: 'standInConsole', standIn: 'console' });
	await room.hub.submitAsServer({ type: 'addSource', source });
	const channel = plainChannel('mic', 'console', 'Lectern mic', [0]);
	await room.hub.submitAsServer({ type: 'addChannel', channel });
	const { delivery } = room.hub.state.setup;
	const apart = { sourceIds: [], channelIds: ['mic'] };
	await room.hub.submitAsServer({ type: 'setDelivery', delivery: { ...delivery, apart } });
	await room.hub.submitAsServer({ type: 'startBroadcast', broadcastId: 'pulled' });
	const broadcast = await until('the broadcast', () => room.keeper.broadcast);
	broadcast.attach('desk', () => {});
	broadcast.receive(material.video);
	broadcast.receive(material.audio);
	const data = toPcm24([new Float32Array(480).fill(0.25)], 0, 480);
	const send = (packet: MediaPacket) => {
		broadcast.receive(packet);
		if (packet.kind === 'audio')
			broadcast.receive({ kind: 'pcm', rendition: FIRST_TRACK, timeUs: packet.timeUs, data });
	};
	const playing = play(material, send, 1);
	await until('a file', () => room.keeper.recording.phase === 'recording');
	await rename(disk, `${disk}-pulled`);
	// It is looked at now and then; the test does not wait for that.
	await app.recordings.placeFor(eventId);
	expect(room.keeper.recording.elsewhere).toBe(true);
	await playing.done;
	await endWithDesk(broadcast);
	await room.hub.submitAsServer({ type: 'endBroadcast' });
	const rows = await until('all four', async () => {
		const all = await app.recordings.list(eventId);
		return (
			all.length === 4 && all.every(({ endedAt, id }) => endedAt !== null && !app.recordings.isFinishing(id)) && all
		);
	});
	const found = (await Promise.all(rows.map(({ id }) => app.recordings.find(eventId, id)))).flatMap((row) => row ?? []);
	const own = path.join(folder.folder, 'data', 'recordings', eventId);
	expect(found.map(({ path: file }) => path.dirname(file!))).toEqual([own, own]);
	expect(found.map(({ kind }) => kind).toSorted()).toEqual(['channel', 'program']);
	for (const { bytes } of found) expect(bytes).toBeGreaterThan(10_000);
	await rename(`${disk}-pulled`, disk);
	await until('the first one', async () => {
		for (const { id } of rows) if (!(await app.recordings.find(eventId, id))) return false;
		return true;
	});
});

it('without a choice there is one place, and it is never elsewhere', async () => {
	const folders = new RecordingFolders('/data/recordings', () => ({ recordingsFolder: '', earlierFolders: [] }));
	await folders.look();
	expect([folders.current, folders.isElsewhere, folders.all]).toEqual([
		'/data/recordings',
		false,
		['/data/recordings'],
	]);
});
