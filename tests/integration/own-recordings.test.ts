/** Guests' own recordings: real uploads through the door, MariaDB, and files as browsers make them. */
import { readdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Upload } from 'tus-js-client';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { findWithin } from '../../src/core/sound/find-within.ts';
import { toPcm24 } from '../../src/core/sound/wav.ts';
import { WavFile } from '../../src/server/broadcast/wav-file.ts';
import { createEvent } from '../../src/server/events.ts';
import { testFolder, until } from '../support/app.ts';
import { decodeAll, probePackets, run } from '../support/media.ts';
import { samplesOf } from '../support/see.ts';
import { openSite, Visitor, type Site } from '../support/site.ts';

const VOICE = 'standins/guest/media/cold-tarn.flac';
const OTHER = 'standins/guest/media/three-larches.flac';
const STARTED_AT = Date.UTC(2026, 10, 28, 18, 45);
let folder: Awaited<ReturnType<typeof testFolder>>;
let site: Site;
let eventId: string;
const owner = () => new Visitor(site);

beforeAll(async () => {
	folder = await testFolder();
	site = await openSite(inject('databaseUrl'), folder.folder);
	eventId = await createEvent(site.app, 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
});
afterAll(async () => {
	await site.close();
	await folder.remove();
});

async function guestNamed(name: string): Promise<{ visitor: Visitor; id: string }> {
	const order = { name, role: 'guest', expiresAt: Date.now() + 3_600_000, uses: 2 };
	const { body } = await owner().send(`/api/events/${eventId}/links`, order);
	const visitor = new Visitor(site);
	expect((await visitor.send('/api/access/link', { secret: body.secret })).status).toBe(200);
	return { visitor, id: String(body.id) };
}

/** What a guest's browser has recorded: 20 s of the voice, or of nothing but a picture. */
async function own(name: string, codecs: string[], sound = ['-stream_loop', '-1', '-i', VOICE]): Promise<Buffer> {
	const file = path.join(folder.folder, name);
	const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=320x180:rate=30'];
	await run('ffmpeg', ['-v', 'error', '-y', ...picture, ...sound, '-t', '20', '-g', '60', ...codecs, file]);
	return readFile(file);
}
const H264 = ['-c:v', 'libx264', '-bf', '0', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-c:a', 'libopus'];
const IN_PIECES = ['-movflags', 'frag_keyframe+empty_moov'];
const VP8 = ['-c:v', 'libvpx', '-deadline', 'realtime', '-c:a', 'libopus'];

/** A broadcast with voices recorded apart, as a desk hears them over a line: narrow, rough, and so much later. */
async function broadcast(id: string, voices: { file: string; name: string; laterS: number }[]): Promise<void> {
	const { recordings } = site.app;
	const common = { eventId, broadcastId: id, startedAt: STARTED_AT };
	const rows = voices.map(({ name }, i) => ({
		...common,
		...{ id: `${id}-${i}`, kind: 'channel' as const, name, file: `${id}-${i}.wav` },
	}));
	await recordings.begin([{ ...common, id, kind: 'program', name: '', file: `${id}-program.mp4` }, ...rows]);
	const to = recordings.folderOf(eventId);
	await run('mkdir', ['-p', to]);
	const program = ['-f', 'lavfi', '-i', 'color=size=64x64:rate=30', '-t', '40', '-c:v', 'libx264', '-y'];
	await run('ffmpeg', ['-v', 'error', ...program, path.join(to, `${id}-program.mp4`)]);
	for (const [i, { file, laterS }] of voices.entries()) {
		const line = `highpass=200,lowpass=3400,acompressor,adelay=${Math.round(1000 * laterS)}`;
		const samples = await samplesOf(['-stream_loop', '-1', '-t', '30', '-i', file, '-af', line], 1);
		const wav = await WavFile.begin(path.join(to, `${id}-${i}.wav`), 1, (error) => expect.fail(error.message));
		const rough = samples.map((sample, k) => sample + 0.004 * Math.sin(k * k));
		wav.write(0, toPcm24([rough], 0, rough.length));
		await wav.end();
	}
}
async function finish(id: string): Promise<void> {
	const { recordings } = site.app;
	for (const row of await recordings.list(eventId))
		if (row.broadcastId === id && row.endedAt === null) await recordings.finish(eventId, row.id, null);
}

function send({ visitor, id }: { visitor: Visitor; id: string }, bytes: Buffer, about: object): Promise<string> {
	return new Promise((resolve, reject) => {
		const upload = new Upload(bytes, {
			endpoint: `${site.url}/api/events/${eventId}/guest/${id}/recording`,
			chunkSize: 256 * 1024,
			metadata: { about: JSON.stringify(about) },
			headers: { Cookie: visitor.cookie, Origin: site.url },
			retryDelays: null,
			onError: reject,
			onSuccess: () => resolve(upload.url!),
		});
		upload.start();
	});
}
const placed = (broadcastId: string) =>
	until('the recording in its place', async () => {
		const rows = await site.app.recordings.list(eventId);
		return rows.find((row) => row.broadcastId === broadcastId && row.kind.startsWith('own'));
	});
const fileOf = ({ file }: { file: string }) => path.join(site.app.recordings.folderOf(eventId), file);

it('lies where the guest is heard, to half a frame, when the broadcast has ended, whatever the clocks said', async () => {
	const ysolde = await guestNamed('Ysolde Brann');
	await broadcast('evening', [
		{ file: OTHER, name: 'Pello Arrizun', laterS: 0.1 },
		{ file: VOICE, name: 'Seat 2', laterS: 2.345 },
	]);
	const bytes = await own('ysolde.mp4', [...H264, ...IN_PIECES]);
	await send(ysolde, bytes, { broadcastId: 'evening', startedAt: STARTED_AT + 1000, kind: 'mp4' });
	expect((await site.app.recordings.list(eventId)).filter(({ kind }) => kind.startsWith('own'))).toEqual([]);
	await finish('evening');
	const row = await placed('evening');
	expect(row).toMatchObject({ kind: 'own', name: 'Ysolde Brann', startedAt: STARTED_AT });
	expect(row.file).toMatch(/^evening-own-.*\.mp4$/);
	expect(row.endedAt! - row.startedAt).toBeGreaterThan(22_000);
	const packets = await probePackets(fileOf(row));
	const [picture, sound] = (['video', 'audio'] as const).map(
		(kind) => packets.find((each) => each.kind === kind)!.time,
	);
	expect(Math.abs(picture! - 2.345)).toBeLessThan(1 / 60);
	expect(Math.abs(sound! - 2.345)).toBeLessThan(1 / 60);
	// As a player hears both: FFmpeg begins with the first there is, but for what a decoder settles with (RFC 7845, section 4.2).
	const settlesS = 312 / 48_000;
	const heard = async (file: string) => {
		const samples = await samplesOf(['-i', file, '-vn'], 1);
		// The line leaves nothing of what is higher.
		return Float32Array.from({ length: Math.floor(samples.length / 6) }, (_, i) =>
			samples.subarray(6 * i, 6 * i + 6).reduce((sum, sample) => sum + sample),
		);
	};
	const [hers, desk] = [await heard(fileOf(row)), await heard(path.join(path.dirname(fileOf(row)), 'evening-1.wav'))];
	const off = [4, 5, 9, 10, 14, 15, 19, 20].map((second) => {
		const from = Math.round((second - sound! - settlesS) * 8000);
		const piece = hers.subarray(from, from + 8000);
		return findWithin(piece, desk.subarray((second - 1) * 8000, (second + 2) * 8000))! / 8000 - 1;
	});
	expect(off.filter((each) => Math.abs(each) < 0.002).length).toBeGreaterThan(5);
	expect(packets.filter(({ kind }) => kind === 'video')).toHaveLength(600);
	expect(await decodeAll(fileOf(row))).toBe('');
});

it('begins with the program where it was begun before, and may be of another kind', async () => {
	const pello = await guestNamed('Pello Arrizun');
	await broadcast('matinee', [{ file: VOICE, name: 'Pello Arrizun', laterS: 0 }]);
	await finish('matinee');
	// The same voice, begun 3 s before the desk has recorded anything.
	const early = await own('pello.webm', VP8, ['-ss', '17', '-stream_loop', '-1', '-i', VOICE]);
	await send(pello, early, { broadcastId: 'matinee', startedAt: STARTED_AT - 2000, kind: 'webm' });
	const row = await placed('matinee');
	expect(row).toMatchObject({ kind: 'own', name: 'Pello Arrizun' });
	expect(row.file).toMatch(/\.mkv$/);
	const packets = await probePackets(fileOf(row));
	expect(packets.filter(({ time }) => time < 0)).toEqual([]);
	expect(packets.find(({ kind }) => kind === 'video')).toMatchObject({ key: true });
	expect(packets.at(-1)!.time).toBeGreaterThan(16.5);
	expect(packets.at(-1)!.time).toBeLessThan(17.1);
});

it('lies roughly where the clocks say when nobody heard the guest, and says so', async () => {
	const ysolde = await guestNamed('Ysolde Brann');
	await broadcast('silent', [{ file: OTHER, name: 'Pello Arrizun', laterS: 0 }]);
	await finish('silent');
	const bytes = await own('silent.mp4', [...H264, ...IN_PIECES]);
	await send(ysolde, bytes, { broadcastId: 'silent', startedAt: STARTED_AT + 4000, kind: 'mp4' });
	const row = await placed('silent');
	expect(row.kind).toBe('ownRoughly');
	expect((await probePackets(fileOf(row)))[0]!.time).toBeCloseTo(4, 1);
});

it('is taken from its guest only, and only when it says what it is', async () => {
	const [ysolde, pello] = [await guestNamed('Ysolde Brann'), await guestNamed('Pello Arrizun')];
	const about = { broadcastId: 'evening', startedAt: STARTED_AT, kind: 'mp4' };
	const url = await send(ysolde, Buffer.from('no picture'), about);
	const head = (visitor: Visitor, at: string) =>
		visitor.ask(new URL(at).pathname, { method: 'HEAD', headers: { 'Tus-Resumable': '1.0.0', Origin: site.url } });
	expect((await head(pello.visitor, url)).status).toBe(403);
	expect((await head(pello.visitor, url.replace(ysolde.id, pello.id))).status).toBe(404);
	expect((await head(owner(), url)).status).toBe(403);
	for (const wrong of [
		{},
		{ ...about, kind: 'exe' },
		{ ...about, broadcastId: '../..' },
		{ ...about, startedAt: 'now' },
	])
		await expect(send(ysolde, Buffer.from('x'), wrong)).rejects.toThrow(/does not say what recording it is/);
	await expect(send({ ...ysolde, id: pello.id }, Buffer.from('x'), about)).rejects.toThrow();
	await expect(send(ysolde, Buffer.from('x'), { ...about, broadcastId: 'none' })).rejects.toThrow(/no such broadcast/);
});

it('is taken so often only, and one that cannot be read is in nobody’s way', async () => {
	const many = await guestNamed('Tova Lind');
	const about = { broadcastId: 'evening', startedAt: STARTED_AT, kind: 'mp4' };
	for (let i = 0; i < 60; i++) await send(many, Buffer.from('no picture'), about);
	await expect(send(many, Buffer.from('no picture'), about)).rejects.toThrow(/more recordings than are taken/);
	const waiting = path.join(folder.folder, 'guests', 'waiting');
	await until('all to be put aside', async () => {
		const left = await readdir(waiting);
		return left.filter((name) => name.includes(many.id) && name.endsWith('.unplaced')).length === 60;
	});
	const own = (await site.app.recordings.list(eventId)).filter(({ kind }) => kind.startsWith('own'));
	expect(own.map(({ broadcastId }) => broadcastId).sort()).toEqual(['evening', 'matinee', 'silent']);
});

it('is placed by the next start when the server died after the last piece had come', async () => {
	const id = `${eventId}~somebody~12345678`;
	const about = { broadcastId: 'silent', startedAt: STARTED_AT + 1000, kind: 'mp4' };
	const [incoming, waiting] = ['incoming', 'waiting'].map((name) => path.join(folder.folder, 'guests', name));
	await writeFile(path.join(incoming!, id), await own('late.mp4', [...H264, ...IN_PIECES]));
	const known = { ...about, id: 'own-somebody-12345678', eventId, name: 'Ysolde Brann' };
	await writeFile(path.join(waiting!, `${id}.json`), JSON.stringify(known));
	site.app.ownRecordings.place();
	await until('the recording', async () => await site.app.recordings.find(eventId, known.id));
	expect((await readdir(incoming!)).filter((name) => name.startsWith(id))).toEqual([]);
});
