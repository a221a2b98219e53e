import { randomUUID } from 'node:crypto';
import { copyFile, readFile } from 'node:fs/promises';
import path from 'node:path';
import { asc, count, eq } from 'drizzle-orm';
import mysql from 'mysql2/promise';
import { afterAll, afterEach, beforeAll, describe, expect, inject, it } from 'vitest';
import { startDatabase } from '../../command/database.mjs';
import { freePort } from '../../command/settings.mjs';
import { endsAt, isOnAir } from '../../src/core/show/state.ts';
import { openShow } from '../../src/core/show/stored.ts';
import { commands, events, setAside } from '../../src/server/db/schema.ts';
import { createEvent } from '../../src/server/events.ts';
import type { Hub } from '../../src/server/live/hub.ts';
import { serverTimeZone } from '../../src/server/time-zone.ts';
import { openApp, Page, testFolder, until } from '../support/app.ts';

const PAGE = { client: 'page', role: 'owner' as const };
let temporary: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
const pages: Page[] = [];

const open = async (options = {}) => (running = await openApp(inject('databaseUrl'), temporary.folder, options));
const made = (title = 'Lantern Night') => createEvent(running.app, title, '', { width: 1280, height: 720, fps: 30 });
const hubOf = async (eventId: string): Promise<Hub> => (await running.app.events.owner(eventId)).hub;
async function join(eventId: string): Promise<Page> {
	const page = new Page(running.port, eventId);
	pages.push(page);
	await page.welcome();
	return page;
}
async function restart(options = {}): Promise<void> {
	await running.close();
	await open(options);
}
const rowsOf = (eventId: string) =>
	running.app.db.select().from(commands).where(eq(commands.eventId, eventId)).orderBy(asc(commands.seq));
const rename = (title: string) => ({ type: 'renameEvent', title }) as const;

beforeAll(async () => {
	temporary = await testFolder();
	await open();
});
afterEach(() => {
	for (const page of pages.splice(0)) page.socket.terminate();
});
afterAll(async () => {
	await running.close();
	await temporary.remove();
});

describe('an event of the version before', () => {
	it('is opened from its tables as they were: snapshot, commands since, destinations with their keys', async () => {
		const { folder, remove } = await testFolder();
		const database = await startDatabase(path.join(folder, 'database'), await freePort());
		const connection = await mysql.createConnection({ uri: database.url, multipleStatements: true });
		await connection.query(await readFile('tests/fixtures/demo-1.sql', 'utf8'));
		await connection.end();
		await copyFile('tests/fixtures/demo-1.key', path.join(folder, 'secret.key'));
		const before = JSON.parse(await readFile('tests/fixtures/state-1.json', 'utf8')) as { seq: number; state: object };
		const old = await openApp(database.url, folder);
		try {
			const { hub } = await old.app.events.owner('lantern-night');
			const expected = openShow('lantern-night', '', before.state).state;
			// The end of its broadcast and of its lower third fell due while nobody had it open.
			await until('the end of both', () => hub.state.live.due.length === 0);
			const ended = { ...expected.live.broadcast!, endedAt: hub.state.live.broadcast!.endedAt };
			// Markers were not kept beside the log then; those of the commands since are.
			const marker = { is: 'marker', number: 1, text: 'Marker at Talk and chapel', at: expect.any(Number) as number };
			const live = { ...expected.live, broadcast: ended, due: [], shown: {}, noted: [marker] };
			// Events had no time zone then: it takes place where the server is.
			const setup = { ...expected.setup, timeZone: serverTimeZone() };
			expect(hub.state).toEqual({ ...expected, setup, live });
			expect(hub.unreadable).toEqual([]);
			expect(hub.seq).toBe(before.seq + 2);
			expect((await old.app.destinations.secretOf('ridge-channel')).key).toBe('ridge-lantern-1845');
			await hub.submit(PAGE, 'next', rename('Lantern Night, again'));
		} finally {
			await old.close();
			await database.stop();
			await remove();
		}
	});
});

describe('an id', () => {
	it('is just that id: capital letters name another event, which is not there', async () => {
		const eventId = await made();
		await hubOf(eventId);
		await expect(running.app.events.owner(eventId.toUpperCase())).rejects.toThrow('noEvent');
		const page = new Page(running.port, eventId.toUpperCase());
		pages.push(page);
		expect((await until('the close', () => page.closed)).code).toBe(4004);
	});
});

