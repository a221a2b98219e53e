import http from 'node:http';
import net, { type AddressInfo } from 'node:net';
import { once } from 'node:events';
import { afterAll, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { Passing } from './passing.ts';

/** Takes connections and says nothing, as a node does that stands still. */
const still = net.createServer();
const passing = new Passing(Buffer.alloc(32, 1));
const here = http.createServer();
const at = async (server: net.Server) => {
	server.listen(0, '127.0.0.1');
	await once(server, 'listening');
	return `127.0.0.1:${(server.address() as AddressInfo).port}`;
};
afterAll(() => {
	passing.close();
	here.closeAllConnections();
	here.close();
	still.close();
});

it('waits for a node that is there, and answers itself when that is gone', async () => {
	const [to, from] = [`http://${await at(still)}`, await at(here)];
	let arrived = 0;
	const both = new Promise<void>((resolve) =>
		still.on('connection', (socket) => socket.once('data', () => ++arrived === 2 && resolve())),
	);
	here.on('request', (request, response) => passing.request(to, request, response));
	here.on('upgrade', (request, socket, head) => passing.upgrade(to, request, socket, head));
	const asked = fetch(`http://${from}/events/lantern-night`);
	const socket = new WebSocket(`ws://${from}/live/lantern-night`);
	const torn = new Promise((resolve) => socket.once('error', resolve));
	await both;
	passing.dropAllBut(new Set([to]));
	expect(socket.readyState).toBe(WebSocket.CONNECTING);
	passing.dropAllBut(new Set());
	await torn;
	const answer = await asked;
	expect([answer.status, answer.headers.get('retry-after')]).toEqual([503, '2']);
});
