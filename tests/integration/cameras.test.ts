/** Cameras of the network: FFmpeg sends by RTMP and RTMPS, and a desk is handed what it sends. */
import { randomBytes } from 'node:crypto';
import net from 'node:net';
import tls from 'node:tls';
import { afterAll, afterEach, beforeAll, describe, expect, inject, it } from 'vitest';
import { tlsFor } from '../../command/tls.mjs';
import { avcPicture, avcSequenceHeader } from '../../src/core/delivery/flv.ts';
import { RtmpPublishSession } from '../../src/core/delivery/rtmp/client.ts';
import { plainSource } from '../../src/core/show/sources/source.ts';
import type { Bivvo } from '../../src/server/bivvo.ts';
import { createEvent } from '../../src/server/events.ts';
import { CameraListener, type FindCamera } from '../../src/server/ingest/listener.ts';
import { openApp, Page, testFolder, until } from '../support/app.ts';
import type { ffmpeg } from '../support/media.ts';
import { CameraWatch, sendAsCamera } from '../support/rtmp-camera.ts';

/** Of the Baseline profile, with two parameter sets. */
const AVC = Uint8Array.of(1, 0x42, 0, 0x1f, 0xff, 0xe1, 0, 1, 0x67, 1, 0, 1, 0x68);

let folder: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
let app: Bivvo;
let listener: CameraListener;
let eventId: string;
let desk: Page;
let lease: string;
const find: FindCamera = (key) => {
	const cameraId = app.cameras.keys.find(key);
	return cameraId === null ? null : { cameras: app.cameras, cameraId };
};

beforeAll(async () => {
	folder = await testFolder();
	running = await openApp(inject('databaseUrl'), folder.folder);
	({ app } = running);
	const certificate = await tlsFor({ host: '0.0.0.0', data: folder.folder, env: {} });
	listener = await CameraListener.open({ host: '127.0.0.1', port: 0 }, find, certificate);
	eventId = await createEvent(app, 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 });
	desk = new Page(running.port, eventId);
	await desk.welcome();
	desk.send({ type: 'wantEngine', takeOver: true });
	lease = await desk.lease();
});
afterAll(async () => {
	await listener.close();
	desk.socket.close();
	await running.close();
	await folder.remove();
});

const ends: (() => unknown)[] = [];
afterEach(async () => {
	for (const end of ends.splice(0).reverse()) await end();
});

/** A camera of the event, and the desk that watches it. */
async function camera(name: string): Promise<{ key: string; url: string; watch: CameraWatch }> {
	const source = plainSource(`source-${name}`, name, { kind: 'network', cameraId: name, could: null });
	await desk.applied(desk.do({ type: 'addSource', source }));
	const key = await app.cameras.keys.keyOf(name);
	return { key, url: `rtmp://127.0.0.1:${listener.port}/camera/${key}`, watch: watching(name) };
}

function watching(name: string): CameraWatch {
	const watch = new CameraWatch(running.port, eventId, name, lease);
	ends.push(() => watch.socket.close());
	return watch;
}

function sending(...args: Parameters<typeof sendAsCamera>): ReturnType<typeof ffmpeg> {
	const sender = sendAsCamera(...args);
	ends.push(() => {
		sender.kill();
		return sender.ended;
	});
	return sender;
}

/** A camera that is written by hand. */
async function byHand(key: string, socket: net.Socket = net.connect(listener.port!, '127.0.0.1')) {
	const events: string[] = [];
	let isOver = false;
	socket.on('close', () => (isOver = true));
	socket.on('error', () => {});
	const target = { app: 'camera', tcUrl: `rtmp://127.0.0.1:${listener.port}/camera`, key };
	const session = new RtmpPublishSession(
		target,
		randomBytes(1528),
		(bytes) => void socket.write(bytes),
		(event) => events.push(event.kind),
	);
	socket.on('data', (bytes: Buffer) => session.receive(bytes));
	ends.push(() => socket.destroy());
	await until('an answer', () => events.length > 0 || isOver);
	return { session, socket, events, isOver: () => isOver };
}