describe('the journal', () => {
	it('takes a row for stored that was stored before, its answer having been lost', async () => {
		const eventId = await made();
		const hub = await hubOf(eventId);
		const row = { eventId, seq: hub.seq + 1, at: 1, by: 'page', commandId: 'lost', command: rename('Lost') };
		await running.app.db.insert(commands).values(row);
		await hub.submit(PAGE, 'lost', rename('Lost'));
		await hub.submit(PAGE, 'found', rename('Found'));
		expect(hub.journal.healthy).toBe(true);
		expect((await rowsOf(eventId)).map(({ commandId }) => commandId)).toEqual(['lost', 'found']);
	});

	it('sets a row aside that the database cannot take, keeps its change, and goes on', async () => {
		const eventId = await made();
		const hub = await hubOf(eventId);
		const row = { eventId, seq: hub.seq + 1, at: 1, by: 'page', commandId: 'taken', command: rename('Taken') };
		await running.app.db.insert(commands).values(row);
		await hub.submit(PAGE, 'refused', rename('Refused by the table'));
		await hub.submit(PAGE, 'after', { type: 'setDirect', direct: true });
		await until('it goes on', () => hub.journal.healthy);
		await restart();
		const { state } = await hubOf(eventId);
		expect(state.setup).toMatchObject({ title: 'Refused by the table', direct: true });
	});

	it('does not hold up a command while the database hangs; it is kept, and written when it goes on', async () => {
		const eventId = await made();
		const page = await join(eventId);
		const connection = await mysql.createConnection({ uri: inject('databaseUrl') });
		await connection.query('lock tables commands write, events write');
		await page.applied(page.do(rename('While it hangs')));
		await page.applied(page.do(rename('And again')));
		await until('the warning', () => page.status?.stored === false);
		await connection.query('unlock tables');
		await connection.end();
		await until('the all-clear', () => page.status?.stored === true);
		expect((await rowsOf(eventId)).map(({ command }) => command)).toEqual([
			rename('While it hangs'),
			rename('And again'),
		]);
	});

	it('writes of a moving fader what it came to, and the rest in its order', async () => {
		const eventId = await made();
		const hub = await hubOf(eventId);
		const source = { id: 'mic', name: 'Mic', kind: 'standInConsole', standIn: 'console' };
		await hub.submit(PAGE, 'source', { type: 'addSource', source });
		const channel = { id: 'mic', sourceId: 'mic', name: 'Mic', gainDb: 0, muted: false };
		await hub.submit(PAGE, 'channel', { type: 'addChannel', channel });
		for (let i = 0; i < 60; i++)
			await hub.submit(PAGE, `move-${i}`, {
				type: 'setFader',
				channelId: 'mic',
				gainDb: -i / 2,
			});
		await hub.submit(PAGE, 'mute', { type: 'setMute', channelId: 'mic', muted: true });
		const { state, seq } = hub;
		expect(state.setup.channels[0]).toMatchObject({ gainDb: -29.5, muted: true });
		await restart();
		const after = await hubOf(eventId);
		expect(after.state).toEqual(state);
		expect(after.seq).toBe(seq);
		const rows = (await rowsOf(eventId)).map(({ commandId }) => commandId);
		expect(rows.slice(-2)).toEqual(['move-59', 'mute']);
		expect(rows.length).toBeLessThan(20);
	});

	it('keeps a thousand commands behind its snapshot, and knows them all over a restart', async () => {
		const eventId = await made();
		const hub = await hubOf(eventId);
		const ids = Array.from({ length: 1200 }, () => randomUUID());
		await Promise.all(ids.map((id, i) => hub.submit(PAGE, id, { type: 'setDirect', direct: i % 2 === 0 })));
		await hub.submit(PAGE, 'last', rename('Late'));
		await running.close();
		await open();
		const [counted] = await running.app.db
			.select({ rows: count() })
			.from(commands)
			.where(eq(commands.eventId, eventId));
		expect(counted!.rows).toBeLessThanOrEqual(1051);
		const again = await hubOf(eventId);
		expect(await again.submit(PAGE, ids[250]!, { type: 'setDirect', direct: true })).toBe('before');
		expect(again.state.setup).toMatchObject({ title: 'Late', direct: false });
	});

	it('opens an event of which something cannot be read, says what, and keeps it as it was', async () => {
		const eventId = await made();
		await (
			await hubOf(eventId)
		).submit(PAGE, 'person', {
			type: 'addPerson',
			person: { id: 'maren', name: 'Maren Oakshaw', role: 'hut warden' },
		});
		await running.close();
		await open();
		const [event] = await running.app.db.select().from(events).where(eq(events.id, eventId));
		const snapshot = event!.snapshot as { setup: { direct: unknown } };
		snapshot.setup.direct = 'perhaps';
		await running.app.db.update(events).set({ snapshot }).where(eq(events.id, eventId));
		const page = await join(eventId);
		expect(page.status!.unreadable).toMatchObject([{ what: 'direct' }]);
		const { setup } = (await page.welcome()).state;
		expect(setup).toMatchObject({ direct: false, people: [{ name: 'Maren Oakshaw' }] });
		const kept = await running.app.db.select().from(setAside).where(eq(setAside.eventId, eventId));
		expect(kept).toMatchObject([{ unreadable: [{ what: 'direct' }], snapshot: { setup: { direct: 'perhaps' } } }]);
	});
});

