/**
 * Sends rubbish to a server that runs: requests, upgrades, messages of pages, packets of an uplink, RTMP, files of the
 * library. Each kind starts from what is right and damages it; a seed gives the same again.
 */
import net from 'node:net';
import fc from 'fast-check';
import { WebSocket } from 'ws';
import { encodeUplink } from '../../src/core/delivery/uplink.ts';
import { Page, until } from './app.ts';

export interface FuzzTarget {
	/** Of the server, and of a host that takes RTMP. */
	port: number;
	rtmpPort: number;
	/** An event, and a cookie that may work on it; none where whoever comes may. */
	eventId: string;
	cookie: string;
}

export type Kind = 'request' | 'upgrade' | 'page' | 'guest' | 'uplink' | 'rtmp' | 'file';
export const KINDS: readonly Kind[] = ['request', 'upgrade', 'page', 'guest', 'uplink', 'rtmp', 'file'];

const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS', 'TRACE', 'PRI', 'get'];
const TARGETS = [
	'/',
	'//',
	'*',
	'/%ff',
	'/../../etc/passwd',
	'/events/lantern-night',
	'/api/access/sign-in',
	'/api/access/join',
	'/api/access/link',
	'/api/access/link/look',
	'/events/lantern-night/guest/x',
	'/api/media/upload/x',
	'/api/events/lantern-night/destinations',
	'/api/events/lantern-night/files',
	'/api/events/lantern-night/recordings/x/exact?fromS=0&toS=1',
	'/_app/version.json',
	'http://evil/',
];
const HEADERS = [
	'Content-Type: application/json',
	'Content-Type: image/png',
	'Content-Type: application/offset+octet-stream',
	'Content-Length: 5',
	'Content-Length: 99999999999999999999',
	'Transfer-Encoding: chunked',
	'Origin: http://evil.example',
	'Host: evil.example',
	'Cookie: bivvo=x; bivvo=y; =',
	'Range: bytes=9-1',
	'X-Forwarded-For: 1.2.3.4, ::1',
	'Sec-Fetch-Site: cross-site',
	'Upgrade: websocket',
	'Upload-Length: -1',
	'Upload-Metadata: filename AAA,about e30=',
	'Tus-Resumable: 1.0.0',
	'Upload-Offset: 99',
];
const bytes = (maxLength: number) => fc.uint8Array({ maxLength });

/** A request, mostly well formed. */
const request = fc
	.tuple(
		fc.constantFrom(...METHODS),
		fc.oneof(fc.constantFrom(...TARGETS), fc.string({ maxLength: 80 })),
		fc.subarray(HEADERS),
		fc.oneof(
			bytes(300),
			fc.json().map((json) => Buffer.from(json)),
		),
		fc.boolean(),
	)
	.map(([method, target, headers, body, isReset]) => ({ method, target, headers, body, isReset }));

/** A message of a page: JSON of some kind, or what is right with one part replaced. */
const MESSAGES: readonly object[] = [
	{ type: 'command', id: 'a', command: { type: 'take', sceneId: 'lectern' } },
	{
		type: 'command',
		id: 'b',
		command: { type: 'batch', commands: [{ type: 'setFader', channelId: 'choir', gainDb: -3 }] },
	},
	{ type: 'command', id: 'c', command: { type: 'renameEvent', title: 'x' } },
	{ type: 'fell', id: 'd', dueId: 'x' },
	{ type: 'wantEngine', takeOver: true },
	{ type: 'retry', destinationId: 'x' },
	{ type: 'loudness', loudness: { broadcastId: 'x', history: [1, 2, 3] } },
];
const GUEST_MESSAGES: readonly object[] = [
	{ type: 'knock', name: 'Ysolde Brann' },
	{ type: 'signal', desk: 'd', connection: 'c', signal: { is: 'description', type: 'offer', sdp: 'v=0' } },
	{
		type: 'signal',
		...{ desk: 'd', connection: 'c' },
		signal: { is: 'candidate', candidate: 'candidate:1 1 udp 1 10.0.0.1 9 typ host', sdpMid: '0', sdpMLineIndex: 0 },
	},
	{ type: 'about', muted: true, cameraOff: false, sharing: false, hand: true, battery: 0.4 },
	{ type: 'line', line: { availableKbps: 900, roundTripMs: 40, lost: 0.1 } },
	{ type: 'say', text: 'Can you see the snow?' },
];
const messageOf = (right: readonly object[]) =>
	fc
		.tuple(fc.constantFrom(...right), fc.jsonValue(), fc.integer({ min: 0, max: 20 }), fc.boolean())
		.map(([right, part, at, isRubbish]) =>
			isRubbish ? JSON.stringify(part) : JSON.stringify(replaced(right, part, at)),
		);
