/** What comes to one node and belongs to another: cameras of the network, offers by WHIP, and viewers of a watch page. */
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { freePort } from '../../command/settings.mjs';
import { plainSource } from '../../src/core/show/sources/source.ts';
import type { WatchTold } from '../../src/core/watch-page/watched.ts';
import { openDatabase, type Database } from '../../src/server/db/database.ts';
import { eventLeases, nodes as nodeRows } from '../../src/server/db/schema.ts';
import { ownDatabase, Page, until } from '../support/app.ts';
import { makeMaterial } from '../support/media.ts';
import {
	ask,
	newEvents,
	portOf,
	startTestNodes,
	StubDesk,
	welcomed,
	type TestNode,
	type TestNodes,
} from '../support/nodes.ts';
import { CameraWatch, sendAsCamera } from '../support/rtmp-camera.ts';

let all: TestNodes;
let database: Database;
const cameraPorts = new Map<TestNode, number>();
beforeAll(async () => {
	const url = await ownDatabase(inject('databaseUrl'), 'ways');
	all = await startTestNodes(url, 0);
	for (let i = 0; i < 3; i++) {
		const cameraPort = await freePort();
		cameraPorts.set(await all.add({ cameraPort }), cameraPort);
	}
	database = await openDatabase(url, 'src/server/db/migrations');
}, 120_000);
afterAll(async () => {
	await database.close();
	await all.close();
});

async function ownerOf(eventId: string): Promise<TestNode> {
	const [lease] = await database.db.select().from(eventLeases).where(eq(eventLeases.eventId, eventId));
	const [row] = await database.db.select().from(nodeRows).where(eq(nodeRows.id, lease!.node));
	return all.nodes.find(({ url }) => url === row!.url)!;
}

/** An event with a camera, and the desk that makes its program. */
async function withCamera(cameraId: string) {
	const [eventId] = (await newEvents(all.there[0]!, 1)) as [string];
	const [desk] = (await welcomed(() => new Page(portOf(all.there[0]!), eventId))) as [Page];
	desk.send({ type: 'wantEngine', takeOver: true });
	const lease = await desk.lease();
	const source = plainSource(`source-${cameraId}`, 'Tower door', { kind: 'network', cameraId, could: null });
	await desk.applied(desk.do({ type: 'addSource', source }));
	const shown = await ask<{ key: string }>(all.there[0]!, `/api/events/${eventId}/cameras/${cameraId}`, 'POST', {
		key: 'show',
	});
	return { eventId, desk, lease, key: shown.key };
}

it('a camera that connects to any node is seen by the desk of its event, wherever that is', async () => {
	const { eventId, desk, lease, key } = await withCamera('tower-door');
	const owner = await ownerOf(eventId);
	const other = all.there.find((node) => node !== owner)!;
	const watch = new CameraWatch(portOf(other), eventId, 'tower-door', lease);
	const sender = sendAsCamera(`rtmp://127.0.0.1:${cameraPorts.get(other)}/camera/${key}`);
	try {
		await until('its pictures', () => watch.of('video').length > 50);
		await until('its sound', () => watch.of('audio').length > 50);
		const times = watch.of('video').map(({ timeUs }) => timeUs);
		expect(times).toEqual(times.toSorted((a, b) => a - b));
	} finally {
		sender.kill();
	}
	await until('its end', () => watch.of('gone').length > 0);
	// With another key it does not come in anywhere.
	const { key: next } = await ask<{ key: string }>(owner, `/api/events/${eventId}/cameras/tower-door`, 'POST', {
		key: 'renew',
	});
	expect(next).not.toBe(key);
	const late = sendAsCamera(`rtmp://127.0.0.1:${cameraPorts.get(other)}/camera/${key}`);
	expect((await late.ended).code).not.toBe(0);
	watch.socket.close();
	desk.socket.close();
});

it('an offer by WHIP is answered by the desk, whichever node it comes to', async () => {
	const { eventId, desk, lease, key } = await withCamera('north-window');
	const owner = await ownerOf(eventId);
	const other = all.there.find((node) => node !== owner)!;
	const watch = new CameraWatch(portOf(owner), eventId, 'north-window', lease);
	const sdp = [
		'v=0',
		'o=- 1 2 IN IP4 127.0.0.1',
		's=-',
		't=0 0',
		'm=video 9 UDP/TLS/RTP/SAVPF 96',
		'a=sendonly',
		'',
	].join('\r\n');
	const headers = { Authorization: `Bearer ${key}`, 'Content-Type': 'application/sdp' };
	const offer = () => fetch(`${other.url}/whip`, { method: 'POST', headers, body: sdp });
	const answering = setInterval(() => {
		for (const { session } of watch.signals.splice(0).filter(({ is }) => is === 'offer'))
			watch.socket.send(JSON.stringify({ is: 'answer', session, sdp: 'v=0 the answer' }));
	}, 20);
	try {
		const answered = await until('an answer', async () => {
			const answer = await offer();
			return answer.status === 201 && answer;
		});
		expect(await answered.text()).toBe('v=0 the answer');
		const place = answered.headers.get('location')!;
		expect((await fetch(new URL(place, other.url), { method: 'DELETE', headers })).status).toBe(200);
		expect(
			(
				await fetch(`${other.url}/whip`, {
					method: 'POST',
					headers: { ...headers, Authorization: 'Bearer wrong' },
					body: sdp,
				})
			).status,
		).toBe(401);
	} finally {
		clearInterval(answering);
		watch.socket.close();
		desk.socket.close();
	}
});

it('viewers of a watch page come to any node, also when its owner is gone', async () => {
	const material = await makeMaterial(all.folder);
	const [eventId] = (await newEvents(all.there[0]!, 1)) as [string];
	const watch = { slug: 'lantern-night', access: 'public', captions: true, messages: true, recording: true };
	const saved = { id: 'page-of-nodes', name: 'Our own page', watch, password: null };
	await ask(all.there[0]!, `/api/events/${eventId}/destinations/watch`, 'PUT', saved);
	const desk = new StubDesk(() => all.there, eventId, material);
	desk.bot.press({ type: 'tickDestination', destinationId: 'page-of-nodes', ticked: true });
	desk.bot.press({ type: 'startBroadcast', broadcastId: 'watched' });
	const told = async (node: TestNode) =>
		(await (await fetch(`${node.url}/watch/lantern-night/now.json?viewer=`)).json()) as WatchTold;
	const list = async (node: TestNode) => {
		const { stream } = await told(node);
		if (stream === null) return null;
		const main = await fetch(new URL(stream, `${node.url}/watch/`));
		return main.ok ? main.text() : null;
	};
	for (const node of all.there) expect(await until('the stream', () => list(node))).toContain('RESOLUTION=640x360');
	const write = await fetch(`${all.there[0]!.url}/watch/lantern-night/messages`, {
		method: 'POST',
		body: JSON.stringify({ from: 'Ines', text: 'Good evening from the coast' }),
	});
	expect(write.status).toBe(204);
	for (const node of all.there)
		await until('the message', async () => JSON.stringify(await told(node)).includes('from the coast'));

	const owner = await ownerOf(eventId);
	owner.kill('SIGKILL');
	await owner.gone;
	for (const node of all.there) await until('the stream of the next owner', () => list(node).catch(() => null));
	desk.leave();
});
