/** Who owns an event, and who may write, against a real database. */
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import type { Applied } from '../../src/core/show/messages.ts';
import { reduce } from '../../src/core/show/reduce.ts';
import { openDatabase } from '../../src/server/db/database.ts';
import { commands, eventLeases, figures } from '../../src/server/db/schema.ts';
import { createEvent } from '../../src/server/events.ts';
import { EventLog, FiguresLog } from '../../src/server/live/event-log.ts';
import { Journal } from '../../src/server/live/journal.ts';
import { FencedOff, writeFenced, type Fence } from '../../src/server/nodes/fence.ts';
import { Leases } from '../../src/server/nodes/leases.ts';
import { openApp, testFolder, until } from '../support/app.ts';

let folder: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
beforeAll(async () => {
	folder = await testFolder();
	running = await openApp(inject('databaseUrl'), folder.folder);
});
afterAll(async () => {
	await running.close();
	await folder.remove();
});

const newEvent = () => createEvent(running.app, 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
const runOut = (eventId: string) =>
	running.app.db.update(eventLeases).set({ expiresAt: 1 }).where(eq(eventLeases.eventId, eventId));
const rename = (seq: number, title: string): Applied => ({
	...{ type: 'applied', seq, at: Date.now(), by: 'page', id: `rename-${title}` },
	command: { type: 'renameEvent', title },
});

it('is one node’s, whoever asks at once; another one’s when it has run out or was given back, with a higher fence', async () => {
	const { db } = running.app;
	const eventId = await newEvent();
	const all = ['north', 'south', 'east', 'west'].map((node) => new Leases(db, node));
	const taken = await Promise.all(all.map((leases) => leases.acquire(eventId)));
	const owner = taken.findIndex(({ is }) => is === 'own');
	expect(taken.filter(({ is }) => is === 'own')).toHaveLength(1);
	const [first, second] = [all[owner]!, all[(owner + 1) % 4]!];
	expect(taken[(owner + 1) % 4]).toEqual({ is: 'another', node: await first.ownerOf(eventId) });
	expect([first.holds(eventId), second.holds(eventId)]).toEqual([true, false]);
	// One that has it already is told the same; one that asks twice at once has it once.
	const twice = new Leases(db, 'twice');
	const again = await newEvent();
	const [one, other] = await Promise.all([twice.acquire(again), twice.acquire(again)]);
	expect(one).toEqual({ is: 'own', fence: { eventId: again, number: 1 } });
	expect(other).toEqual(one);
	expect(await first.acquire(eventId)).toEqual(taken[owner]);

	await runOut(eventId);
	expect(await second.acquire(eventId)).toEqual({ is: 'own', fence: { eventId, number: 2 } });
	await second.release(eventId);
	expect(await second.ownerOf(eventId)).toBeNull();
	expect(await first.ownerOf('gone')).toBeNull();
	expect(await new Leases(db, 'fifth').acquire(eventId)).toMatchObject({ is: 'own', fence: { number: 3 } });
	expect(await first.acquire('no-such-event')).toEqual({ is: 'none' });
});

it('lasts while it is renewed, and whoever has lost one is told', async () => {
	const { db } = running.app;
	const [kept, lost] = [await newEvent(), await newEvent()];
	const leases = new Leases(db, 'north');
	const ended: string[] = [];
	leases.onLost = (eventId) => ended.push(eventId);
	leases.begin();
	try {
		for (const eventId of [kept, lost]) await leases.acquire(eventId);
		const expiry = async () => (await db.select().from(eventLeases).where(eq(eventLeases.eventId, kept)))[0]!.expiresAt;
		const before = await expiry();
		await runOut(lost);
		await new Leases(db, 'south').acquire(lost);
		await until('the loss', () => ended.length > 0);
		await until('a renewal', async () => (await expiry()) > before);
		expect(ended).toEqual([lost]);
		expect([leases.holds(kept), leases.holds(lost)]).toEqual([true, false]);
	} finally {
		await leases.close();
	}
	expect(await leases.ownerOf(kept)).toBeNull();
});

it('what was given back in the moment of its renewal is not renewed', async () => {
	const { db } = running.app;
	const [kept, given] = [await newEvent(), await newEvent()];
	const leases = new Leases(db, 'north');
	leases.begin();
	try {
		for (const eventId of [kept, given]) await leases.acquire(eventId);
		const expiryOf = async (eventId: string) =>
			(await db.select().from(eventLeases).where(eq(eventLeases.eventId, eventId)))[0]!.expiresAt;
		// As `release` does, while the node still counts it among those that are to be renewed.
		await db.update(eventLeases).set({ expiresAt: 0 }).where(eq(eventLeases.eventId, given));
		const before = await expiryOf(kept);
		await until('a renewal', async () => (await expiryOf(kept)) > before);
		expect(await expiryOf(given)).toBe(0);
		expect(await new Leases(db, 'south').acquire(given)).toMatchObject({ is: 'own' });
	} finally {
		await leases.close();
	}
});

it('goes on alone while the database is gone for all, and from its first answer on waits for it again', async () => {
	const { db } = running.app;
	const eventId = await newEvent();
	const leases = new Leases(db, 'north');
	leases.mayGoOn = () => Promise.resolve(true);
	leases.begin();
	try {
		await leases.acquire(eventId);
		const ofEvent = eq(eventLeases.eventId, eventId);
		await db.transaction(async (locked) => {
			await locked.select().from(eventLeases).where(ofEvent).for('update');
			await until('it to go on alone', () => leases.goesOnAlone);
		});
		const leftMs = async () => (await db.select().from(eventLeases).where(ofEvent))[0]!.expiresAt - Date.now();
		await until('a renewal', async () => (await leftMs()) > 3000);
		// What was stored before is answered before this.
		await leftMs();
		expect([leases.goesOnAlone, leases.holds(eventId)]).toEqual([false, true]);
	} finally {
		await leases.close();
	}
});

it('a node that stands still in the middle of a write keeps nobody from renewing, nor its own event from others for long', async () => {
	const open = () => openDatabase(inject('databaseUrl'), null, { connections: 2, isOneOfSeveral: true });
	const [still, other] = await Promise.all([open(), open()]);
	const [stills, others] = [await newEvent(), await newEvent()];
	const leases = new Leases(other.db, 'other');
	const ended: string[] = [];
	leases.onLost = (eventId) => ended.push(eventId);
	let goOn = () => {};
	const stopped = new Promise<void>((resolve) => (goOn = resolve));
	const line = (entry: string) => ({ eventId: stills, entry, at: 1, broadcastId: 'evening', figures: {} as never });
	try {
		const taken = await new Leases(still.db, 'still').acquire(stills);
		await leases.acquire(others);
		const writing = writeFenced(still.db, (taken as { fence: Fence }).fence, async (within) => {
			await within.insert(figures).values(line('a'));
			await stopped;
			await within.insert(figures).values(line('b'));
		});
		leases.begin();
		const expiry = async () =>
			(await other.db.select().from(eventLeases)).find(({ node }) => node === 'other')!.expiresAt;
		const before = await expiry();
		await until('a renewal', async () => (await expiry()) > before);
		await until('the other to have it', async () => {
			await other.db
				.update(eventLeases)
				.set({ expiresAt: 1 })
				.where(eq(eventLeases.eventId, stills))
				.catch(() => {});
			return (await leases.acquire(stills).catch(() => null))?.is === 'own';
		});
		goOn();
		await expect(writing).rejects.toThrow();
		expect(await other.db.select().from(figures).where(eq(figures.eventId, stills))).toEqual([]);
		expect(ended).toEqual([]);
	} finally {
		goOn();
		await leases.close();
		await Promise.all([still.close(), other.close()]);
	}
});

it('two owners never both write: what comes under an old fence is refused, and nothing of it is stored', async () => {
	const { db } = running.app;
	const eventId = await newEvent();
	const [north, south] = [new Leases(db, 'north'), new Leases(db, 'south')];
	const fenceOf = async (leases: Leases) => {
		const taken = await leases.acquire(eventId);
		if (taken.is !== 'own') throw new Error(taken.is);
		return taken.fence;
	};
	const old = await fenceOf(north);
	const before = (await Journal.open(db, eventId, old))!;
	const both = new FiguresLog(db);
	const oldLog = new EventLog(db, eventId, both, old);
	const ownEvent = await newEvent();
	const takenOwn = await north.acquire(ownEvent);
	const ownLog = new EventLog(db, ownEvent, both, takenOwn.is === 'own' ? takenOwn.fence : null);
	let { state } = before.stored;
	async function append(journal: Journal, applied: Applied) {
		state = reduce(state, applied.command, applied.at).state;
		await journal.append(applied, state);
	}
	await append(before.journal, rename(1, 'Before'));

	await runOut(eventId);
	const now = (await Journal.open(db, eventId, await fenceOf(south)))!;
	expect(now.stored.state.setup.title).toBe('Before');
	await append(now.journal, rename(2, 'Now'));
	let fencedOff = 0;
	before.journal.onFencedOff = () => fencedOff++;
	await expect(append(before.journal, rename(2, 'Late'))).rejects.toThrow(FencedOff);
	await expect(append(before.journal, rename(3, 'Later'))).rejects.toThrow(FencedOff);
	expect(fencedOff).toBe(1);
	oldLog.addFigures('evening', {} as never);
	ownLog.addFigures('evening', {} as never);
	await oldLog.close();
	// They were written together; what is another node's by now is left out, and nothing else.
	expect(await db.select().from(figures).where(eq(figures.eventId, ownEvent))).toHaveLength(1);

	const rows = await db.select().from(commands).where(eq(commands.eventId, eventId));
	expect(rows.map(({ seq, commandId }) => [seq, commandId])).toEqual([
		[1, 'rename-Before'],
		[2, 'rename-Now'],
	]);
	expect(await db.select().from(figures).where(eq(figures.eventId, eventId))).toEqual([]);
	await Promise.all([before.journal.close(), now.journal.close()]);
});
