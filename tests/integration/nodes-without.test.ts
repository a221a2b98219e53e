/** Nodes without what they share: Redis is gone and comes back, and so does the database. */
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { startDatabase } from '../../command/database.mjs';
import { startRedis } from '../../command/redis.mjs';
import { freePort } from '../../command/settings.mjs';
import { openDatabase } from '../../src/server/db/database.ts';
import { commands, eventLeases, nodes as nodeRows } from '../../src/server/db/schema.ts';
import { Page, testFolder, until } from '../support/app.ts';
import { openHost, type TestHost } from '../support/host.ts';
import { makeMaterial } from '../support/media.ts';
import {
	ask,
	Bot,
	eventsOnAir,
	newEvents,
	portOf,
	startTestNodes,
	welcomed,
	type StubDesk,
	type TestNodes,
} from '../support/nodes.ts';
import { Way } from '../support/way.ts';

let folder: Awaited<ReturnType<typeof testFolder>>;
let mariadb: Awaited<ReturnType<typeof startDatabase>>;
/** One to the database for each node. */
let ways: Way[];
let all: TestNodes;
let host: TestHost;
let desk: StubDesk;
beforeAll(async () => {
	folder = await testFolder();
	mariadb = await startDatabase(path.join(folder.folder, 'db'), await freePort());
	ways = [0, 1, 2].map(() => new Way(mariadb.url));
	all = await startTestNodes(mariadb.url, 0);
	for (const way of ways) await all.add({ databaseUrl: await way.open() });
	host = await openHost();
	const material = await makeMaterial(folder.folder);
	const address = `rtmp://127.0.0.1:${host.rtmpPort}/members`;
	[desk] = (await eventsOnAir(() => all.there, 1, address, material)) as [StubDesk];
}, 180_000);
afterAll(async () => {
	process.kill(mariadb.pid, 'SIGCONT');
	desk?.leave();
	await all.close();
	await host.close();
	for (const way of ways) way.close();
	await mariadb.stop();
	await folder.remove();
});

const isProgram = () => desk.bot.page.status?.receiving && desk.bot.page.status.holdingSince === null;
async function moreProgram(): Promise<void> {
	const { state } = host.desk('members');
	await until('the program', isProgram);
	const from = state.pictures;
	await until('more of it', () => state.pictures > from + 60);
}
async function read<T>(work: (db: Awaited<ReturnType<typeof openDatabase>>['db']) => Promise<T>): Promise<T> {
	const database = await openDatabase(mariadb.url, null);
	try {
		return await work(database.db);
	} finally {
		await database.close();
	}
}
const leaseNow = async () =>
	(await read((db) => db.select().from(eventLeases).where(eq(eventLeases.eventId, desk.eventId))))[0]!;
const destination = (name: string) => ({
	...{ id: 'hall-of-nodes', name, address: `rtmp://127.0.0.1:${host.rtmpPort}/members`, key: 'members-lantern-1845' },
	...{ userName: '', password: null, keyLasts: true, accountUrl: null },
	...{ maxHeight: null, maxKbps: null, maxFps: null },
});

it('without Redis all goes on, events are made and found, and what changed meanwhile is known to all when it is back', async () => {
	await moreProgram();
	const { current } = host.desk('members');
	const [first] = all.nodes;
	const nodeOf = async (id: string) =>
		(await read((db) => db.select().from(eventLeases).where(eq(eventLeases.eventId, id))))[0]!.node;
	async function newEvent() {
		const [id] = (await newEvents(first!, 1)) as [string];
		const [page] = (await welcomed(() => new Page(portOf(first!), id))) as [Page];
		await ask(first!, `/api/events/${id}/destinations`, 'PUT', destination('The Hall'));
		return { id, page, node: await nodeOf(id) };
	}
	const one = await newEvent();
	// Each goes where there is most room, which may be one node several times.
	const other = await until('an event of another node', async () => {
		const next = await newEvent();
		if (next.node !== one.node) return next;
		next.page.socket.close();
		return null;
	});
	const toldOf = (page: Page, name: string) =>
		page.messages.some((message) => message.type === 'applied' && JSON.stringify(message).includes(name));

	const port = Number(new URL(all.redis.url).port);
	all.redis.kill('SIGKILL');
	await all.redis.stop();
	await moreProgram();
	const [eventId] = await newEvents(first!, 1);
	const visitors = await welcomed(...all.nodes.map((node) => () => new Page(portOf(node), eventId!)));
	const name = visitors[2]!.do({ type: 'renameEvent', title: 'Without Redis' });
	for (const page of visitors) await page.applied(name);
	await ask(first!, `/api/events/${one.id}/destinations`, 'PUT', destination('The Great Hall'));
	await until('the name where it was changed', () => toldOf(one.page, 'The Great Hall'));
	await moreProgram();
	// The other node keeps the list of destinations, and could not be told.
	expect(toldOf(other.page, 'The Great Hall')).toBe(false);

	const redis = await startRedis(port);
	all.redis.stop = redis.stop;
	await until('the name on the other node', () => toldOf(other.page, 'The Great Hall'));
	await moreProgram();
	expect(host.desk('members').current).toBe(current);
	for (const page of [one.page, other.page, ...visitors]) page.socket.close();
});

