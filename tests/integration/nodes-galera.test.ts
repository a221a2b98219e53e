/** Nodes on a Galera cluster, each at a member of its own: a member is ended, and stands still. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { asc, eq, inArray } from 'drizzle-orm';
import { openDatabase, type Database } from '../../src/server/db/database.ts';
import { commands, eventLeases, events, nodes as nodeRows } from '../../src/server/db/schema.ts';
import { testFolder, until } from '../support/app.ts';
import { openGalera } from '../support/galera.ts';
import { openHost, type TestHost } from '../support/host.ts';
import { makeMaterial } from '../support/media.ts';
import { Bot, eventsOnAir, newEvents, startTestNodes, type StubDesk, type TestNodes } from '../support/nodes.ts';

let folder: Awaited<ReturnType<typeof testFolder>>;
let galera: Awaited<ReturnType<typeof openGalera>>;
let all: TestNodes;
let host: TestHost;
let desk: StubDesk;
beforeAll(async () => {
	folder = await testFolder();
	galera = await openGalera(folder.folder);
	const [first] = galera.members;
	all = await startTestNodes(first!.url, 0);
	for (const { url } of galera.members) await all.add({ databaseUrl: url });
	host = await openHost();
	const material = await makeMaterial(folder.folder);
	const address = `rtmp://127.0.0.1:${host.rtmpPort}/members`;
	[desk] = (await eventsOnAir(() => all.there, 1, address, material)) as [StubDesk];
}, 240_000);
afterAll(async () => {
	desk?.leave();
	await all.close();
	await host.close();
	await galera.close();
	await folder.remove();
});

/** Asks a member that is there. */
async function read<T>(member: number, work: (db: Database['db']) => Promise<T>): Promise<T> {
	const database = await openDatabase(galera.members[member]!.url, null, { isOneOfSeveral: true });
	try {
		return await work(database.db);
	} finally {
		await database.close();
	}
}
const leaseIn = async (member: number) =>
	(await read(member, (db) => db.select().from(eventLeases).where(eq(eventLeases.eventId, desk.eventId))))[0]!;
/** Of the node that has the event: its member has the same number. */
async function ownerIn(member: number): Promise<number> {
	const { node } = await leaseIn(member);
	const [row] = await read(member, (db) => db.select().from(nodeRows).where(eq(nodeRows.id, node)));
	return all.nodes.findIndex(({ url }) => url === row!.url);
}
async function moreProgram(): Promise<void> {
	const { state } = host.desk('members');
	await until('the program', () => desk.bot.page.status?.receiving && desk.bot.page.status.holdingSince === null);
	const from = state.pictures;
	await until('more of it', () => state.pictures > from + 60);
}

it('what a node has written at one member is read at another one that has not come to it yet', async () => {
	await moreProgram();
	const [eventId] = (await newEvents(all.nodes[0]!, 1)) as [string];
	const second = galera.members[1]!;
	await read(1, async (db) => {
		const titles = () => db.select({ title: events.title }).from(events).where(eq(events.id, eventId));
		// Connected by now: a member that is held lets nobody in.
		await titles();
		const goOn = await second.hold();
		await read(0, (there) => there.update(events).set({ title: 'At the first' }).where(eq(events.id, eventId)));
		let isAnswered = false;
		const answer = titles().then((rows) => {
			isAnswered = true;
			return rows;
		});
		await until('the question', () => isAnswered || second.asked().includes('title'));
		expect(isAnswered).toBe(false);
		await goOn();
		expect(await answer).toEqual([{ title: 'At the first' }]);
	});
	await moreProgram();
});

it('an owner whose member is gone lets go, a node of another member follows, and what pages press is done once', async () => {
	await moreProgram();
	const owner = await ownerIn(0);
	const others = [0, 1, 2].filter((i) => i !== owner);
	const { fence } = await leaseIn(owner);
	const [anyOnes] = (await newEvents(all.nodes[others[0]!]!, 1)) as [string];
	// The owner goes on alone for a while, and says then that what is pressed is only kept.
	const pressedAt = [desk.eventId, desk.eventId, anyOnes, anyOnes];
	const bots = pressedAt.map((eventId, n) => new Bot(() => all.there, eventId, `bot${n}`));
	let count = 0;
	const pressing = setInterval(() => {
		for (const bot of bots) bot.press({ type: 'renameEvent', title: `Title ${count++}` });
	}, 100);
	try {
		await until('presses', () => bots[0]!.done.length > 20);
		galera.members[owner]!.kill('SIGKILL');
		await until('another owner', async () => (await leaseIn(others[0]!)).fence > fence);
		expect(others).toContain(await ownerIn(others[1]!));
		await moreProgram();
		const then = bots[0]!.done.length;
		await until('more presses', () => bots[0]!.done.length > then + 20);
	} finally {
		clearInterval(pressing);
	}
	await until('all to be done', () => bots.every((bot) => bot.isSettled));
	for (const bot of bots) bot.leave();
	// Members that look for one that is gone answer nobody.
	expect(bots.every(({ kept }) => kept.size > 0)).toBe(true);
	for (const member of others) {
		const rows = await read(member, (db) =>
			db.select().from(commands).where(inArray(commands.eventId, pressedAt)).orderBy(asc(commands.seq)),
		);
		const stored = rows.map(({ commandId }) => commandId).filter((id) => id.startsWith('bot'));
		expect(stored.toSorted()).toEqual(bots.flatMap(({ done }) => done).toSorted());
	}
	expect(bots.flatMap(({ refused }) => refused)).toEqual([]);

	await galera.members[owner]!.start();
	await until('its node', async () => {
		const seen = await read(owner, (db) => db.select().from(nodeRows));
		const row = seen.find(({ url }) => url === all.nodes[owner]!.url)!;
		return Math.max(...seen.map(({ seenAt }) => seenAt)) - row.seenAt < 3000;
	});
	await moreProgram();
});