const message = messageOf(MESSAGES);
const guestMessage = messageOf(GUEST_MESSAGES);

/** The value at the so-manieth place of an object, counted through all of it, is another. */
function replaced(value: unknown, part: unknown, at: number): unknown {
	let left = at;
	const walk = (each: unknown): unknown => {
		if (left-- === 0) return part;
		if (Array.isArray(each)) return each.map(walk);
		if (each === null || typeof each !== 'object') return each;
		return Object.fromEntries(Object.entries(each).map(([key, inner]) => [key, walk(inner)]));
	};
	return walk(value);
}

const about = { rendition: 0, bitrateKbps: 1500, description: new Uint8Array(24).fill(1) };
const PACKETS = [
	encodeUplink({ kind: 'videoConfig', width: 640, height: 360, fps: 30, ...about }),
	encodeUplink({ kind: 'audioConfig', sampleRate: 48_000, channels: 2, ...about }),
	encodeUplink({ kind: 'video', rendition: 0, timeUs: 0, key: true, data: new Uint8Array(200) }),
	encodeUplink({ kind: 'audio', rendition: 0, timeUs: 2 ** 50, key: true, data: new Uint8Array(90) }),
	encodeUplink({ kind: 'hold', rendition: 0, key: true, data: new Uint8Array(90) }),
	encodeUplink({ kind: 'pcm', rendition: 130, timeUs: -(2 ** 40), data: new Uint8Array(900) }),
	encodeUplink({ kind: 'end' }),
];
/** Which bytes near the beginning of something are others, and whether it ends in its middle: when `cut` is 0. */
const damage = fc.tuple(fc.array(fc.tuple(fc.nat(60), fc.nat(255)), { maxLength: 6 }), fc.nat(3));
type Damage = [changes: [at: number, value: number][], cut: number];

function damaged(right: Uint8Array, [changes, cut]: Damage): Uint8Array<ArrayBuffer> {
	const copy = new Uint8Array(right.subarray(0, cut === 0 ? right.length >> 1 : right.length));
	for (const [at, value] of changes) if (at < copy.length) copy[at] = value;
	return copy;
}

const packet = fc.tuple(fc.constantFrom(...PACKETS), damage).map(([right, how]) => damaged(right, how));

/** The beginnings of stills of each kind that is taken, as far as they are read. */
const STILLS = [
	'\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\0\x40\0\0\0\x24\x08\x06\0\0\0 and the rest of it',
	'\xff\xd8\xff\xe0\0\x10JFIF\0\x01\x01\0\0\x01\0\x01\0\0\xff\xc0\0\x11\x08\0\x24\0\x40\x03\x01\x22\0\x02\x11\x01\x03\x11\x01\xff\xd9',
	'RIFF\x40\0\0\0WEBPVP8 \x34\0\0\0\x30\x01\0\x9d\x01\x2a\x40\0\x24\0 and the rest of it',
].map((text) => Buffer.from(text, 'latin1'));
const file = fc.record({
	still: fc.constantFrom(...STILLS),
	damage,
	/** What is said of it, with one part replaced. */
	part: fc.jsonValue(),
	at: fc.nat(40),
	name: fc.string({ maxLength: 30 }),
	/** Of the upload; null for the right one. */
	length: fc.option(fc.oneof(fc.constantFrom(0, 1, 2e10, 1e15), fc.integer()), { freq: 1 }),
	offset: fc.oneof(fc.constant(0), fc.integer()),
	range: fc.oneof(fc.constant('bytes=0-'), fc.string({ maxLength: 20 })),
});
type FileInput = typeof file extends fc.Arbitrary<infer T> ? T : never;
const ABOUT = {
	...{ kind: 'video', lengthMs: 3000, sound: { codec: 'opus', sampleRate: 48_000, channels: 2 } },
	picture: { width: 640, height: 360, fps: 30, codec: 'avc1.64001e', alpha: false },
};

