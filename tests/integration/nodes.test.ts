/** Several nodes as processes of their own: any of them takes a request, and another one follows when one is gone. */
import path from 'node:path';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { asc, eq, sql } from 'drizzle-orm';
import { WebSocket } from 'ws';
import type { NodeShown } from '../../src/core/nodes/shown.ts';
import { reduceAll } from '../../src/core/show/reduce.ts';
import type { ShowState } from '../../src/core/show/state.ts';
import { VERSION } from '../../src/core/show/version.ts';
import { openDatabase, type Database } from '../../src/server/db/database.ts';
import { commands, eventLeases, events, nodes as nodeRows, recordings, setAside } from '../../src/server/db/schema.ts';
import { Journal } from '../../src/server/live/journal.ts';
import { DATABASE_NOW } from '../../src/server/nodes/leases.ts';
import { ownDatabase, Page, until } from '../support/app.ts';
import { openHost, type TestHost } from '../support/host.ts';
import { decodeAll, makeMaterial, probePackets, type Material } from '../support/media.ts';
import {
	ask,
	Bot,
	destinationAt,
	eventsOnAir,
	newEvents,
	portOf,
	startTestNodes,
	welcomed,
	type StubDesk,
	type TestNode,
	type TestNodes,
} from '../support/nodes.ts';

let all: TestNodes;
let database: Database;
let host: TestHost;
let material: Material;
beforeAll(async () => {
	const url = await ownDatabase(inject('databaseUrl'), 'nodes');
	all = await startTestNodes(url, 3, { isStraight: true });
	database = await openDatabase(url, 'src/server/db/migrations');
	host = await openHost(all.folder);
	material = await makeMaterial(all.folder);
}, 120_000);
afterAll(async () => {
	await host.close();
	await database.close();
	await all.close();
});

const rowsOf = (eventId: string) =>
	database.db.select().from(commands).where(eq(commands.eventId, eventId)).orderBy(asc(commands.seq));
async function leaseOf(eventId: string) {
	const [row] = await database.db.select().from(eventLeases).where(eq(eventLeases.eventId, eventId));
	return row;
}
/** The process that owns an event now. */
async function ownerOf(eventId: string): Promise<TestNode> {
	const lease = (await leaseOf(eventId))!;
	const [row] = await database.db.select().from(nodeRows).where(eq(nodeRows.id, lease.node));
	return all.there.find(({ url }) => url === row!.url)!;
}
const databaseNow = async () =>
	Number((await database.db.select({ now: DATABASE_NOW }).from(nodeRows).limit(1))[0]!.now);

it('any node takes a page, and passes on what belongs to an event of another one', async () => {
	const [eventId] = await newEvents(all.there[0]!, 1);
	const pages = await welcomed(...all.nodes.map((node) => () => new Page(portOf(node), eventId!)));
	const names = pages.map((page, i) => page.do({ type: 'renameEvent', title: `From page ${i}` }, `from-${i}`));
	for (const page of pages) for (const name of names) await page.applied(name);
	expect(await rowsOf(eventId!)).toHaveLength(3);
	for (const { url } of all.nodes) {
		const answer = await fetch(`${url}/events/${eventId}/recordings`);
		expect([answer.status, await answer.text()]).toEqual([200, expect.stringContaining('From page')]);
	}
	for (const page of pages) page.socket.close();
});

it('believes nobody who only says that a node has passed it on', async () => {
	const [node] = all.there;
	const forged = Buffer.from(JSON.stringify({ at: Date.now(), came: { remoteAddress: '127.0.0.1', hops: 1 } }));
	for (const header of ['x', `${forged.toString('base64url')}.${'A'.repeat(43)}`]) {
		const headers = { 'X-Bivvo-Passed': header };
		expect((await fetch(node!.url, { headers })).status).toBe(403);
		const socket = new WebSocket(`${node!.url.replace('http', 'ws')}/node/camera/~keys`, { headers });
		await new Promise((resolve) => socket.once('error', resolve));
	}
	const socket = new WebSocket(`${node!.url.replace('http', 'ws')}/node/camera/~keys`);
	await new Promise((resolve) => socket.once('error', resolve));
});

