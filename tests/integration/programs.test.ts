/** Other programs: the examples of docs/programs.md as they stand there, changes, webhooks, and what a token may not do. */
import { execFile } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ApiDelivery, ApiState } from '../../src/core/programs/api.ts';
import { signatureOf } from '../../src/server/programs/webhooks.ts';
import { Page, until } from '../support/app.ts';
import { startDemo, type Demo } from '../support/demo.ts';

const EVENT = 'lantern-night';
const run = promisify(execFile);

let demo: Demo;
let director: string;
beforeAll(async () => {
	demo = await startDemo();
	director = (await makeToken('Light desk', 'director')).secret;
});
afterAll(() => demo.close());

async function makeToken(
	name: string,
	role: string,
	eventId: string | null = null,
): Promise<{ id: string; secret: string }> {
	const response = await fetch(`${demo.url}/api/access/tokens`, {
		method: 'POST',
		headers: { 'Content-Type': 'application/json' },
		body: JSON.stringify({ name, role, eventId }),
	});
	expect(response.status).toBe(201);
	return (await response.json()) as { id: string; secret: string };
}
const ask = (path: string, token: string, options: { method?: string; body?: unknown } = {}) =>
	fetch(`${demo.url}/api/v1${path}`, {
		method: options.method ?? 'GET',
		headers: {
			Authorization: `Bearer ${token}`,
			...(options.body !== undefined && { 'Content-Type': 'application/json' }),
		},
		...(options.body !== undefined && { body: JSON.stringify(options.body) }),
	});
const act = (action: string, token: string, body: object = {}) =>
	ask(`/events/${EVENT}/actions/${action}`, token, { method: 'POST', body });