/** Gives the library and an event a file as somebody's page does, with rubbish in it and around it, and asks for it. */
async function sendFile(
	{ still, damage: how, part, at, name, length, offset, range }: FileInput,
	{ port, eventId, cookie }: FuzzTarget,
): Promise<void> {
	const url = `http://127.0.0.1:${port}`;
	const ask = async (method: string, path: string, headers: Record<string, string>, body?: Uint8Array<ArrayBuffer>) => {
		const own = { Origin: url, 'Tus-Resumable': '1.0.0', ...(cookie && { Cookie: cookie }) };
		const response = await fetch(url + path, { method, headers: { ...own, ...headers }, body: body ?? null });
		await response.arrayBuffer();
		if (response.status >= 500 && response.status !== 507)
			throw new Error(`${method} ${path} was answered with ${response.status}`);
		return response;
	};
	const bytes = damaged(still, how);
	const base64 = (text: string) => Buffer.from(text).toString('base64');
	await ask('POST', `/api/events/${eventId}/files`, { 'Content-Type': 'image/png' }, bytes);
	const about = JSON.stringify(replaced(ABOUT, part, at));
	const made = await ask('POST', '/api/media/upload', {
		'Upload-Length': String(length ?? bytes.length),
		'Upload-Metadata': `filename ${base64(name)},folder ${base64(name)},about ${base64(about)}`,
	});
	const upload = made.headers.get('location');
	if (!upload) return;
	const type = { 'Content-Type': 'application/offset+octet-stream' };
	await ask('PATCH', upload, { ...type, 'Upload-Offset': String(offset) }, bytes);
	const id = upload.split('/').at(-1)!;
	await ask('PUT', `/api/media/${id}/poster`, { 'Content-Type': 'image/jpeg' }, bytes);
	await ask('GET', `/api/media/${id}/file`, { Range: range.replace(/[^\x20-\x7e]/g, '-') });
	await ask('GET', '/api/media', {});
	await ask('DELETE', upload, {});
}

function rawBytes(port: number, what: Uint8Array | string, isReset = false): Promise<void> {
	return new Promise((resolve) => {
		const socket = net.connect(port, '127.0.0.1', () => {
			socket.write(what);
			if (isReset) socket.resetAndDestroy();
			else setTimeout(() => socket.destroy(), 30);
		});
		socket.on('error', () => {});
		socket.on('data', () => {});
		socket.on('close', () => resolve());
	});
}

/** A page that is let in, which a server that has just been asked too often does a little later. */
export async function openedPage(port: number, eventId: string, headers: object = {}): Promise<Page> {
	for (;;) {
		const page = new Page(port, eventId, headers);
		await until('an answer', () => page.closed ?? page.messages.length > 0);
		if (!page.closed) return page;
		await new Promise((resolve) => setTimeout(resolve, 500));
	}
}

