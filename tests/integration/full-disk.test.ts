import { mkdir, rm, statfs } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { WebSocket } from 'ws';
import { encodeUplink, FIRST_TRACK, type MediaPacket } from '../../src/core/delivery/uplink.ts';
import { toPcm24 } from '../../src/core/sound/wav.ts';
import { Broadcast } from '../../src/server/broadcast/broadcast.ts';
import { createEvent } from '../../src/server/events.ts';
import { openApp, Page, testFolder, until } from '../support/app.ts';
import { openHost, type TestHost } from '../support/host.ts';
import { decodeAll, endWithDesk, makeMaterial, play, probePackets, run, type Material } from '../support/media.ts';
import { orderTo } from '../support/order.ts';

let temporary: Awaited<ReturnType<typeof testFolder>>;
let material: Material;
let host: TestHost;
const disks: string[] = [];
/** A disk of so many bytes; null where one may not be made. */
async function makeDisk(bytes: number): Promise<string | null> {
	const disk = path.join(temporary.folder, `disk-${bytes}`);
	await mkdir(disk);
	const mounted = run('mount', ['-t', 'tmpfs', '-o', `size=${bytes}`, 'tmpfs', disk]);
	return mounted.then(
		() => (disks.push(disk), disk),
		() => null,
	);
}
beforeAll(async () => {
	temporary = await testFolder();
	material = await makeMaterial(temporary.folder);
	host = await openHost();
});
afterAll(async () => {
	for (const disk of disks) await run('umount', [disk]);
	await host.close();
	await temporary.remove();
});

it('when the disk is full the files end whole and say why, and the host loses nothing', async (test) => {
	const disk = await makeDisk(2e6);
	if (!disk) return test.skip('only root may make a small disk');
	const fileOf = (name: string) => path.join(disk, name);
	const place = orderTo(`rtmp://127.0.0.1:${host.rtmpPort}/ridge`, 'ridge-lantern-1845', { name: 'Ridge Radio' });
	const broadcast = new Broadcast({
		id: 'evening',
		renditions: [{ kbps: 1500, orders: [place] }],
		recordingFile: fileOf('program.mp4'),
		tracks: [
			{
				track: { kind: 'source', id: 'lectern', name: 'Lectern', maxHeight: 360, fps: 30, kbps: 1500 },
				file: fileOf('lectern.mp4'),
			},
			{ track: { kind: 'channel', id: 'mic', name: 'Lectern mic', sides: 1 }, file: fileOf('mic.wav') },
		],
		holdMs: 60_000,
		changed: () => {},
		heldTooLong: () => {},
	});
	broadcast.attach('one', () => {});
	for (const config of [material.video, material.audio, { ...material.video, rendition: FIRST_TRACK }])
		broadcast.receive(config);
	await until('live', () => broadcast.publishers.every(({ status }) => status.phase === 'live'));
	const sendAll = async (packets: readonly MediaPacket[], laps: number) => {
		const lastsUs = packets.at(-1)!.timeUs + 33_333;
		for (let lap = 0; lap < laps; lap++)
			for (const packet of packets) {
				const timeUs = packet.timeUs + lap * lastsUs;
				broadcast.receive({ ...packet, timeUs });
				if (packet.kind !== 'video') continue;
				broadcast.receive({ ...packet, timeUs, rendition: FIRST_TRACK });
				const data = toPcm24([new Float32Array(1600).fill(0.25)], 0, 1600);
				broadcast.receive({ kind: 'pcm', rendition: FIRST_TRACK + 1, timeUs, data });
				if (packet.key) await new Promise((resolve) => setTimeout(resolve, 20));
			}
	};
	// An engine is never far ahead of the clock.
	const sixSeconds = material.packets.filter(({ timeUs }) => timeUs < 6e6);
	await sendAll(sixSeconds, 3);
	const failed = () =>
		broadcast.recording!.phase === 'failed' && broadcast.tracks.statuses.every(({ phase }) => phase === 'failed');
	await until('all to be full', failed);
	for (const { fault } of [broadcast.recording!, ...broadcast.tracks.statuses]) expect(fault?.code).toBe('diskFull');

	const sent = sixSeconds.filter(({ kind }) => kind === 'video').length * 3;
	await until('all pictures', () => host.desk('ridge').state.pictures >= sent);
	expect(broadcast.publishers[0]!.status).toMatchObject({ phase: 'live', lostFrames: 0 });
	await endWithDesk(broadcast);
	for (const name of ['program.mp4', 'lectern.mp4', 'mic.wav']) expect(await decodeAll(fileOf(name)), name).toBe('');
	expect((await probePackets(fileOf('program.mp4'))).length).toBeGreaterThan(60);
});

it('when somebody makes room, the program is recorded again, in a file of its own', async (test) => {
	const disk = await makeDisk(400e6);
	if (!disk) return test.skip('only root may make a small disk');
	const running = await openApp(inject('databaseUrl'), disk);
	const event = await createEvent(running.app, 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
	const page = new Page(running.port, `${event}?page=desk&engine`);
	await page.welcome();
	await page.applied(page.do({ type: 'startBroadcast', broadcastId: 'evening' }));
	const socket = new WebSocket(
		`ws://127.0.0.1:${running.port}/uplink/${event}?lease=${await page.lease()}&session=one`,
	);
	await new Promise((resolve) => socket.once('open', resolve));
	for (const config of [material.video, material.audio]) socket.send(encodeUplink(config));
	let ended = false;
	const lapUs = material.packets.at(-1)!.timeUs + 33_333;
	const playing = (async () => {
		for (let lap = 0; !ended; lap++) {
			const send = (packet: MediaPacket) =>
				!ended && socket.send(encodeUplink({ ...packet, timeUs: packet.timeUs + lap * lapUs }));
			const { done, stop } = play(material, send, 1);
			await Promise.race([done, until('the end', () => ended)]);
			stop();
		}
	})();
	const recorded = (phase: string) => until(phase, () => page.status?.recording.phase === phase);
	await recorded('recording');
	const { bavail, bsize } = await statfs(disk);
	const filler = path.join(disk, 'filler');
	await run('fallocate', ['-l', String(bavail * bsize - 800_000), filler]);
	await recorded('failed');
	expect(page.status!.recording.fault).toEqual({ code: 'diskFull', about: {} });
	await rm(filler);
	await recorded('recording');
	await until('some of it', () => page.status!.recording.bytes > 500_000);
	ended = true;
	await playing;
	socket.send(encodeUplink({ kind: 'end' }));
	await page.applied(page.do({ type: 'endBroadcast' }));
	const files = await until('both to be finished', async () => {
		const rows = await running.app.recordings.list(event);
		return rows.every(({ endedAt }) => endedAt !== null) && rows;
	});
	expect(files).toHaveLength(2);
	for (const { file, startedAt, endedAt } of files) {
		const there = path.join(running.app.recordings.folderOf(event), file);
		expect(await decodeAll(there), file).toBe('');
		const times = (await probePackets(there)).filter(({ kind }) => kind === 'video').map(({ time }) => time);
		expect(times[0]).toBe(0);
		expect(times.length / 30).toBeCloseTo((endedAt! - startedAt) / 1000, 0);
	}
	expect(files[0]!.startedAt).toBeGreaterThan(files[1]!.endedAt!);
	page.socket.terminate();
	await running.close();
});
