import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, expect, it } from 'vitest';
import { FIRST_TRACK, type MediaPacket, type PcmPacket } from '../../src/core/delivery/uplink.ts';
import { toPcm24 } from '../../src/core/sound/wav.ts';
import type { Track } from '../../src/core/show/delivery/tracks.ts';
import { Broadcast } from '../../src/server/broadcast/broadcast.ts';
import { copyPart } from '../../src/server/files/copy-part.ts';
import { testFolder, until } from '../support/app.ts';
import { decodeAll, endWithDesk, makeMaterial, probePackets, run, type Material } from '../support/media.ts';

const RATE = 48_000;
const BLOCK = 8192;
const SOURCE: Track = { kind: 'source', id: 'lectern', name: 'Lectern', maxHeight: 360, fps: 30, kbps: 1500 };
const CHANNEL: Track = { kind: 'channel', id: 'mic', name: 'Lectern mic', sides: 1 };

let temporary: Awaited<ReturnType<typeof testFolder>>;
let material: Material;
let broadcast: Broadcast;
let count = 0;

beforeAll(async () => {
	temporary = await testFolder();
	material = await makeMaterial(temporary.folder, 6);
});
afterEach(() => endWithDesk(broadcast));
afterAll(() => temporary.remove());

const fileOf = (what: string) => path.join(temporary.folder, `${count}-${what}`);

function begin(tracks: Track[]): void {
	count++;
	broadcast = new Broadcast({
		id: 'evening',
		renditions: [{ kbps: 1500, orders: [] }],
		recordingFile: fileOf('program.mp4'),
		tracks: tracks.map((track) => ({ track, file: fileOf(track.kind === 'source' ? 'lectern.mp4' : 'mic.wav') })),
		holdMs: 60_000,
		changed: () => {},
		heldTooLong: () => {},
	});
}

/** The sample of the engine's clock at each place is told by its value. */
const valueAt = (sample: number) => ((sample % 4000) - 2000) / 4000;

/** An engine's packets whose clock began `startS` before its first picture. */
function engine(
	session: string,
	startS: number,
	lastsS: number,
	but: (packet: PcmPacket) => boolean = () => true,
): void {
	broadcast.attach(session, () => {});
	broadcast.receive({ ...material.video, rendition: FIRST_TRACK });
	broadcast.receive(material.video);
	broadcast.receive(material.audio);
	const onClock = (packet: MediaPacket, rendition: number) => ({
		...packet,
		rendition,
		timeUs: packet.timeUs + Math.round(startS * 1e6),
	});
	const end = Math.round((startS + lastsS) * RATE);
	const sounds: PcmPacket[] = [];
	for (let from = 0; from < end; from += BLOCK) {
		const samples = Float32Array.from({ length: BLOCK }, (_, i) => valueAt(from + i));
		const timeUs = Math.round((from * 1e6) / RATE);
		sounds.push({ kind: 'pcm', rendition: FIRST_TRACK + 1, timeUs, data: toPcm24([samples], 0, BLOCK) });
	}
	const pictures = material.packets
		.filter(({ timeUs }) => timeUs < lastsS * 1e6)
		// The track's picture comes out of its encoder before the program's.
		.flatMap((packet) =>
			packet.kind === 'video' ? [onClock(packet, FIRST_TRACK), onClock(packet, 0)] : [onClock(packet, 0)],
		);
	const all = [...pictures, ...sounds.filter(but)].sort((a, b) => a.timeUs - b.timeUs);
	for (const packet of all) broadcast.receive(packet);
}

async function samplesOf(file: string): Promise<number[]> {
	const { stdout } = await run('ffmpeg', ['-v', 'error', '-i', file, '-f', 's32le', '-'], {
		encoding: 'buffer',
		maxBuffer: 64e6,
	});
	const view = new DataView(stdout.buffer, stdout.byteOffset, stdout.byteLength);
	return Array.from({ length: stdout.length / 4 }, (_, i) => view.getInt32(4 * i, true) / 2 ** 31);
}