describe('the examples of the documentation', () => {
	it('run as they stand there', async () => {
		const text = await readFile('docs/programs.md', 'utf8');
		const examples = [...text.matchAll(/```sh\n([\s\S]*?)```/g)].map(([, code]) => code!);
		expect(examples).toHaveLength(3);
		const env = { ...process.env, TOKEN: director, BIVVO: demo.url };
		const said: string[] = [];
		for (const example of examples) said.push((await run('bash', ['-c', example], { env })).stdout);
		expect(JSON.parse(said[0]!)).toMatchObject({ event: { id: EVENT, title: 'Lantern Night' }, onAir: 'off' });
		expect(JSON.parse(said[1]!)).toMatchObject({ done: true, state: { program: { name: 'Chapel wide' } } });
		expect(said[2]).toMatch(/^id: \d+\nevent: state\ndata: \{.*"name":"Chapel wide"/);
	});

	it('are described: every route of the interface is in its description, with what it answers', async () => {
		const description = (await (await ask('/openapi.json', director)).json()) as {
			openapi: string;
			paths: Record<string, Record<string, { responses: Record<string, unknown> }>>;
		};
		expect(description.openapi).toBe('3.1.1');
		const { paths } = description;
		expect(Object.keys(paths).sort()).toEqual([
			'/events',
			'/events/{event}',
			'/events/{event}/actions',
			'/events/{event}/actions/{action}',
			'/events/{event}/changes',
			'/events/{event}/webhooks',
			'/events/{event}/webhooks/{webhook}',
		]);
		expect(JSON.stringify(paths['/events/{event}'])).toContain('"hushed"');
	});
});

describe('an action', () => {
	it('is done once for a press, switches over or to a side, and says when there was nothing to do', async () => {
		const hush = async (body: object) =>
			(await (await act('hush', director, body)).json()) as { done: boolean; state: ApiState };
		expect(await hush({ to: 'on' })).toMatchObject({ done: true, stored: true, state: { hushed: true } });
		expect(await hush({ to: 'on' })).toMatchObject({ done: false, state: { hushed: true } });
		expect(await hush({})).toMatchObject({ done: true, state: { hushed: false } });
		const actions = (await (await ask(`/events/${EVENT}/actions`, director)).json()) as {
			actions: { action: string; subjects: { id: string }[] }[];
		};
		const names = actions.actions.find(({ action }) => action === 'name')!.subjects.map(({ id }) => id);
		expect(names).toEqual(['maren', 'corin']);
	});

	it('is refused with a sentence: unknown, of what is gone, without a token, with one of a lesser role', async () => {
		const viewer = (await makeToken('Score board', 'viewer')).secret;
		const answers = [
			await act('fly', director),
			await act('take-scene', director, { of: 'burnt' }),
			await act('hush', director, { to: 'sideways' }),
			await act('hush', 'bivvo_nobody'),
			await act('hush', viewer),
			await ask('/events/nowhere', director),
		];
		expect(answers.map(({ status }) => status)).toEqual([400, 400, 400, 401, 403, 404]);
		for (const answer of answers) {
			const { message } = (await answer.json()) as { message: string };
			expect(message).toMatch(/^[A-Z].*[.]$/);
		}
		expect((await ask(`/events/${EVENT}`, viewer)).status).toBe(200);
	});

	it('reaches only its own event, and nothing outside of the interface; a token that is taken back is over at once', async () => {
		const { id, secret } = await makeToken('Lamp', 'director', 'another-event');
		expect((await ask(`/events/${EVENT}`, secret)).status).toBe(403);
		const { id: ours, secret: own } = await makeToken('Lamp', 'director', EVENT);
		expect((await ask(`/events/${EVENT}`, own)).status).toBe(200);
		const changes = await ask(`/events/${EVENT}/changes`, own);
		const reader = changes.body!.getReader();
		await reader.read();
		for (const each of [id, ours])
			expect((await fetch(`${demo.url}/api/access/tokens/${each}`, { method: 'DELETE' })).status).toBe(200);
		expect((await ask(`/events/${EVENT}`, own)).status).toBe(401);
		await act('hush', director);
		await until('the end of the changes', async () => (await reader.read()).done);
	});
});

describe('a webhook', () => {
	it('is told of on air, cues, markers and the end, signed; what was not taken comes again', async () => {
		const got: { headers: http.IncomingHttpHeaders; body: string }[] = [];
		let fails = 1;
		const server = http.createServer((request, response) => {
			let body = '';
			request.setEncoding('utf8').on('data', (part: string) => (body += part));
			request.on('end', () => {
				got.push({ headers: request.headers, body });
				response.writeHead(fails-- > 0 ? 500 : 204).end();
			});
		});
		await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
		const { port } = server.address() as AddressInfo;
		const hooks = `/events/${EVENT}/webhooks`;
		const order = { url: `http://127.0.0.1:${port}/told`, events: ['onAir', 'ended', 'cue', 'marker'] };
		const made = await ask(hooks, director, { method: 'POST', body: order });
		expect(made.status).toBe(201);
		const { id, secret } = (await made.json()) as { id: string; secret: string };
		expect(await (await ask(hooks, director)).text()).not.toContain(secret);

		const page = new Page(Number(new URL(demo.url).port), EVENT);
		await page.welcome();
		await page.applied(page.do({ type: 'startBroadcast', broadcastId: 'told' }));
		await act('go', director);
		await act('marker', director, { text: 'The lanterns' });
		await page.applied(page.do({ type: 'endBroadcast' }));
		const told = () => got.map(({ body }) => JSON.parse(body) as ApiDelivery);
		const types = await until('all of them', () => {
			const all = told().map(({ type }) => type);
			return all.length >= 5 && all;
		});
		expect(types.toSorted()).toEqual(['cue', 'ended', 'marker', 'onAir', 'onAir']);
		expect(told().find(({ type }) => type === 'marker')).toMatchObject({
			data: { event: { id: EVENT }, text: 'The lanterns' },
		});
		const [first, again] = got.filter(({ body }) => body.includes('"onAir"'));
		expect(again!.headers['webhook-id']).toBe(first!.headers['webhook-id']);
		for (const { headers, body } of got) {
			const at = Number(headers['webhook-timestamp']);
			expect(headers['webhook-signature']).toBe(`v1,${signatureOf(secret, headers['webhook-id'] as string, at, body)}`);
		}
		expect((await ask(`${hooks}/${id}`, director, { method: 'DELETE' })).status).toBe(204);
		expect((await ask(`${hooks}/${id}`, director, { method: 'DELETE' })).status).toBe(404);
		page.socket.close();
		server.close();
	});

	it('does not lead where this server may not reach', async () => {
		const to = (url: string) =>
			ask(`/events/${EVENT}/webhooks`, director, { method: 'POST', body: { url, events: ['onAir'] } });
		for (const url of ['ftp://example.org/', 'http://192.168.4.4/', 'http://[fe80::1]/', 'nowhere'])
			expect((await to(url)).status, url).toBe(400);
	});
});
