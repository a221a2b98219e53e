/** Several nodes that others can reach: whoever is let in by one is let in by all, and whoever is turned out is turned out by all. */
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { ORGANISATION } from '../../src/core/nodes/lease-of.ts';
import { openDatabase } from '../../src/server/db/database.ts';
import { eventLeases } from '../../src/server/db/schema.ts';
import { ownDatabase, Page, until } from '../support/app.ts';
import { portOf, startTestNodes, turnedOut, welcomed, type TestNode, type TestNodes } from '../support/nodes.ts';
import { Visitor } from '../support/site.ts';

const PASSWORD = 'kettle snow lantern walk';
let databaseUrl: string;
let all: TestNodes;
let owner: Browser;
let eventId: string;

/** A browser that comes to whichever node. */
class Browser extends Visitor {
	readonly at: { url: string };

	constructor(at = { url: all.nodes[0]!.url }) {
		super(at);
		this.at = at;
	}

	to(node: TestNode): this {
		this.at.url = node.url;
		return this;
	}

	page(node: TestNode, of = eventId): Page {
		return new Page(portOf(node), of, { headers: { Cookie: this.cookie, Origin: node.url } });
	}
}

async function newEvent(): Promise<string> {
	const answers = { title: 'Lantern Night', startsAt: '', timeZone: '', fields: {} };
	const order = { from: { is: 'nothing', picture: { width: 1280, height: 720, fps: 30 } }, answers, repeats: [] };
	const { body } = await owner.send('/api/events', order);
	return (body.ids as [string])[0];
}

/** The code with which whoever is not let in any more is turned out. */
const NOT_LET_IN = 4001;
const isTurnedOut = (code: number | 'refused') => code === NOT_LET_IN || code === 'refused';

beforeAll(async () => {
	databaseUrl = await ownDatabase(inject('databaseUrl'), 'doors_of_nodes');
	all = await startTestNodes(databaseUrl, 3, { quiet: true, env: { BIVVO_ORIGIN: 'https://bivvo.test:5310' } });
	owner = new Browser();
	expect((await owner.ask('/')).headers.get('location')).toBe('/set-up');
	const form = { name: 'Maren Oakshaw', login: 'maren', password: PASSWORD };
	const codes = all.nodes.flatMap((node) =>
		[...node.said().matchAll(/type this code: (\w+)/g)].map(([, code]) => code),
	);
	// Whichever terminal somebody reads.
	expect(codes).toEqual(Array(3).fill(codes[0]));
	expect((await owner.send('/api/access/set-up', { ...form, code: codes[0] })).status).toBe(200);
	eventId = await newEvent();
}, 120_000);
afterAll(() => all.close());

it('a session of one node opens pages and sockets of all, until it is ended at any', async () => {
	const [first, second, third] = all.nodes as [TestNode, TestNode, TestNode];
	const { body } = await owner.send('/api/access/invitations', { name: 'Idris', role: 'director', roleAt: {} });
	const person = new Browser().to(second);
	const form = { secret: body.secret, name: 'Idris', login: 'idris', password: PASSWORD };
	expect((await person.send('/api/access/join', form, 'PUT')).status).toBe(200);
	const open = all.nodes.map((node) => () => person.page(node));
	for (const node of all.nodes) expect((await person.to(node).ask(`/events/${eventId}/prepare`)).status).toBe(200);
	const pages = await welcomed(...open);
	const stranger = new Browser().page(third);
	await until('the refusal', () => stranger.closed);

	expect((await person.to(first).send('/api/access/sign-out', {})).status).toBe(200);
	expect((await turnedOut(pages, open)).every(isTurnedOut)).toBe(true);
	const again = new Browser().to(third);
	const signIn = await again.send('/api/access/sign-in', { login: 'idris', password: PASSWORD, code: '' });
	expect(signIn.status).toBe(200);
	expect((await again.to(first).ask(`/events/${eventId}/prepare`)).status).toBe(200);
});

it('a device is paired at one node, works at all, and is revoked at another', async () => {
	const [first, second, third] = all.nodes as [TestNode, TestNode, TestNode];
	const order = { name: 'Tablet at the console', role: 'sound', eventId };
	const { code } = (await owner.to(first).send('/api/access/pairings', order)).body as { code: string };
	const device = new Browser().to(second);
	expect(await device.send('/api/access/pair', { code })).toMatchObject({ status: 200, body: { role: 'sound' } });
	expect((await new Browser().to(third).send('/api/access/pair', { code })).status).toBe(403);
	const open = all.nodes.map((node) => () => device.page(node));
	const pages = await welcomed(...open);
	const listed = await (await owner.to(third).ask('/people/__data.json')).text();
	const id = /"([0-9a-f-]{36})","Tablet at the console"/.exec(listed)?.[1];
	expect((await owner.to(third).send(`/api/access/devices/${id}`, {}, 'DELETE')).status).toBe(200);
	expect((await turnedOut(pages, open)).every(isTurnedOut)).toBe(true);
	for (const node of all.nodes) expect((await device.to(node).ask(`/events/${eventId}/mix`)).status).toBe(303);
});

it('who tries passwords out waits as long, whichever nodes they come to', async () => {
	const guesser = new Browser();
	const tries: number[] = [];
	for (let i = 0; i < 15; i++)
		tries.push(
			(
				await guesser
					.to(all.nodes[i % 3]!)
					.send('/api/access/sign-in', { login: 'maren', password: `guess ${i}`, code: '' })
			).status,
		);
	expect(tries.filter((status) => status === 429).length).toBeGreaterThan(3);
});

it('whoever was let in where another node could not be told is let in there too, and whoever was not is not', async () => {
	const database = await openDatabase(databaseUrl, null);
	const ownerOf = async (what: string) =>
		(await database.db.select().from(eventLeases).where(eq(eventLeases.eventId, what)))[0]?.node;
	const elsewhere = await until('an event of another node than those who let people in', async () => {
		const made = await newEvent();
		const [page] = await welcomed(() => owner.page(all.nodes[0]!, made));
		page!.socket.close();
		return (await ownerOf(made)) !== (await ownerOf(ORGANISATION)) && made;
	});
	await database.close();
	all.redis.kill('SIGKILL');
	await all.redis.stop();

	const [first, second, third] = all.nodes as [TestNode, TestNode, TestNode];
	const order = { name: 'Phone of the front row', role: 'words', eventId: null };
	const { code } = (await owner.to(first).send('/api/access/pairings', order)).body as { code: string };
	const device = new Browser().to(second);
	expect((await device.send('/api/access/pair', { code })).status).toBe(200);
	await welcomed(...all.nodes.map((node) => () => device.page(node, elsewhere)));
	const form = { name: 'Light desk', role: 'director', eventId: null };
	const { secret } = (await owner.to(third).send('/api/access/tokens', form)).body as { secret: string };
	const asked = (token: string) =>
		fetch(`${first.url}/api/v1/events/${elsewhere}`, { headers: { Authorization: `Bearer ${token}` } });
	expect((await asked(secret)).status).toBe(200);
	expect((await asked(`${secret.slice(0, -1)}_`)).status).toBe(401);

	const stranger = new Browser().page(third, elsewhere);
	await until('the refusal', () => stranger.closed);
});