it('a desk sends straight to the node that has its event, by a ticket that is good once', async () => {
	const { there } = all;
	const [desk] = (await eventsOnAir(() => there, 1, `rtmp://127.0.0.1:${host.rtmpPort}/members`, material, true)) as [
		StubDesk,
	];
	await until('the program', () => desk.bot.page.status?.receiving && desk.bot.page.status.holdingSince === null);
	const owner = await ownerOf(desk.eventId);
	const ask = async (node: TestNode) => {
		const asked = await fetch(`${node.url}/api/events/${desk.eventId}/uplink`, {
			method: 'POST',
			headers: { Origin: node.url },
		});
		return ((await asked.json()) as { address: string }).address;
	};
	for (const node of there) expect(await ask(node)).toMatch(`${owner.url.replace('http', 'ws')}/uplink/`);
	expect(new URL(desk.uplinkUrl).host).toBe(new URL(owner.url).host);
	const address = await ask(owner);
	const closeOf = async (url: string) => {
		// What comes from a page of the hall, the node would let in without.
		const socket = new WebSocket(url, { origin: 'https://hall.test' });
		socket.on('error', () => {});
		return new Promise<number>((resolve) => socket.once('close', resolve));
	};
	// A ticket alone opens nothing, and it is used up.
	expect([await closeOf(`${address}&lease=none`), await closeOf(`${address}&lease=none`)]).toEqual([1008, 1006]);
	desk.bot.press({ type: 'endBroadcast' });
	await until('the end', () => desk.bot.isSettled);
	desk.leave();
});

it('what a node is asked just when another one has followed is answered with when to try again', async () => {
	const [eventId] = (await newEvents(all.there[0]!, 1)) as [string];
	const [page] = (await welcomed(() => new Page(portOf(all.there[0]!), eventId))) as [Page];
	const owner = await ownerOf(eventId);
	const ofEvent = eq(eventLeases.eventId, eventId);
	const followed = { fence: sql`${eventLeases.fence} + 1`, node: 'another', expiresAt: sql`${DATABASE_NOW} + 60000` };
	await database.db.update(eventLeases).set(followed).where(ofEvent);
	const answer = await fetch(`${owner.url}/api/events/${eventId}/destinations`, {
		method: 'PUT',
		headers: { Origin: owner.url, 'Content-Type': 'application/json' },
		body: JSON.stringify(destinationAt('rtmp://127.0.0.1/members')),
	});
	expect([answer.status, await answer.text()]).toEqual([503, expect.stringContaining('Try again in a moment')]);
	await until('the page to be told', () => page.closed);
	await database.db.update(eventLeases).set({ expiresAt: 0 }).where(ofEvent);
	const [again] = (await welcomed(() => new Page(portOf(owner), eventId))) as [Page];
	again.socket.close();
});

it('opens what a node of the next version has left, puts aside what it does not know, and goes on', async () => {
	const { db } = database;
	const { there } = all;
	const [eventId] = (await newEvents(there[0]!, 1)) as [string];
	expect(await leaseOf(eventId)).toBeUndefined();
	const ofEvent = eq(events.id, eventId);
	const [left] = await db.select().from(events).where(ofEvent);
	const show = left!.snapshot as ShowState;
	const snapshot = { ...show, version: VERSION + 1, setup: { ...show.setup, title: 'Left', weather: 'snow' } };
	await db.update(events).set({ snapshot }).where(ofEvent);
	const command = { type: 'beam', to: 'host' };
	await db.insert(commands).values({ eventId, seq: 1, at: 1, by: 'page', commandId: 'beam', command });

	const [page] = (await welcomed(() => new Page(portOf(there.at(-1)!), eventId))) as [Page];
	expect((await page.welcome()).state.setup.title).toBe('Left');
	await page.applied(page.do({ type: 'renameEvent', title: 'Gone on' }, 'go-on'));
	expect((await rowsOf(eventId)).map(({ seq, commandId }) => [seq, commandId])).toEqual([
		[1, 'beam'],
		[2, 'go-on'],
	]);
	const [kept] = await db.select().from(setAside).where(eq(setAside.eventId, eventId));
	expect(kept).toMatchObject({ unreadable: [{ what: 'command', name: 'beam' }], snapshot });
	page.socket.close();
});

