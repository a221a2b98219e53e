import { spawn } from 'node:child_process';
import net from 'node:net';
import path from 'node:path';
import tls from 'node:tls';
import { isDeepStrictEqual } from 'node:util';
import { readFile } from 'node:fs/promises';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { freePort } from '../../command/settings.mjs';
import { Challenger } from '../../src/core/delivery/rtmp/challenge.ts';
import { RtmpIngestSession } from '../../src/core/delivery/rtmp/server.ts';
import type { SendFault } from '../../src/core/delivery/send-fault.ts';
import { sendFaultWords } from '../../src/lib/words/index.ts';
import type { PublishOrder } from '../../src/server/broadcast/connection.ts';
import { Reach } from '../../src/server/broadcast/reach.ts';
import { testDestination } from '../../src/server/broadcast/destination-test.ts';
import { JsonAccount } from '../../src/server/hosts/host-account.ts';
import { Publisher } from '../../src/server/broadcast/publisher.ts';
import { openIngest, PlaceDesk } from '../../standins/host/ingest.ts';
import { PLACES } from '../../standins/host/places.ts';
import { testFolder, until } from '../support/app.ts';
import { listen, openHost, type TestHost } from '../support/host.ts';
import { decodeAll, ffmpeg, makeMaterial, play, probePackets, run, type Material } from '../support/media.ts';
import { orderTo } from '../support/order.ts';

let temporary: Awaited<ReturnType<typeof testFolder>>;
let material: Material;
let host: TestHost;
const opened: (Publisher | { stop: () => void })[] = [];

beforeAll(async () => {
	temporary = await testFolder();
	material = await makeMaterial(temporary.folder);
	host = await openHost(temporary.folder);
});
afterEach(async () => {
	for (const each of opened.splice(0)) await ('stop' in each ? each.stop() : each.end());
});
afterAll(async () => {
	await host.close();
	await temporary.remove();
});

const order = (part: Partial<PublishOrder> = {}): PublishOrder =>
	orderTo(`rtmp://127.0.0.1:${host.rtmpPort}/ridge`, 'ridge-lantern-1845', {
		...{ id: 'ridge-channel', name: 'Ridge Channel' },
		...part,
	});

function publish(part: Partial<PublishOrder> = {}, changed = (_: Publisher) => {}): Publisher {
	const publisher: Publisher = new Publisher(order(part), () => changed(publisher));
	opened.push(publisher);
	publisher.configure(material.video, material.audio);
	return publisher;
}
const wordsOf = (fault: SendFault | null) => fault && sendFaultWords(fault);
const reasonOf = ({ status }: Publisher) => wordsOf(status.fault);
/** What somebody who tests the destination is told; null when all is well. */
const tested = async (part: Partial<PublishOrder>) => wordsOf(await testDestination(order(part)));
function playTo(publisher: Publisher, speed?: number) {
	const playing = play(material, (packet) => publisher.send(packet), speed);
	opened.push(playing);
	return playing;
}

