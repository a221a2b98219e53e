/** WHIP over HTTP: a camera offers, and the desk that shows it answers. */
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { plainSource } from '../../src/core/show/sources/source.ts';
import { createEvent } from '../../src/server/events.ts';
import { Whip } from '../../src/server/ingest/whip.ts';
import { openApp, Page, testFolder, until } from '../support/app.ts';
import { CameraWatch } from '../support/rtmp-camera.ts';

const OFFER = [
	'v=0',
	'o=- 1 2 IN IP4 127.0.0.1',
	's=-',
	't=0 0',
	'm=video 9 UDP/TLS/RTP/SAVPF 96',
	'a=sendonly',
	'',
].join('\r\n');
let folder: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
let server: http.Server;
let base: string;
let key: string;
let eventId: string;
let desk: Page;
let lease: string;

beforeAll(async () => {
	folder = await testFolder();
	running = await openApp(inject('databaseUrl'), folder.folder);
	const { cameras } = running.app;
	const whip = new Whip((asked) => {
		const cameraId = cameras.keys.find(asked);
		return cameraId === null ? null : { cameras, cameraId };
	});
	server = http.createServer((request, response) => {
		if (!whip.handle(request, response)) response.writeHead(418).end();
	});
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
	eventId = await createEvent(running.app, 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 });
	desk = new Page(running.port, eventId);
	await desk.welcome();
	desk.send({ type: 'wantEngine', takeOver: true });
	lease = await desk.lease();
	const source = plainSource('whip', 'Tower door', { kind: 'network', cameraId: 'tower-door', could: null });
	await desk.applied(desk.do({ type: 'addSource', source }));
	key = await cameras.keys.keyOf('tower-door');
});
afterAll(async () => {
	server.close();
	server.closeAllConnections();
	desk.socket.close();
	await running.close();
	await folder.remove();
});

const offer = (headers: Record<string, string> = {}, body = OFFER, method = 'POST', path = '/whip') =>
	fetch(base + path, {
		method,
		headers: { Authorization: `Bearer ${key}`, 'Content-Type': 'application/sdp', ...headers },
		...(method === 'POST' && { body }),
	});

async function watching(): Promise<CameraWatch> {
	const watch = new CameraWatch(running.port, eventId, 'tower-door', lease);
	await until('its line', () => watch.socket.readyState === watch.socket.OPEN);
	// The line is taken up when the event is there. One offer at a time: a late one would take the place of the test's.
	await until('a desk', async () => {
		let isPutOff = false;
		const asked = offer().then(() => (isPutOff = true));
		await until('an answer', () => isPutOff || watch.signals.length > 0);
		const [signal] = watch.signals.splice(0);
		if (signal) say(watch, { session: signal.session, sdp: null });
		await asked;
		return signal;
	});
	watch.signals.length = 0;
	return watch;
}
const say = (watch: CameraWatch, answer: { session: string; sdp: string | null }) =>
	watch.socket.send(JSON.stringify({ is: 'answer', ...answer }));

describe('an offer', () => {
	it('is answered by the desk, ended by DELETE, and another takes its place', async () => {
		const watch = await watching();
		const asked = offer();
		const signal = await until('the offer', () => watch.signals.find(({ is }) => is === 'offer'));
		expect(signal.sdp).toBe(OFFER);
		say(watch, { session: signal.session, sdp: 'v=0 the answer' });
		const answered = await asked;
		expect([answered.status, answered.headers.get('content-type')]).toEqual([201, 'application/sdp']);
		expect(await answered.text()).toBe('v=0 the answer');
		const place = answered.headers.get('location')!;
		expect(place).toBe(`/whip/${signal.session}`);

		const again = offer();
		const second = await until('the next', () =>
			watch.signals.findLast(({ is }) => is === 'offer' && watch.signals.length > 2),
		);
		expect(watch.signals.find(({ is }) => is === 'end')!.session).toBe(signal.session);
		say(watch, { session: second.session, sdp: 'v=0 another' });
		const taken = (await again).headers.get('location')!;
		expect((await offer({}, '', 'DELETE', place)).status).toBe(404);
		expect((await offer({ Authorization: 'Bearer wrong' }, '', 'DELETE', taken)).status).toBe(401);
		expect((await offer({}, '', 'DELETE', taken)).status).toBe(200);
		await until('the end', () => watch.signals.some(({ is, session }) => is === 'end' && session === second.session));
		watch.socket.close();
	});

	it('that no desk takes is put off, whether there is none or it refuses', async () => {
		const watch = await watching();
		const asked = offer();
		const signal = await until('the offer', () => watch.signals.find(({ is }) => is === 'offer'));
		say(watch, { session: signal.session, sdp: null });
		expect((await asked).status).toBe(503);
		const left = offer();
		await until('the next', () => watch.signals.length > 1);
		watch.socket.close();
		expect((await left).status).toBe(503);
		const none = await until('no desk', async () => {
			const response = await offer();
			return response.status === 503 ? response : null;
		});
		expect(none.headers.get('retry-after')).toBe('5');
	});

	it('with a wrong key, a wrong type, too much or nothing is refused in words', async () => {
		expect((await offer({ Authorization: '' })).status).toBe(401);
		const refused = await offer({ Authorization: 'Bearer aaaa-bbbb-cccc-dddd' });
		expect([refused.status, await refused.text()]).toEqual([401, 'This key belongs to no camera. Type it again.\n']);
		expect((await offer({ 'Content-Type': 'text/plain' })).status).toBe(415);
		expect((await offer({}, 'v=0'.padEnd(100_000, 'x'))).status).toBe(413);
		expect((await offer({}, 'hello')).status).toBe(400);
		expect((await offer({}, '', 'PATCH', '/whip/00000000-0000-0000-0000-000000000000')).status).toBe(405);
		const asked = await offer({}, '', 'OPTIONS');
		expect([asked.status, asked.headers.get('accept-post')]).toEqual([204, 'application/sdp']);
		expect((await offer({}, '', 'GET', '/elsewhere')).status).toBe(418);
	});

	it('with a wrong key again and again is not even looked at', async () => {
		const statuses = new Set<number>();
		for (let i = 0; i < 40; i++) statuses.add((await offer({ Authorization: `Bearer ${i}` })).status);
		expect(statuses).toEqual(new Set([401, 429]));
	});
});