describe('a page that asks again', () => {
	it('is answered, also for what was done before a restart', async () => {
		const eventId = await made();
		const first = await join(eventId);
		await first.applied(first.do(rename('Once'), 'once'));
		first.socket.terminate();
		await restart();
		const again = await join(eventId);
		again.do(rename('Once'), 'once');
		await until('the answer', () => again.messages.some(({ type }) => type === 'done'));
		expect((await rowsOf(eventId)).filter(({ commandId }) => commandId === 'once')).toHaveLength(1);
	});
});

describe('what is due', () => {
	async function onAir(eventId: string, inMs: number): Promise<Hub> {
		const hub = await hubOf(eventId);
		await hub.submit(PAGE, randomUUID(), {
			type: 'setDelivery',
			delivery: { ...hub.state.setup.delivery, records: false },
		});
		await hub.submit(PAGE, randomUUID(), {
			type: 'startBroadcast',
			broadcastId: randomUUID(),
		});
		await hub.submit(PAGE, randomUUID(), { type: 'planEnd', inMs, sceneId: null });
		return hub;
	}

	it('is done by itself at its time, and the log says so', async () => {
		const eventId = await made();
		const hub = await onAir(eventId, 300);
		const end = endsAt(hub.state)!;
		await until('the end', () => !isOnAir(hub.state));
		expect(hub.state.live.broadcast!.endedAt).toBeGreaterThanOrEqual(end);
		expect(hub.state.live.due).toEqual([]);
		await until('the log', async () => {
			const { log } = await running.app.events.owner(eventId);
			return (await log.around(end, Date.now())).some(({ said }) => typeof said !== 'string' && said.is === 'offAir');
		});
	});

	it('is done after a restart too, whether or not anybody opens the event', async () => {
		const eventId = await made();
		await onAir(eventId, 1000);
		await restart();
		const open = await running.app.events.open();
		expect(open.map(({ hub }) => hub.eventId)).toEqual([eventId]);
		await until('the end', () => !isOnAir(open[0]!.hub.state));
		await until('nothing due', async () => {
			const [event] = await running.app.db.select().from(events).where(eq(events.id, eventId));
			return event!.dueAt === null;
		});
	});
});

describe('a room', () => {
	it('is closed when nobody is there and nothing is due, and opened again as it was', async () => {
		await restart({ idleMs: 0 });
		const [quiet, waiting] = [await made('Quiet'), await made('Waiting')];
		const page = await join(quiet);
		await page.applied(page.do(rename('Quiet evening')));
		const overlay = {
			...{ id: 'ticker', name: 'Ticker', kind: 'ticker', reach: 'every', move: 'none', text: 'Soon' },
			showMs: 600_000,
		};
		const hub = await hubOf(waiting);
		await hub.submit(PAGE, 'add', { type: 'addOverlay', overlay });
		await hub.submit(PAGE, 'show', { type: 'showOverlay', overlayId: 'ticker' });
		const names = async () => (await running.app.events.open()).map(({ hub: each }) => each.eventId).sort();
		expect(await names()).toEqual([quiet, waiting].sort());
		page.socket.terminate();
		await until('one less', async () => String(await names()) === waiting);
		expect((await (await join(quiet)).welcome()).state.setup.title).toBe('Quiet evening');
	});
});