it('picture and sound of a track begin at the same instant as the program, to the sample', async () => {
	begin([SOURCE, CHANNEL]);
	engine('one', 1.25, 4);
	await endWithDesk(broadcast);
	const [program, lectern] = await Promise.all(
		['program.mp4', 'lectern.mp4'].map((what) => probePackets(fileOf(what))),
	);
	const video = (packets: typeof program) => packets!.filter(({ kind }) => kind === 'video').map(({ time }) => time);
	expect(video(lectern)).toEqual(video(program));
	expect(video(lectern)[0]).toBe(0);
	expect(await decodeAll(fileOf('lectern.mp4'))).toBe('');
	const samples = await samplesOf(fileOf('mic.wav'));
	// The engine's clock was at 1.25 s when the recording began.
	for (const i of [0, 1, 12_345, 100_000]) expect(samples[i]).toBeCloseTo(valueAt(1.25 * RATE + i), 5);
	expect(samples.length / RATE).toBeCloseTo(4, 0);
	expect(broadcast.tracks.statuses).toMatchObject([
		{ name: 'Lectern', phase: 'recording' },
		{ name: 'Lectern mic', phase: 'recording' },
	]);
});

it('what is missing is silence, so that what follows stays in time', async () => {
	begin([SOURCE, CHANNEL]);
	const lost = (packet: PcmPacket) => packet.timeUs < 1e6 || packet.timeUs > 2e6;
	engine('one', 0, 4, lost);
	await endWithDesk(broadcast);
	const samples = await samplesOf(fileOf('mic.wav'));
	expect(samples[1.5 * RATE]).toBe(0);
	for (const i of [1000, 3 * RATE]) expect(samples[i]).toBeCloseTo(valueAt(i), 5);
});

it('a packet whose time is beyond all sense, or that is of no track, is left out', async () => {
	begin([SOURCE, CHANNEL]);
	engine('one', 0, 1);
	const data = toPcm24([new Float32Array(100).fill(0.5)], 0, 100);
	expect(() => broadcast.receive({ kind: 'pcm', rendition: FIRST_TRACK + 1, timeUs: 9e14, data })).toThrow('from now');
	broadcast.receive({ kind: 'pcm', rendition: FIRST_TRACK + 77, timeUs: 2e6, data });
	await endWithDesk(broadcast);
	expect((await samplesOf(fileOf('mic.wav'))).length / RATE).toBeLessThan(2);
});

it('a desk that comes back goes on in the same files, later on the same line of time', async () => {
	begin([SOURCE, CHANNEL]);
	engine('one', 0, 2);
	await new Promise((resolve) => setTimeout(resolve, 3500));
	engine('two', 0.5, 2);
	await endWithDesk(broadcast);
	const times = (await probePackets(fileOf('lectern.mp4'))).map(({ time }) => time);
	expect(times).toEqual(times.toSorted((a, b) => a - b));
	expect(times.at(-1)!).toBeGreaterThan(5);
	expect(await decodeAll(fileOf('lectern.mp4'))).toBe('');
	const program = await probePackets(fileOf('program.mp4'));
	const back = program.filter(({ kind, time }) => kind === 'video' && time > 3)[0]!.time;
	const samples = await samplesOf(fileOf('mic.wav'));
	expect(samples[Math.round(2.9 * RATE)]).toBe(0);
	const first = Math.round(back * RATE) + 500;
	expect(Math.abs(samples[first]! - valueAt(0.5 * RATE + 500))).toBeLessThan(0.02);
});

it('a file whose server was killed holds all but its last second, and a picture that came late keeps its place', async () => {
	begin([SOURCE, CHANNEL]);
	engine('one', 0, 4);
	await until('some bytes', () => broadcast.tracks.statuses.every(({ bytes }) => bytes > 100_000));
	// As it lies on the disk before anything was ended.
	await until('the header', async () => (await samplesOf(fileOf('mic.wav')).catch(() => [])).length > 2.9 * RATE);
	expect((await readFile(fileOf('mic.wav'))).subarray(0, 4).toString()).toBe('RIFF');
	expect(await decodeAll(fileOf('lectern.mp4'))).toBe('');
	expect((await probePackets(fileOf('lectern.mp4'))).at(-1)!.time).toBeGreaterThan(2.9);

	// Nothing comes of the track before 2 s: made an ordinary file it still begins there.
	await endWithDesk(broadcast);
	begin([SOURCE]);
	broadcast.attach('late', () => {});
	broadcast.receive(material.video);
	broadcast.receive(material.audio);
	broadcast.receive({ ...material.video, rendition: FIRST_TRACK });
	for (const packet of material.packets) {
		broadcast.receive(packet);
		if (packet.kind === 'video' && packet.timeUs >= 2e6) broadcast.receive({ ...packet, rendition: FIRST_TRACK });
	}
	await endWithDesk(broadcast);
	await copyPart(fileOf('lectern.mp4'), fileOf('whole.mp4'), { fromS: 0, toS: Infinity });
	expect((await probePackets(fileOf('whole.mp4')))[0]!.time).toBeCloseTo(2, 2);
});

