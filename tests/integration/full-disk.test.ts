import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { FIRST_TRACK, type MediaPacket } from '../../src/core/delivery/uplink.ts';
import { toPcm24 } from '../../src/core/sound/wav.ts';
import { Broadcast } from '../../src/server/broadcast/broadcast.ts';
import { testFolder, until } from '../support/app.ts';
import { openHost, type TestHost } from '../support/host.ts';
import { decodeAll, endWithDesk, makeMaterial, probePackets, run, type Material } from '../support/media.ts';

const DISK_BYTES = 2_000_000;
let temporary: Awaited<ReturnType<typeof testFolder>>;
let disk: string;
let material: Material;
let host: TestHost;
/** A disk of its own can only be made by somebody who may mount one. */
let mounted = false;
beforeAll(async () => {
	temporary = await testFolder();
	disk = path.join(temporary.folder, 'disk');
	await mkdir(disk);
	mounted = await run('mount', ['-t', 'tmpfs', '-o', `size=${DISK_BYTES}`, 'tmpfs', disk]).then(
		() => true,
		() => false,
	);
	material = await makeMaterial(temporary.folder);
	host = await openHost();
});
afterAll(async () => {
	if (mounted) await run('umount', [disk]);
	await host.close();
	await temporary.remove();
});

it('when the disk is full the files end whole and say why, and the host loses nothing', async (test) => {
	if (!mounted) return test.skip('only root may make a small disk');
	const fileOf = (name: string) => path.join(disk, name);
	const place = {
		id: 'ridge',
		name: 'Ridge Radio',
		address: `rtmp://127.0.0.1:${host.rtmpPort}/ridge`,
		key: 'ridge-lantern-1845',
		...{ userName: '', password: '', accountUrl: null, token: '' },
	};
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
	await sendAll(material.packets, 3);
	const failed = () =>
		broadcast.recording!.phase === 'failed' && broadcast.tracks.statuses.every(({ phase }) => phase === 'failed');
	await until('all to be full', failed);
	expect(broadcast.recording!.reason).toBe('The disk is full. Make room; the broadcast itself goes on.');
	for (const { reason } of broadcast.tracks.statuses) expect(reason).toContain('The disk is full.');

	const sent = material.packets.filter(({ kind }) => kind === 'video').length * 3;
	await until('all pictures', () => host.desk('ridge').state.pictures >= sent);
	expect(broadcast.publishers[0]!.status).toMatchObject({ phase: 'live', lostFrames: 0 });
	await endWithDesk(broadcast);
	for (const name of ['program.mp4', 'lectern.mp4', 'mic.wav']) expect(await decodeAll(fileOf(name)), name).toBe('');
	expect((await probePackets(fileOf('program.mp4'))).length).toBeGreaterThan(60);
});