describe('publishing', () => {
	it('reaches an FFmpeg receiver, which decodes all of it without a complaint', async () => {
		const port = await freePort();
		const file = path.join(temporary.folder, 'received.flv');
		const receiver = ffmpeg(
			'-listen',
			'1',
			'-f',
			'flv',
			'-i',
			`rtmp://127.0.0.1:${port}/live/some-key`,
			'-c',
			'copy',
			file,
		);
		opened.push({ stop: receiver.kill });
		await new Promise((resolve) => setTimeout(resolve, 500));
		const publisher = publish({ address: `rtmp://127.0.0.1:${port}/live`, key: 'some-key' });
		await until('live', () => publisher.status.phase === 'live');
		await playTo(publisher, 8).done;
		await publisher.end();
		const { code, complaints } = await receiver.ended;
		// This is how FFmpeg's receiver reports the end of any stream, its own included.
		const atEnd = `rtmp://127.0.0.1:${port}/live/some-key: Input/output error\n`;
		expect({ code, complaints: complaints.replace(atEnd, '') }).toEqual({ code: 0, complaints: '' });
		expect(await decodeAll(file)).toBe('');
		const packets = await probePackets(file);
		expect(packets.filter(({ kind }) => kind === 'video')).toHaveLength(
			material.packets.filter(({ kind }) => kind === 'video').length,
		);
		for (const kind of ['video', 'audio']) {
			const times = packets.filter((packet) => packet.kind === kind).map(({ time }) => time);
			expect(times).toEqual(times.toSorted((a, b) => a - b));
		}
	});

	it('reaches the stand-in host and leaves it in good order', async () => {
		const publisher = publish();
		await until('live', () => publisher.status.phase === 'live');
		const playing = playTo(publisher);
		await until('a segment', () => host.desk('ridge').shelf.playlist());
		publisher.measure(Date.now());
		await new Promise((resolve) => setTimeout(resolve, 500));
		publisher.measure(Date.now());
		expect(publisher.status.rateKbps).toBeGreaterThan(500);
		playing.stop();
		await publisher.end();
		await until('the end', () => host.desk('ridge').state.state === 'ended');
		expect(host.desk('ridge').state).toMatchObject({ width: 640, height: 360, backSteps: 0 });
	});

	it.each<[string, Partial<PublishOrder>, string]>([
		['a wrong key', { key: 'last-weeks-key' }, 'does not know this key'],
		['no key', { key: '' }, 'No key is stored'],
		['a missing login', { address: 'valley', key: 'valley-lantern-1845' }, 'wants a user name and a password'],
		['an unknown place', { address: 'nowhere' }, 'There is no place called nowhere'],
		['a malformed address', { address: 'rtmp://host example' }, 'cannot be used'],
	])('with %s is refused in words and not tried again by itself', async (_, part, words) => {
		const address =
			part.address && !part.address.includes(':') ? `rtmp://127.0.0.1:${host.rtmpPort}/${part.address}` : part.address;
		const publisher = publish({ ...part, ...(address ? { address } : {}) });
		await until('the refusal', () => publisher.status.phase === 'refused');
		expect(reasonOf(publisher)).toContain(words);
		expect(publisher.status.retryAt).toBe(0);
	});

	it('shows what a host says, but not the key that it quotes', async () => {
		const refusal = (key: string) => ({
			code: 'NetStream.Publish.BadName',
			description: `Stream ${key} is in use by ${key}.`,
		});
		const quoting = net.createServer((socket) => {
			const session = new RtmpIngestSession(
				Buffer.alloc(1528, 7),
				(bytes) => void socket.write(bytes),
				({ key }) => refusal(key),
				() => {},
			);
			socket.on('data', (bytes) => session.receive(bytes));
			socket.on('error', () => {});
		});
		opened.push({ stop: () => quoting.close() });
		const address = `rtmp://127.0.0.1:${await listen(quoting)}/ridge`;
		const publisher = publish({ address, key: 'ridge-lantern-1845' });
		await until('the refusal', () => publisher.status.phase === 'refused');
		expect(reasonOf(publisher)).toBe('Stream ••• is in use by •••.');
	});

	it('gets in with user name and a password with dashes, proven by challenge, and not with another', async () => {
		const login = {
			address: `rtmp://127.0.0.1:${host.rtmpPort}/valley`,
			key: 'valley-lantern-1845',
			userName: 'hollin',
			password: 'carry-the-water',
		};
		const publisher = publish(login);
		await until('live', () => publisher.status.phase === 'live');
		playTo(publisher, 2);
		const desk = host.desk('valley');
		await until('pictures', () => desk.state.pictures > 30);
		await publisher.end();
		await until('the end', () => desk.state.state === 'ended');
		expect(await testDestination(order(login))).toBeNull();
		expect(await tested({ ...login, password: 'carry-the-wood' })).toBe(
			'The host does not know this user name and password.',
		);
	});

	it('does not come back when it was ended while the host asked for its login', async () => {
		let connects = 0;
		const sockets: net.Socket[] = [];
		const thinking = net.createServer({ allowHalfOpen: true }, (socket) => {
			connects++;
			sockets.push(socket);
			const challenger = new Challenger(
				(text) => text,
				() => 'nonce',
			);
			const login = { user: 'hollin', password: 'carry-the-water' };
			const session = new RtmpIngestSession(
				Buffer.alloc(1528, 7),
				// What it says of the login comes late.
				(bytes) => void setTimeout(() => socket.writable && socket.write(bytes), 300),
				() => null,
				() => {},
				{ loginOf: () => login, challenger },
			);
			socket.on('data', (bytes) => session.receive(bytes));
			socket.on('error', () => {});
		});
		opened.push({ stop: () => thinking.close() });
		const address = `rtmp://127.0.0.1:${await listen(thinking)}/valley`;
		const publisher = publish({ address, userName: 'hollin', password: 'carry-the-water' });
		await until('the connection', () => connects === 1);
		await new Promise((resolve) => setTimeout(resolve, 450));
		await publisher.end();
		await new Promise((resolve) => setTimeout(resolve, 700));
		expect([connects, publisher.status.phase]).toEqual([1, 'off']);
		for (const socket of sockets) socket.destroy();
	});

	it('asks FFmpeg for the same proof', async () => {
		const desk = host.desk('valley');
		await until('no stream', () => desk.state.state !== 'receiving');
		const publishing = (login: string) => {
			const url = `rtmp://${login}@127.0.0.1:${host.rtmpPort}/valley/valley-lantern-1845`;
			const sender = ffmpeg('-re', '-i', path.join(temporary.folder, 'material.mp4'), '-c', 'copy', '-f', 'flv', url);
			opened.push({ stop: sender.kill });
			return sender;
		};
		const { pictures } = desk.state;
		const wrong = publishing('hollin:carry-the-wood');
		await wrong.ended;
		expect(desk.state.pictures).toBe(pictures);
		publishing('hollin:carry-the-water');
		await until('pictures', () => desk.state.pictures > pictures + 30);
	});

	it('is tested without going on air: the host’s answer is told, no secret with it, and nothing is sent', async () => {
		const desk = host.desk('ridge');
		const { pictures, sounds } = desk.state;
		expect(await testDestination(order())).toBeNull();
		await until('the end', () => desk.state.state === 'ended');
		expect([desk.state.pictures, desk.state.sounds]).toEqual([pictures, sounds]);
		expect(await tested({ key: 'last-weeks-key' })).toBe('Ridge Channel does not know this key.');
		expect(await tested({ key: '' })).toContain('No key is stored');
		expect(await tested({ address: 'http://ridge' })).toContain('cannot be used');
		const port = await freePort();
		expect(await tested({ address: `rtmp://127.0.0.1:${port}/ridge` })).toContain('No streaming server answers');
		const gone = net.createServer((socket) => socket.destroy());
		await listen(gone, port);
		expect(await tested({ address: `rtmp://127.0.0.1:${port}/ridge` })).toMatch(/closed|broke/);
		gone.close();
	});

	it('asks the host how viewers get the stream, and to let them in', async () => {
		const [key, accountUrl] = ['members-lantern-1845', `${host.url}/account/members`];
		const publisher = publish({ address: `rtmp://127.0.0.1:${host.rtmpPort}/members`, key, accountUrl });
		const asked = async (wanted: { public: boolean; viewers: number }) =>
			until(JSON.stringify(wanted), () => {
				publisher.measure(Date.now());
				return isDeepStrictEqual(publisher.status.audience, wanted);
			});
		await until('live', () => publisher.status.phase === 'live');
		playTo(publisher);
		await asked({ public: false, viewers: 0 });
		await publisher.makePublic();
		expect(publisher.status.audience).toMatchObject({ public: true });
		await until('the playlist', async () => (await fetch(`${host.url}/hls/members/live.m3u8`)).ok);
		await asked({ public: true, viewers: 1 });
		await publisher.end();
		expect(publisher.status.audience).toBeNull();
		await until('the end', () => host.desk('members').state.state === 'ended');

		await expect(new JsonAccount(accountUrl, key, Reach.everywhere).makePublic()).rejects.toThrow(
			'Nothing is received yet.',
		);
		await expect(new JsonAccount(accountUrl, 'other', Reach.everywhere).audience()).rejects.toThrow(
			'does not know this key',
		);
		await expect(new JsonAccount(`${host.url}/elsewhere`, key, Reach.everywhere).audience()).rejects.toThrow(
			'something else (404)',
		);
		const nobody = new JsonAccount(`http://127.0.0.1:${await freePort()}/`, key, Reach.everywhere);
		await expect(nobody.audience()).rejects.toThrow('does not answer');
	});

	it('says that nobody is there, keeps trying, and gets through when somebody is', async () => {
		const port = await freePort();
		const went: string[] = [];
		const publisher = publish({ address: `rtmp://127.0.0.1:${port}/ridge` }, ({ status: { phase, fault } }) =>
			went.push(fault ? `${phase}, ${fault.code}` : phase),
		);
		await until('lost', () => publisher.status.phase === 'lost');
		expect(reasonOf(publisher)).toContain(`No streaming server answers at 127.0.0.1:${port}`);
		expect(publisher.status.retryAt).toBeGreaterThan(Date.now() - 1000);
		await until('lost again', () => publisher.status.attempts === 2 && publisher.status.phase === 'lost');
		const late = openIngest([new PlaceDesk(PLACES[0]!)], null);
		await listen(late, port);
		await until('live', () => publisher.status.phase === 'live');
		// It stays wrong while it is tried again.
		const [lost, trying] = ['lost, notListening', 'connecting, notListening'];
		expect(went.slice(0, 5)).toEqual(['connecting', lost, trying, lost, trying]);
		expect(went.at(-1)).toBe('live');
		await publisher.end();
		late.close();
	});

	it('comes back after a host hangs up in mid-stream, and begins again with a key frame', async () => {
		const publisher = publish();
		await until('live', () => publisher.status.phase === 'live');
		playTo(publisher, 2);
		const desk = host.desk('ridge');
		await until('pictures', () => desk.state.pictures > 100);
		const before = desk.current;
		before!.destroy();
		await until('lost', () => publisher.status.phase === 'lost');
		await until('live again', () => publisher.status.phase === 'live');
		const from = desk.state.pictures;
		await until('pictures again', () => desk.state.pictures > from + 60);
		expect(desk.state.backSteps).toBe(0);
		// A segment can only begin at a key frame: one after the break proves that the stream resumed at one.
		await until('a discontinuity', () => desk.shelf.playlist()?.includes('#EXT-X-DISCONTINUITY\n'));
	});

	it('calls a host that answers rubbish by its name', async () => {
		const rubbish = net.createServer((socket) => socket.end('HTTP/1.1 400 Bad Request\r\n\r\n'));
		const publisher = publish({ address: `rtmp://127.0.0.1:${await listen(rubbish)}/live` });
		await until('lost', () => publisher.status.phase === 'lost');
		expect(reasonOf(publisher)).toContain('does not speak RTMP');
		await publisher.end();
		rubbish.close();
	});

	it('bounds what it keeps for a host that stops reading, and counts what it leaves out', async () => {
		const desk = host.desk('ridge');
		const publisher = publish();
		await until('live', () => publisher.status.phase === 'live');
		await until('the connection', () => desk.current);
		desk.current!.pause();
		const { packets } = material;
		// Forty times twenty seconds at once: about 160 MB.
		for (let round = 0; round < 40; round++) for (const packet of packets) publisher.send(packet);
		publisher.measure(Date.now());
		expect(publisher.status.lostFrames).toBeGreaterThan(1000);
		expect(publisher.status.queueBytes).toBeLessThan(9 * 1024 * 1024);
		desk.current!.resume();
	});

	it('speaks RTMP over TLS, and refuses a certificate it cannot trust', async () => {
		const [keyFile, certificate] = ['key.pem', 'cert.pem'].map((name) => path.join(temporary.folder, name)) as [
			string,
			string,
		];
		const subject = ['-subj', '/CN=localhost', '-addext', 'subjectAltName=DNS:localhost'];
		await run('openssl', [
			'req',
			'-x509',
			'-newkey',
			'rsa:2048',
			'-nodes',
			'-days',
			'2',
			'-keyout',
			keyFile,
			'-out',
			certificate,
			...subject,
		]);
		const inner = openIngest([new PlaceDesk(PLACES[0]!)], null);
		const options = { key: await readFile(keyFile), cert: await readFile(certificate) };
		const secure = tls.createServer(options, (socket) => inner.emit('connection', socket));
		secure.on('tlsClientError', () => {});
		const address = `rtmps://localhost:${await listen(secure)}/ridge`;

		const distrustful = publish({ address });
		await until('lost', () => distrustful.status.phase === 'lost');
		expect(reasonOf(distrustful)).toContain('DEPTH_ZERO_SELF_SIGNED_CERT');
		await distrustful.end();

		// Certificates of one's own are a matter of the process, so this needs a process.
		const script = path.resolve('tests/support/publish-once.ts');
		const child = spawn(process.execPath, ['--import', 'tsx', script, address, PLACES[0]!.key], {
			env: { ...process.env, NODE_EXTRA_CA_CERTS: certificate, BIVVO_LOG: 'silent' },
		});
		let said = '';
		child.stdout.on('data', (text) => (said += text));
		await until('the answer', () => said.includes('\n'));
		expect(said.trim()).toBe('live');
		child.kill();
		secure.close();
	});
});