it('while the database stands still for all, owners go on: no host is let go, and what was pressed is stored under the same fence', async () => {
	await moreProgram();
	const { current } = host.desk('members');
	const before = await leaseNow();
	process.kill(mariadb.pid, 'SIGSTOP');
	const { state } = host.desk('members');
	const from = state.pictures;
	// Three times as long as a lease.
	await until('pictures', () => state.pictures > from + 12 * 30);
	expect([host.desk('members').current === current, isProgram()]).toEqual([true, true]);
	const pressed = desk.bot.press({ type: 'renameEvent', title: 'Without a database' });
	await until('the name', () => desk.bot.kept.has(pressed));
	expect(desk.bot.done).not.toContain(pressed);
	process.kill(mariadb.pid, 'SIGCONT');
	await until('the end', () => desk.bot.isSettled);
	await until('the command in the database', async () => {
		const rows = await read((db) => db.select().from(commands).where(eq(commands.commandId, pressed)));
		return rows.length === 1;
	});
	await until('a renewal', async () => (await leaseNow()).expiresAt > before.expiresAt + 12_000);
	expect(await leaseNow()).toMatchObject({ node: before.node, fence: before.fence });
	await moreProgram();
	expect(host.desk('members').current).toBe(current);
	expect(desk.bot.refused).toEqual([]);
});

it('two nodes of three that lose the database let go of what they have: the third one has it, and follows', async () => {
	await moreProgram();
	const numberOf = async ({ node }: { node: string }) => {
		const [row] = await read((db) => db.select().from(nodeRows).where(eq(nodeRows.id, node)));
		return all.nodes.findIndex(({ url }) => url === row!.url);
	};
	const before = await leaseNow();
	const owner = await numberOf(before);
	const third = (owner + 1) % 3;
	const bot = new Bot(() => [all.nodes[owner]!, all.nodes[third]!], desk.eventId, 'bot');
	await until('its welcome', () => bot.page.messages.length > 0);
	for (const [i, way] of ways.entries()) if (i !== third) way.cut();
	await until('the third one', async () => (await leaseNow()).fence > before.fence);
	expect(await numberOf(await leaseNow())).toBe(third);
	const pressed = bot.press({ type: 'renameEvent', title: 'By the third one' });
	await until('the name', () => bot.isSettled);
	expect(bot.done).toEqual([pressed]);
	// What was said to be done is stored.
	expect(await read((db) => db.select().from(commands).where(eq(commands.commandId, pressed)))).toHaveLength(1);
	for (const way of ways) way.mend();
	await moreProgram();
	bot.leave();
});

it('a node that starts just as the database is back takes nothing from those that went on without', async () => {
	await moreProgram();
	const { current } = host.desk('members');
	const before = await leaseNow();
	for (const way of ways) way.cut();
	await until('the end of the lease', async () => (await leaseNow()).expiresAt < Date.now());
	const pressed = desk.bot.press({ type: 'renameEvent', title: 'Kept meanwhile' });
	await until('the name', () => desk.bot.kept.has(pressed));
	const started = await all.add({ databaseUrl: mariadb.url });
	const comes = new Bot(() => [started], desk.eventId, 'bot');
	const isWelcome = () => comes.page.messages.some(({ type }) => type === 'welcome');
	await until('an answer', () => comes.page.closed !== null || isWelcome());
	for (const way of ways) way.mend();
	await until('the command in the database', async () => {
		const rows = await read((db) => db.select().from(commands).where(eq(commands.commandId, pressed)));
		return rows.length === 1;
	});
	await until('the page', isWelcome);
	expect(await leaseNow()).toMatchObject({ node: before.node, fence: before.fence });
	await moreProgram();
	expect(host.desk('members').current).toBe(current);
	comes.leave();
	await started.stop();
});

it('a node whose shared folder is another one says so, and does not join', async () => {
	const node = all.add({ shared: path.join(folder.folder, 'not mounted') });
	await expect(node).rejects.toThrow();
	expect(await read((db) => db.select().from(nodeRows))).toHaveLength(all.nodes.length);
});