/** A guest's socket, and what lets them in. */
async function invite({
	port,
	eventId,
	cookie,
}: FuzzTarget): Promise<{ path: string; headers: Record<string, string> }> {
	const url = `http://127.0.0.1:${port}`;
	const send = (path: string, body: object) =>
		fetch(url + path, {
			method: 'POST',
			headers: { 'Content-Type': 'application/json', Origin: url, ...(cookie && { Cookie: cookie }) },
			body: JSON.stringify(body),
		});
	const order = { name: 'Ysolde Brann', role: 'guest', expiresAt: Date.now() + 3_600_000, uses: 1 };
	const { id, secret } = (await (await send(`/api/events/${eventId}/links`, order)).json()) as Record<string, string>;
	const opened = await send('/api/access/link', { secret });
	const headers = { Cookie: opened.headers.getSetCookie()[0]!.split(';')[0]!, Origin: url };
	return { path: `/guest/${eventId}/${id}`, headers };
}

/**
 * Sends so many inputs of one kind.
 * @param seed the same one sends the same inputs
 */
export async function fuzz(kind: Kind, target: FuzzTarget, runs: number, seed: number): Promise<void> {
	const { port, rtmpPort, eventId, cookie } = target;
	const sampled = <T>(of: fc.Arbitrary<T>) => fc.sample(of, { numRuns: runs, seed });
	const headers = cookie ? { headers: { Cookie: cookie } } : {};
	switch (kind) {
		case 'request':
			for (const { method, target: path, headers: more, body, isReset } of sampled(request)) {
				const head = `${method} ${path} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nCookie: ${cookie}\r\n${more.join('\r\n')}\r\n\r\n`;
				await rawBytes(port, Buffer.concat([Buffer.from(head), body]), isReset);
			}
			return;
		case 'upgrade':
			for (const [path, key, isReset] of sampled(fc.tuple(fc.string({ maxLength: 60 }), bytes(30), fc.boolean()))) {
				const head = `GET /live/${path} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: Upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: ${Buffer.from(key).toString('base64')}\r\n\r\n`;
				await rawBytes(port, head, isReset);
			}
			return;
		case 'page': {
			let page: Page | null = null;
			for (const text of sampled(message)) {
				if (!page || page.closed) page = await openedPage(port, eventId, headers);
				page.socket.send(text);
				await new Promise((resolve) => setTimeout(resolve, 2));
			}
			page?.socket.terminate();
			return;
		}
		case 'guest': {
			const { path, headers: own } = await invite(target);
			let socket: WebSocket | null = null;
			for (const text of sampled(guestMessage)) {
				while (!socket || socket.readyState !== WebSocket.OPEN) {
					socket = new WebSocket(`ws://127.0.0.1:${port}${path}`, { headers: own });
					socket.on('error', () => {});
					await new Promise((resolve) => socket!.once('open', resolve).once('close', resolve));
					// A server that has just been asked too often lets nobody in for a while.
					if (socket.readyState !== WebSocket.OPEN) await new Promise((resolve) => setTimeout(resolve, 500));
				}
				socket.send(text);
				await new Promise((resolve) => setTimeout(resolve, 2));
			}
			socket?.terminate();
			return;
		}
		case 'uplink': {
			const page = await openedPage(port, eventId, headers);
			page.send({ type: 'wantEngine', takeOver: true });
			const lease = await page.lease();
			let socket: WebSocket | null = null;
			for (const each of sampled(packet)) {
				if (!socket || socket.readyState > WebSocket.OPEN) {
					socket = new WebSocket(`ws://127.0.0.1:${port}/uplink/${eventId}?lease=${lease}&session=fuzz`, headers);
					socket.on('error', () => {});
					await new Promise((resolve) => socket!.once('open', resolve).once('close', resolve));
				}
				socket.send(each);
				await new Promise((resolve) => setTimeout(resolve, 1));
			}
			socket?.terminate();
			page.socket.terminate();
			return;
		}
		case 'rtmp':
			for (const noise of sampled(bytes(4000))) await rawBytes(rtmpPort, Uint8Array.of(3, ...noise));
			return;
		case 'file':
			for (const each of sampled(file)) await sendFile(each, target);
	}
}