describe('the stand-in host', () => {
	it('takes FFmpeg’s stream and makes HLS that FFmpeg can play', async () => {
		const url = `rtmp://127.0.0.1:${host.rtmpPort}/members/members-lantern-1845`;
		const sender = ffmpeg('-re', '-i', path.join(temporary.folder, 'material.mp4'), '-c', 'copy', '-f', 'flv', url);
		opened.push({ stop: sender.kill });
		const desk = host.desk('members');
		await until('the stream', () => desk.state.state === 'receiving');
		await until('two segments', () => (desk.shelf.playlist()?.match(/#EXTINF/g) ?? []).length >= 2);
		expect((await fetch(`${host.url}/hls/members/live.m3u8`)).status).toBe(404);
		await fetch(`${host.url}/public/members`, { method: 'POST' });
		const playlist = await (await fetch(`${host.url}/hls/members/live.m3u8`)).text();
		expect(playlist).toMatch(/^#EXTM3U\n#EXT-X-VERSION:7\n#EXT-X-TARGETDURATION:\d+\n/);
		const { stderr } = await run('ffmpeg', [
			'-v',
			'error',
			'-i',
			`${host.url}/hls/members/live.m3u8`,
			'-t',
			'3',
			'-f',
			'null',
			'-',
		]);
		expect(stderr).toBe('');
	});
});