it('a node that is emptied hands on what is off air, and waits with what is on air or hands it on with a short hold', async () => {
	const { there } = all;
	const [desk] = (await eventsOnAir(() => there, 1, `rtmp://127.0.0.1:${host.rtmpPort}/members`, material)) as [
		StubDesk,
	];
	const { eventId, bot } = desk;
	const page = host.desk('members');
	const program = () => bot.page.status?.receiving && bot.page.status.holdingSince === null;
	await until('the program', () => page.state.pictures > 60 && program());
	const old = await ownerOf(eventId);
	const node = (await leaseOf(eventId))!.node;
	const quiet = await until('an event of the same node', async () => {
		const [id] = await newEvents(old, 1);
		const visitor = new Page(portOf(old), id!);
		await visitor.welcome();
		return (await leaseOf(id!))!.node === node && { id: id!, visitor };
	});
	const isElsewhere = async (id: string) => {
		const lease = (await leaseOf(id))!;
		return lease.node !== node && lease.expiresAt > (await databaseNow());
	};

	await ask(old, `/api/nodes/${node}`, 'PUT', { emptying: 'atEnd' });
	await until('the quiet one to be elsewhere', () => quiet.visitor.closed);
	const again = new Page(portOf(old), quiet.id);
	await again.welcome();
	expect(await isElsewhere(quiet.id)).toBe(true);
	again.socket.close();
	expect([await isElsewhere(eventId), program()]).toEqual([false, true]);

	const connection = page.current;
	await ask(old, `/api/nodes/${node}`, 'PUT', { emptying: 'now' });
	await until('another owner', () => isElsewhere(eventId));
	await until('the host', () => page.current !== null && page.current !== connection);
	await until('the program again', program);
	const from = page.state.pictures;
	await until('more of it', () => page.state.pictures > from + 60);
	const named = bot.press({ type: 'renameEvent', title: 'Moved' });
	await until('the name', () => bot.isSettled);
	expect((await rowsOf(eventId)).at(-1)!.commandId).toBe(named);
	await ask(old, `/api/nodes/${node}`, 'PUT', { emptying: null });
	bot.press({ type: 'endBroadcast' });
	await until('the end', () => bot.isSettled);
	desk.leave();
	expect(bot.refused).toEqual([]);
});

it.each(['SIGKILL', 'SIGSTOP'] as const)(
	'an owner on air that gets %s is followed in time: hosts, desk, recording and stored commands go on',
	async (signal) => {
		const address = `rtmp://127.0.0.1:${host.rtmpPort}/members`;
		const [desk] = (await eventsOnAir(() => all.there, 1, address, material)) as [StubDesk];
		const { eventId } = desk;
		const broadcastId = `evening-${eventId.slice(-6)}`;
		const page = host.desk('members');
		const held = () => desk.bot.page.status?.holdingSince ?? null;
		await until('the program', () => page.state.pictures > 60 && held() === null);
		const from = page.state.pictures;
		await until('some of it', () => page.state.pictures > from + 90);
		const before = desk.bot.press({ type: 'renameEvent', title: 'Before' });
		await until('the name', () => desk.bot.isSettled);

		const old = await ownerOf(eventId);
		const { fence } = (await leaseOf(eventId))!;
		const torn = page.current;
		const asListed = async () => {
			const another = all.there.find((node) => node !== old)!;
			const { nodes } = await ask<{ nodes: NodeShown[] }>(another, '/api/nodes');
			return nodes.filter(({ name }) => name === new URL(old.url).host);
		};
		await until('it to say that it records', async () => (await asListed())[0]!.load.keeps > 0);
		old.kill(signal);
		const taken = await until('another owner', async () => {
			const lease = (await leaseOf(eventId))!;
			return lease.fence > fence && lease;
		});
		expect(taken.node).not.toBe('');
		await until('it to be listed as gone, with what it keeps', async () => {
			const [listed] = await asListed();
			return listed?.isThere === false && listed.load.keeps > 0;
		});
		await until('the host', () => page.current !== null && page.current !== torn && page.state.state === 'receiving');
		await until('the program again', () => desk.bot.page.status && held() === null);
		const after = desk.bot.press({ type: 'renameEvent', title: 'After' });
		await until('that name', () => desk.bot.isSettled);
		const again = page.state.pictures;
		await until('more of it', () => page.state.pictures > again + 60);
		if (signal === 'SIGSTOP') {
			const stopped = host.desk('members').current;
			old.kill('SIGCONT');
			// It lets go of what is not its own any more, and takes part again.
			await until('the answer of the old owner', async () => {
				const answer = await fetch(`${old.url}/events/${eventId}/recordings`);
				return answer.status === 200 && (await answer.text()).includes('After');
			});
			const now = page.state.pictures;
			await until('more', () => page.state.pictures > now + 60);
			expect(host.desk('members').current).toBe(stopped);
		}
		desk.bot.press({ type: 'endBroadcast' });
		await until('the end', () => desk.bot.isSettled);
		desk.leave();
		expect(desk.bot.refused).toEqual([]);
		const ids = (await rowsOf(eventId)).map(({ commandId }) => commandId);
		expect(ids.filter((id) => [before, after].includes(id))).toEqual([before, after]);

		if (signal === 'SIGKILL')
			await all.add({ data: path.join(all.folder, `node-${all.nodes.indexOf(old) + 1}`), port: portOf(old) });
		// What the old owner has written comes from its own folder, when it is there again.
		const files = await until('both files, handed over', async () => {
			const rows = await database.db.select().from(recordings).where(eq(recordings.broadcastId, broadcastId));
			return rows.length === 2 && rows.every(({ endedAt, place }) => endedAt !== null && place === '') && rows;
		});
		await until('it to keep nothing', async () => {
			const [listed, ...more] = await asListed();
			return more.length === 0 && listed?.isThere === true && listed.load.keeps === 0;
		});
		for (const { file } of files) {
			const there = path.join(all.folder, 'shared', 'recordings', eventId, file);
			expect(await decodeAll(there), file).toBe('');
			expect((await probePackets(there)).length).toBeGreaterThan(60);
		}
	},
	180_000,
);