const timesOf = (watch: CameraWatch) => watch.of('video').map(({ timeUs }) => timeUs / 1000);
/** Times in the order of decoding; those with B-frames are shown in another one. */
const steps = (times: readonly number[]) => times.slice(1).map((time, i) => time - times[i]!);

describe('a camera by RTMP', () => {
	it('reaches the desk whole: configurations first, each picture and sound as it is, and why it ends', async () => {
		const { url, watch } = await camera('plain');
		const sender = sending(url, '-bf 0');
		await until('two seconds', () => watch.of('video').length >= 50 && watch.of('audio').length > 50);
		expect(watch.packets.slice(0, 1)).toEqual([{ kind: 'begun' }]);
		expect(watch.of('videoConfig')).toHaveLength(1);
		expect(watch.of('video')[0]!.key).toBe(true);
		expect(new Set(steps(timesOf(watch)))).toEqual(new Set([40]));
		sender.kill();
		await until('the end', () => watch.of('gone').length > 0);
		expect(watch.of('gone')).toEqual([{ kind: 'gone', why: 'torn' }]);
	});

	it('has B-frames at the times at which they are shown, and 29.97 pictures a second', async () => {
		const { url, watch } = await camera('reordered');
		sending(url, '-preset veryfast -bf 3 -b_strategy 0', '640x480', '30000/1001');
		await until('two seconds', () => watch.of('video').length >= 60);
		const times = timesOf(watch);
		expect(watch.of('video').some(({ reordered }) => reordered)).toBe(true);
		expect(steps(times).some((step) => step < 0)).toBe(true);
		// Sorted as they are shown, there are 33 or 34 ms between any two but the last, of which some are still to come.
		const shown = new Set(steps(times.toSorted((a, b) => a - b).slice(0, 50)));
		expect([...shown].every((step) => step === 33 || step === 34)).toBe(true);
	});

	it('is there for a desk that comes later, from a key frame on', async () => {
		const { url, watch } = await camera('late');
		sending(url, '-bf 0');
		await until('some pictures', () => watch.of('video').length > 40);
		const later = watching('late');
		await until('a picture', () => later.of('video').length > 0);
		expect(later.packets.slice(0, 3).map(({ kind }) => kind)).toEqual(['begun', 'videoConfig', 'audioConfig']);
		expect(later.of('video')[0]!.key).toBe(true);
	});

	it('that changes the size of its picture in mid-stream says so by another configuration', async () => {
		const { key, watch } = await camera('changed');
		const { session } = await byHand(key);
		session.sendVideo(0, avcSequenceHeader(AVC));
		session.sendVideo(0, avcPicture(Uint8Array.of(1), true));
		session.sendVideo(40, avcSequenceHeader(Uint8Array.of(...AVC, 9)));
		session.sendVideo(40, avcPicture(Uint8Array.of(2), true));
		await until('both', () => watch.of('video').length === 2);
		expect(watch.packets.map(({ kind }) => kind)).toEqual(['begun', 'videoConfig', 'video', 'videoConfig', 'video']);
	});

	it('whose time stamps step, run over or stand still goes on evenly, and disturbs no other', async () => {
		const { key, watch } = await camera('steps');
		const other = await camera('other');
		sending(other.url, '-bf 0');
		const { session } = await byHand(key);
		session.sendVideo(0, avcSequenceHeader(AVC));
		const stamps = [2 ** 32 - 80, 2 ** 32 - 40, 0, 40, 9_000_000, 9_000_040, 17, 57, 57];
		for (const [i, stamp] of stamps.entries()) session.sendVideo(stamp, avcPicture(Uint8Array.of(i + 1), i === 0));
		await until('all', () => watch.of('video').length === stamps.length);
		const times = timesOf(watch);
		expect(times.slice(0, 4)).toEqual([0, 40, 80, 120]);
		expect(steps(times).every((step) => step >= 0 && step < 1500)).toBe(true);
		await until('the other', () => other.watch.of('video').length > 30);
		expect(new Set(steps(timesOf(other.watch)))).toEqual(new Set([40]));
	});

	it('that connects again takes the place of its former connection', async () => {
		const { key, watch } = await camera('twice');
		const first = await byHand(key);
		const second = await byHand(key);
		second.session.sendVideo(0, avcSequenceHeader(AVC));
		await until('the second', () => watch.of('videoConfig').length === 1 && first.isOver());
		expect(watch.packets.map(({ kind }) => kind)).toEqual(['begun', 'gone', 'begun', 'videoConfig']);
		expect(second.isOver()).toBe(false);
	});

	it('by TLS on the same port is the same', async () => {
		const { key, watch } = await camera('secure');
		const socket = tls.connect({ port: listener.port!, host: '127.0.0.1', rejectUnauthorized: false });
		const { session } = await byHand(key, socket);
		session.sendVideo(0, avcSequenceHeader(AVC));
		await until('its configuration', () => watch.of('videoConfig').length === 1);
		expect(listener.isSecure).toBe(true);
	});
});

