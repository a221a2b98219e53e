/** Two organisations on one server: neither sees, opens or is told anything of the other. */
import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import mysql, { type RowDataPacket } from 'mysql2/promise';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { METHODS, ROUTE_RULES, type Method } from '../../src/core/access/policy.ts';
import { createEvent } from '../../src/server/events.ts';
import { ownDatabase, Page, testFolder, until } from '../support/app.ts';
import { openSite, Visitor, type Site } from '../support/site.ts';

const PASSWORD = 'kettle snow lantern walk';
const PICTURE = { width: 1280, height: 720, fps: 30 } as const;
let folder: Awaited<ReturnType<typeof testFolder>>;
let site: Site;
let url: string;
let huts: Visitor;
let choir: Visitor;
let lantern: string;

beforeAll(async () => {
	folder = await testFolder();
	url = await ownDatabase(inject('databaseUrl'), 'many');
	site = await openSite(url, folder.folder, { BIVVO_ORIGIN: 'https://bivvo.test:5310' });
	lantern = await createEvent(site.app, 'Lanterns at the huts', '2026-11-28T19:00', PICTURE);
	huts = new Visitor(site);
	const form = { name: 'Tove Ashgill', login: 'tove', password: PASSWORD };
	expect((await huts.send('/api/access/set-up', { ...form, code: site.codes.at(-1)! })).status).toBe(200);
	const made = await huts.send('/api/organisations', { name: 'Choir of Nether Hollin' });
	expect(made.status).toBe(200);
	choir = new Visitor(site);
	const led = await choir.ask(`/join?o=${String(made.body.id)}`);
	expect([led.status, led.headers.get('location')]).toEqual([303, '/join']);
	// The same login is somebody else there.
	const joining = { secret: made.body.secret, name: 'Corin Vale', login: 'tove', password: PASSWORD };
	expect((await choir.send('/api/access/join', joining, 'PUT')).status).toBe(200);
});
afterAll(async () => {
	await site.close();
	await folder.remove();
});

it('each has people, events and libraries of its own, and a browser can be in both', async () => {
	expect(await (await huts.ask('/')).text()).toContain('Lanterns at the huts');
	expect(await (await choir.ask('/')).text()).not.toContain('Lanterns at the huts');
	const made = await choir.send('/api/events', {
		from: { is: 'nothing', picture: PICTURE },
		answers: { title: 'Evensong', startsAt: '', timeZone: '', fields: {} },
	});
	const [evensong] = made.body.ids as string[];
	expect(await statusOfData(huts, `/events/${evensong}/prepare/__data.json`)).toBe(404);
	expect(await statusOfData(choir, `/events/${evensong}/prepare/__data.json`)).toBe(200);
	expect(await (await huts.ask('/people')).text()).not.toContain('Corin Vale');
	// Into the first and back, still signed in there.
	await choir.ask('/?o=');
	expect((await choir.ask('/')).headers.get('location')).toMatch(/^\/sign-in/);
	const { id } = site.organisations.list[0]!;
	await choir.ask(`/?o=${id}`);
	expect(await (await choir.ask('/')).text()).toContain('Evensong');
	expect((await choir.ask('/?o=no_such_one')).status).toBe(200);
});

it('nobody gets anything of the other by any route, nor by a socket', async () => {
	// Whatever an address may name, with what is there in the other organisation.
	const ids: Record<string, string> = {
		id: lantern,
		destination: 'ridge',
		template: 'hut-evening',
		song: 'water',
		media: 'film',
	};
	let asked = 0;
	for (const [route, rules] of Object.entries(ROUTE_RULES)) {
		if (!route.includes('/events/[id]')) continue;
		for (const method of METHODS) {
			if (!(method in rules) || method === 'HEAD' || method === 'OPTIONS') continue;
			const address = route.replace(/\[(?:\.\.\.)?(\w+)(?:=\w+)?\]/gu, (_, name: string) => ids[name] ?? 'any');
			const answer = await sent(choir, address, method);
			const text = await answer.text();
			// A page that is filled in the browser has nothing in it yet, and then asks for its data.
			const isShell = answer.status === 200 && text.includes('kit.start(app, element);');
			const status = isShell ? await statusOfData(choir, `${address}/__data.json`) : answer.status;
			// Whoever is no guest is led away from their page.
			const refused = route.startsWith('/events/[id]/guest/') ? [303] : [400, 403, 404, 415];
			expect(refused, `${method} ${address}: ${status}`).toContain(status);
			expect(text, address).not.toContain('Lanterns at the huts');
			asked++;
		}
	}
	expect(asked).toBeGreaterThan(30);
	const page = new Page(site.port, lantern, { headers: { Cookie: choir.cookie, Origin: site.url } });
	await until('the end of the connection', () => page.closed !== null);
	expect(page.messages).toEqual([]);
});

/** What a page's data are answered with. */
async function statusOfData(visitor: Visitor, address: string): Promise<number> {
	const { nodes } = (await (await visitor.ask(address)).json()) as { nodes: { type: string; status?: number }[] };
	return nodes.at(-1)!.status ?? 200;
}

function sent(visitor: Visitor, address: string, method: Method): Promise<Response> {
	if (method === 'GET') return visitor.ask(address);
	const headers = { 'Content-Type': 'application/json', Origin: site.url };
	return visitor.ask(address, { method, headers, body: '{}' });
}

it('rows and files of one are in no database and no folder of the other', async () => {
	const connection = await mysql.createConnection({ uri: url });
	const { id } = site.organisations.list[0]!;
	const other = `${new URL(url).pathname.slice(1)}_${id}`;
	const [tables] = await connection.query<RowDataPacket[]>(
		'select table_name as name from information_schema.tables where table_schema = ?',
		[other],
	);
	expect(tables.length).toBeGreaterThan(20);
	for (const { name } of tables) {
		const [rows] = await connection.query<RowDataPacket[]>('select * from ??.??', [other, name]);
		expect(JSON.stringify(rows), name).not.toMatch(/Lanterns at the huts|Tove Ashgill/u);
	}
	await connection.end();
	expect(readdirSync(path.join(folder.folder, 'organisations'))).toEqual([id]);
	expect(readdirSync(path.join(folder.folder, 'organisations', id))).toContain('secret.key');
});

it('only the first one’s owner makes organisations', async () => {
	expect((await choir.send('/api/organisations', { name: 'One more' })).status).toBe(403);
	expect((await new Visitor(site).send('/api/organisations', { name: 'One more' })).status).toBe(401);
	expect(site.organisations.list.map(({ name }) => name)).toEqual(['Choir of Nether Hollin']);
});

it('only the first one’s owner chooses where on the machine recordings go', async () => {
	const disk = path.join(folder.folder, 'disk');
	const order = { reachesLocal: false, recordingsFolder: disk };
	expect((await choir.send('/api/access/settings', order, 'PUT')).status).toBe(403);
	expect(existsSync(disk)).toBe(false);
	expect((await choir.send('/api/access/settings', { ...order, recordingsFolder: '' }, 'PUT')).status).toBe(200);
	expect((await huts.send('/api/access/settings', order, 'PUT')).status).toBe(200);
	expect(existsSync(disk)).toBe(true);
	expect((await huts.send('/api/access/settings', { ...order, recordingsFolder: '' }, 'PUT')).status).toBe(200);
});