it('pictures that come late, before what was written, are left out up to the next that stands alone', async () => {
	begin([SOURCE]);
	engine('one', 0, 2);
	const late = material.packets.filter(({ kind, timeUs }) => kind === 'video' && timeUs < 4.5e6);
	for (const packet of late.filter(({ timeUs }) => timeUs > 1e6))
		broadcast.receive({ ...packet, rendition: FIRST_TRACK });
	await endWithDesk(broadcast);
	expect(broadcast.tracks.statuses[0]).toMatchObject({ phase: 'recording', fault: null });
	const times = (await probePackets(fileOf('lectern.mp4'))).map(({ time }) => time);
	expect(times).toEqual([...new Set(times)].toSorted((a, b) => a - b));
	expect(times.at(-1)!).toBeGreaterThan(4);
	expect(await decodeAll(fileOf('lectern.mp4'))).toBe('');
});

it('they go on in second files that begin with the program’s second one, to the sample', async () => {
	begin([SOURCE, CHANNEL]);
	engine('one', 0, 2);
	const again = (what: string) => fileOf(`again-${what}`);
	broadcast.recordAgain(again('program.mp4'), [
		{ track: SOURCE, file: again('lectern.mp4') },
		{ track: CHANNEL, file: again('mic.wav') },
	]);
	// Its clock goes on from where it was: what came already is left out.
	engine('one', 0, 6);
	await endWithDesk(broadcast);
	const [program, lectern] = await Promise.all(['program.mp4', 'lectern.mp4'].map((what) => probePackets(again(what))));
	const pictures = (packets: typeof program) => packets!.filter(({ kind }) => kind === 'video').map(({ time }) => time);
	expect(pictures(lectern)).toEqual(pictures(program));
	expect(pictures(lectern)[0]).toBe(0);
	expect(await decodeAll(again('lectern.mp4'))).toBe('');
	const begun = material.packets.find(({ kind, key, timeUs }) => kind === 'video' && key && timeUs >= 2e6)!;
	const samples = await samplesOf(again('mic.wav'));
	for (const i of [0, 1, 12_345]) expect(samples[i]).toBeCloseTo(valueAt((begun.timeUs / 1e6) * RATE + i), 5);
	expect((await samplesOf(fileOf('mic.wav'))).length / RATE).toBeCloseTo(2, 0);
});

it('they can be stopped for want of room while the program goes on, and one that cannot be written says so', async () => {
	begin([SOURCE, CHANNEL]);
	engine('one', 0, 2);
	const fault = { code: 'diskNearlyFull' as const, about: {} };
	await broadcast.tracks.stop(fault);
	expect(broadcast.tracks.statuses).toMatchObject(Array(2).fill({ phase: 'failed', fault }));
	expect(broadcast.recording!.phase).toBe('recording');
	await endWithDesk(broadcast);
	expect((await readdir(temporary.folder)).filter((file) => file.startsWith(`${count}-`))).toHaveLength(3);

	count++;
	broadcast = new Broadcast({
		id: 'evening',
		renditions: [{ kbps: 1500, orders: [] }],
		recordingFile: null,
		tracks: [SOURCE, CHANNEL].map((track) => ({ track, file: path.join(temporary.folder, 'nowhere', 'x.wav') })),
		holdMs: 60_000,
		changed: () => {},
		heldTooLong: () => {},
	});
	engine('one', 0, 1);
	await until('the fault', () => broadcast.tracks.statuses.every(({ phase }) => phase === 'failed'));
	expect(broadcast.tracks.statuses[1]!.fault).toEqual({ code: 'cannotWrite', about: { problem: 'ENOENT' } });
});