describe('what is no camera', () => {
	it('has no key: it is told so, and nothing of it reaches anybody', async () => {
		const { watch, key } = await camera('keyed');
		const stranger = await byHand('aaaa-bbbb-cccc-dddd');
		expect(stranger.events).toEqual(['refused']);
		await until('the end of its connection', stranger.isOver);
		expect(watch.packets).toEqual([]);
		// As somebody types it who reads it out.
		expect((await byHand(key.toUpperCase().replaceAll('-', ''))).events).toEqual(['live']);
	});

	it('sends rubbish, or a flood: it is ended with the reason, and another goes on', async () => {
		const other = await camera('calm');
		sending(other.url, '-bf 0');
		const { key, watch } = await camera('rubbish');
		const wrong = await byHand(key);
		wrong.session.sendVideo(0, Uint8Array.of(0x17));
		await until('the reason', () => watch.of('gone').length === 1);
		expect(watch.of('gone')[0]!.why).toBe('rubbish');
		await until('the end of its connection', wrong.isOver);

		const flood = await byHand(key);
		flood.session.sendVideo(0, avcSequenceHeader(AVC));
		const large = avcPicture(new Uint8Array(2e6), true);
		for (let i = 0; i < 8 && !flood.isOver(); i++) flood.session.sendVideo(i, large);
		await until('the reason', () => watch.of('gone').length === 2);
		expect(watch.of('gone')[1]!.why).toBe('flood');

		const socket = net.connect(listener.port!, '127.0.0.1').resume();
		ends.push(() => socket.destroy());
		socket.on('error', () => {});
		const closed = new Promise((resolve) => socket.once('close', resolve));
		socket.write(randomBytes(40_000));
		await closed;
		const seen = other.watch.of('video').length;
		await until('the other goes on', () => other.watch.of('video').length > seen + 10);
	});

	it('its key is replaced: the old one is good for nothing, and what came with it is ended', async () => {
		const { key, watch } = await camera('renewed');
		const before = await byHand(key);
		const renewed = await app.cameras.renew('renewed');
		await until('the reason', () => watch.of('gone').length === 1);
		expect(watch.of('gone')[0]!.why).toBe('renewed');
		await until('its end', before.isOver);
		expect((await byHand(key)).events).toEqual(['refused']);
		expect((await byHand(renewed)).events).toEqual(['live']);
	});
});

it('a page that does not make the program, and a camera of no event, are turned away', async () => {
	await camera('mine');
	const stranger = new CameraWatch(running.port, eventId, 'mine', 'no-lease');
	await until('the end', () => stranger.closed);
	expect(stranger.closed!.code).toBe(1008);
	const nothing = new CameraWatch(running.port, eventId, 'of-nobody', lease);
	await until('the end', () => nothing.closed);
	expect(nothing.closed!.code).toBe(4005);
	expect(app.cameras.keys.find('')).toBeNull();
});
