/** A watch page as viewers' browsers and web caches ask it: what is received, who watches, what they write, and who may. */
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { MediaPacket } from '../../src/core/delivery/uplink.ts';
import type { WatchTold } from '../../src/core/watch-page/watched.ts';
import { saveDestination, saveWatchPage } from '../../src/server/access/destination-form.ts';
import { createEvent } from '../../src/server/events.ts';
import type { Room } from '../../src/server/live/room.ts';
import { WatchAnswers } from '../../src/server/watch/answer-watch.ts';
import { WatchPages } from '../../src/server/watch/watch-pages.ts';
import { openKeyFile } from '../../src/server/access/secrets.ts';
import { openApp, testFolder, until } from '../support/app.ts';
import { endWithDesk, makeMaterial, play, run, type Material } from '../support/media.ts';

const WATCH = { slug: 'lantern-night', access: 'public', captions: true, messages: true, recording: true } as const;
const PAGE = { id: 'page', name: 'Our own page', watch: WATCH, password: null };

let folder: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
let material: Material;
let server: http.Server;
let base: string;
let room: Room;
let eventId: string;

beforeAll(async () => {
	folder = await testFolder();
	material = await makeMaterial(folder.folder, 40);
	running = await openApp(inject('databaseUrl'), folder.folder);
	const { app } = running;
	const answers = new WatchAnswers((slug) => {
		const page = app.watch.find(slug);
		return page && { page, pages: app.watch, stills: app.stills };
	});
	server = http.createServer((request, response) => {
		if (!answers.handle(request, response)) response.writeHead(418).end();
	});
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/watch`;
	eventId = await createEvent(app, 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 }, 'UTC');
	room = await app.events.owner(eventId);
	await saveWatchPage(app, room, PAGE);
});
afterAll(async () => {
	server.close();
	server.closeAllConnections();
	await running.close();
	await folder.remove();
});

const get = (path: string, init?: RequestInit) => fetch(`${base}/${path}`, { redirect: 'manual', ...init });
const now = async (viewer = '') => (await (await get(`lantern-night/now.json?viewer=${viewer}`)).json()) as WatchTold;
/** Other events of this server may have further destinations. */
const pageStatus = () => room.status().destinations.find(({ id }) => id === 'page');
const write = (from: string, text: string) =>
	get('lantern-night/messages', { method: 'POST', body: JSON.stringify({ from, text }) });

describe('a watch page', () => {
	it('says when it begins, and has nothing to play', async () => {
		expect(await now()).toMatchObject({
			...{ phase: 'before', title: 'Lantern Night', startsAt: Date.UTC(2026, 10, 28, 19) },
			...{ stream: null, recording: null, messages: [] },
		});
		expect((await get(`lantern-night/hls/${eventId}/main.m3u8`)).status).toBe(404);
		expect((await write('Ines', 'Is anybody there?')).status).toBe(409);
	});

	it('is received, played, counted and written on while it is on air, and shows the recording afterwards', async () => {
		await room.hub.submitAsServer({ type: 'startBroadcast', broadcastId: 'lantern' });
		const broadcast = await until('the broadcast', () => room.keeper.broadcast);
		broadcast.attach('desk', () => {});
		broadcast.receive(material.video);
		broadcast.receive(material.audio);
		const playing = play(material, (packet) => broadcast.receive(packet), 2);
		const { stream } = await until('the stream', async () => {
			const told = await now();
			return told.stream === null ? null : told;
		});
		const main = await (await fetch(new URL(stream!, base))).text();
		expect(main).toMatch(
			/#EXT-X-STREAM-INF:BANDWIDTH=\d{6,8},RESOLUTION=640x360,CODECS="avc1\.[0-9a-f]{6},mp4a\.40\.2"/,
		);
		const list = await get(`lantern-night/hls/${eventId}/0/live.m3u8`);
		expect(list.headers.get('cache-control')).toBe('public, max-age=1');
		expect(list.headers.get('access-control-allow-origin')).toBe('*');
		const text = await list.text();
		const dated = Date.parse(/#EXT-X-PROGRAM-DATE-TIME:(\S+)/.exec(text)![1]!);
		expect(Math.abs(Date.now() - dated)).toBeLessThan(60_000);
		const piece = /^\S+\.m4s$/m.exec(text)![0];
		const fetched = await get(`lantern-night/hls/${eventId}/0/${piece}`);
		expect(fetched.headers.get('cache-control')).toContain('immutable');
		// Anybody's player reads it.
		const { stdout } = await run('ffprobe', [
			...'-v error -show_entries stream=codec_name,width -of csv=p=0'.split(' '),
			new URL(stream!, base).href,
		]);
		expect(new Set(stdout.trim().split('\n').filter(Boolean))).toEqual(new Set(['aac', 'h264,640']));

		await Promise.all([now('viewer-one'.replace('-', '')), now('viewertwo'), now('viewertwo'), now('x')]);
		await until('two viewers', () => pageStatus()?.audience?.viewers === 2);
		expect((await write('Ines', 'Good evening')).status).toBe(204);
		expect((await write('', 'nobody')).status).toBe(400);
		const [message] = await until('the message', () => {
			const { viewerMessages } = room.keeper;
			return viewerMessages.length > 0 ? viewerMessages : null;
		});
		expect(message).toMatchObject({ from: 'Ines', text: 'Good evening', destinationId: 'page' });
		room.keeper.post('Welcome to you all');
		await until('the answer', async () => (await now()).messages?.length === 2);
		await room.hub.submitAsServer({ type: 'hideMessage', messageId: message!.id, hidden: true });
		expect((await now()).messages!.map(({ text: each }) => each)).toEqual(['Welcome to you all']);

		playing.stop();
		await endWithDesk(broadcast);
		await room.hub.submitAsServer({ type: 'endBroadcast' });
		expect(await now()).toMatchObject({ phase: 'after', stream: null });
		const { recording } = await until('the recording', async () => {
			const told = await now();
			return told.recording === null ? null : told;
		});
		const part = await fetch(new URL(recording!, base), { headers: { Range: 'bytes=4-7' } });
		expect([part.status, await part.text()]).toEqual([206, 'ftyp']);

		// The next broadcast shows nothing of this one.
		await room.hub.submitAsServer({ type: 'startBroadcast', broadcastId: 'again' });
		const again = await until('the next', () => (room.keeper.broadcast?.id === 'again' ? room.keeper.broadcast : null));
		again.attach('desk', () => {});
		again.receive(material.video);
		again.receive(material.audio);
		for (const packet of material.packets.slice(0, 20)) again.receive(packet);
		await until('its connection', () => pageStatus()?.phase === 'live');
		expect(await now()).toMatchObject({ phase: 'live', stream: null });
		await endWithDesk(again);
		await room.hub.submitAsServer({ type: 'endBroadcast' });
	});

	it('has a smaller picture where one is encoded anyway, and stands in the figures once', async () => {
		const host = { id: 'small-host', name: 'Host of few lines', address: 'rtmp://127.0.0.1:9/valley', userName: '' };
		const caps = { keyLasts: true, maxHeight: 360, maxKbps: null, maxFps: null, accountUrl: null } as const;
		await saveDestination(running.app, room, { ...host, ...caps, key: 'lamp', password: null });
		await room.hub.submitAsServer({ type: 'tickDestination', destinationId: host.id, ticked: true });
		await room.hub.submitAsServer({ type: 'startBroadcast', broadcastId: 'two-sizes' });
		const broadcast = await until('the broadcast', () =>
			room.keeper.broadcast?.id === 'two-sizes' ? room.keeper.broadcast : null,
		);
		expect(broadcast.rates).toHaveLength(2);
		broadcast.attach('desk', () => {});
		broadcast.receive(material.video);
		broadcast.receive({ ...material.video, rendition: 1, width: 320, height: 180 });
		broadcast.receive(material.audio);
		const send = (packet: MediaPacket) => {
			broadcast.receive(packet);
			if (packet.kind === 'video') broadcast.receive({ ...packet, rendition: 1 });
		};
		const playing = play(material, send, 2);
		const { stream } = await until('the stream', async () => {
			const told = await now();
			return told.stream === null ? null : told;
		});
		const forms = await until('both sizes', async () => {
			const main = await (await fetch(new URL(stream!, base))).text();
			const found = main.match(/RESOLUTION=\d+x\d+/g)!;
			return found.length === 2 ? found : null;
		});
		expect(forms).toEqual(['RESOLUTION=640x360', 'RESOLUTION=320x180']);
		expect((await get(`lantern-night/hls/${eventId}/1/live.m3u8`)).status).toBe(200);
		const [figures] = await until('figures', async () => {
			const all = await room.log.figuresOf('two-sizes');
			return all.length > 0 ? all : null;
		});
		expect(figures!.destinations.map(({ id }) => id).toSorted()).toEqual(['page', 'small-host']);
		playing.stop();
		await endWithDesk(broadcast);
		await room.hub.submitAsServer({ type: 'endBroadcast' });
		await room.hub.submitAsServer({ type: 'removeDestination', destinationId: host.id });
		// Other tests have the same database.
		await running.app.destinations.forget(host.id);
	});

	it('is known to a server that was started again, without anybody having opened the event', async () => {
		const { app } = running;
		const key = await openKeyFile(folder.folder);
		const again = new WatchPages(app.db, key, app.destinations, app.recordings, null);
		await again.open();
		expect(again.find('lantern-night')!.shown(Date.now())).toMatchObject({ eventId, phase: 'after' });
		await app.watch.forgetEvent(eventId);
		expect(await now()).toMatchObject({ phase: 'before', title: 'Our own page', startsAt: null });
		app.watch.follow(room.hub.state);
		expect((await now()).phase).toBe('after');
	});

	it('is as it was saved last, whatever was read of it before', async () => {
		const { app } = running;
		// One list comes later than it was read.
		let isLate = false;
		let [isRead, come] = [() => {}, () => {}];
		const late = new Promise<void>((resolve) => (come = resolve));
		const destinations = new Proxy(app.destinations, {
			get: (real, name) => {
				const value: unknown = Reflect.get(real, name);
				if (name !== 'list') return typeof value === 'function' ? (value.bind(real) as unknown) : value;
				return async () => {
					const waits = isLate;
					isLate = false;
					const list = await real.list();
					isRead();
					if (waits) await late;
					return list;
				};
			},
		});
		const pages = new WatchPages(app.db, await openKeyFile(folder.folder), destinations, app.recordings, null);
		await pages.open();
		const readOnce = new Promise<void>((resolve) => (isRead = resolve));
		isLate = true;
		const before = pages.refresh();
		await readOnce;
		await saveWatchPage(app, room, { ...PAGE, watch: { ...WATCH, captions: false } });
		await pages.refresh();
		come();
		await before;
		expect(pages.find('lantern-night')!.place.captions).toBe(false);
		await saveWatchPage(app, room, PAGE);
	});
});

describe('a page with a password', () => {
	const enter = (password: string) =>
		get('lantern-night/enter', { method: 'POST', body: new URLSearchParams({ password }) });

	it('lets in who knows it, until it is another one', async () => {
		const { app } = running;
		const withPassword = { ...PAGE, watch: { ...WATCH, access: 'password' as const } };
		await expect(saveWatchPage(app, room, withPassword)).rejects.toMatchObject({ reason: { code: 'passwordMissing' } });
		await saveWatchPage(app, room, { ...withPassword, password: 'lantern' });
		for (const path of ['now.json', 'words.json', 'recording.mp4', `hls/${eventId}/0/live.m3u8`])
			expect((await get(`lantern-night/${path}`)).status, path).toBe(403);
		expect((await enter('wrong')).headers.get('location')).toBe('/watch/lantern-night?wrong');
		const entered = await enter('lantern');
		expect(entered.headers.get('location')).toBe('/watch/lantern-night');
		const cookie = entered.headers.get('set-cookie')!;
		expect(cookie).toMatch(
			/^bivvo-watch-lantern-night=[\w-]{43}; .*Path=\/watch\/lantern-night; HttpOnly; SameSite=Lax/,
		);
		const Cookie = cookie.split(';')[0]!;
		const inside = await get('lantern-night/now.json', { headers: { Cookie } });
		expect([inside.status, inside.headers.get('access-control-allow-origin')]).toEqual([200, null]);
		await saveWatchPage(app, room, { ...withPassword, password: 'another' });
		expect((await get('lantern-night/now.json', { headers: { Cookie } })).status).toBe(403);
		const tried = new Set<string | null>();
		for (let i = 0; i < 15; i++) tried.add((await enter(String(i))).headers.get('location'));
		expect(tried).toEqual(new Set(['/watch/lantern-night?wrong', '/watch/lantern-night?often']));
	});
});

it('what is no page, or nothing of one, is said, whatever is asked', async () => {
	expect((await get('another-night/now.json')).status).toBe(404);
	expect((await get('lantern-night')).status).toBe(418);
	const paths = [
		'nothing',
		'hls/..%2f..%2fsecret.key',
		'hls/x/9/live.m3u8',
		'hls/%2e%2e/0/live.m3u8',
		'picture',
		'enter',
	];
	await saveWatchPage(running.app, room, PAGE);
	for (const path of paths) expect((await get(`lantern-night/${path}`)).status, path).toBeOneOf([404, 405]);
	expect((await get('lantern-night/now.json', { method: 'DELETE' })).status).toBe(405);
	expect((await get('lantern-night/messages', { method: 'POST', body: 'x'.repeat(1e5) })).status).toBe(400);
});