/** Every row once and in order, and what the events says of itself is what the reducer makes of them. */
async function expectOnce(eventId: string, bots: readonly Bot[], first: ShowState): Promise<void> {
	const rows = await rowsOf(eventId);
	expect(rows.map(({ seq }) => seq)).toEqual(rows.map((_, i) => i + 1));
	const ids = rows.map(({ commandId }) => commandId);
	expect(new Set(ids).size).toBe(ids.length);
	expect(ids.toSorted()).toEqual(bots.flatMap(({ done }) => done).toSorted());
	const state = rows.reduce((now, { command, at }) => reduceAll(now, [command as never], at), first);
	expect((await Journal.read(database.db, eventId))!.setup).toEqual(state.setup);
}

it('twenty events on three nodes, with bots that press while nodes are ended and stand still: no command is lost or done twice', async () => {
	const ids = await newEvents(all.there[0]!, 20);
	const firsts = await Promise.all(ids.map((id) => Journal.read(database.db, id)));
	const bots = ids.map((id, i) => [1, 2].map((n) => new Bot(() => all.there, id, `bot${i}x${n}`)));
	await until('all to be there', () => bots.flat().every(({ page }) => page.messages.length > 0));
	let count = 0;
	const pressing = setInterval(() => {
		for (const bot of bots.flat()) {
			const person = { id: `person-${count++}`, name: `Person ${count}`, role: '' };
			if (count % 3) bot.press({ type: 'renameEvent', title: `Title ${count}` });
			else bot.press({ type: 'addPerson', person });
		}
	}, 400);
	const done = () => bots.flat().reduce((sum, bot) => sum + bot.done.length, 0);
	try {
		await until('presses', () => done() > 100);
		const leases = async () =>
			(await database.db.select().from(eventLeases)).filter(({ eventId }) => ids.includes(eventId));
		const rows = await database.db.select().from(nodeRows);
		const has = await leases();
		// Those that have most: a busy machine may have given none to one of them.
		const [stopped, killed] = all.there
			.map((each) => ({ each, id: rows.find(({ url }) => url === each.url)!.id }))
			.map((node) => ({ ...node, events: has.filter((lease) => lease.node === node.id).length }))
			.toSorted((a, b) => b.events - a.events);
		stopped!.each.kill('SIGSTOP');
		const left = async () => {
			const now = await databaseNow();
			return (await leases()).filter((lease) => lease.node === stopped!.id || lease.expiresAt < now);
		};
		expect(await left()).not.toEqual([]);
		await until('others to have its events', async () => (await left()).length === 0);
		killed!.each.kill('SIGKILL');
		const then = done();
		await until('more presses', () => done() > then + 200);
		stopped!.each.kill('SIGCONT');
		const now = done();
		await until('more presses', () => done() > now + 200);
	} finally {
		clearInterval(pressing);
	}
	await until('all to be done', () => bots.flat().every((bot) => bot.isSettled));
	for (const bot of bots.flat()) bot.leave();
	expect(bots.flatMap((each) => each.flatMap(({ refused }) => refused))).toEqual([]);
	for (const [i, id] of ids.entries()) await expectOnce(id, bots[i]!, firsts[i]!);
}, 240_000);
