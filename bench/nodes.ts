import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import { startDatabase } from '../command/database.mjs';
import { freePort } from '../command/settings.mjs';
import { openDatabase, type Database } from '../src/server/db/database.ts';
import { eventLeases, nodes as nodeRows } from '../src/server/db/schema.ts';
import { DATABASE_NOW, LEASE_MS } from '../src/server/nodes/leases.ts';
import { ownDatabase, until } from '../tests/support/app.ts';
import { openHost, type TestHost } from '../tests/support/host.ts';
import { makeMaterial, type Material } from '../tests/support/media.ts';
import { ask, eventsOnAir, startTestNodes, StubDesk, type TestNode, type TestNodes } from '../tests/support/nodes.ts';
import { NODES, nodesCost, PICTURE_KBPS } from './nodes-cost.ts';
import { median, row, type Row } from './table.ts';

const TIMES = 30;
const MOVES = 10;

/** What an event costs on several nodes against one, and how soon another node follows. */
export async function benchNodes(): Promise<Row[]> {
	const folder = await mkdtemp(path.join(tmpdir(), 'bivvo-nodes-'));
	const database = await startDatabase(path.join(folder, 'db'), await freePort());
	try {
		const material = await makeMaterial(folder, 20, PICTURE_KBPS);
		const cost = await nodesCost(database.url, folder, material);
		return [...cost, ...(await takeOvers(await ownDatabase(database.url, 'taken'), material))];
	} finally {
		await database.stop();
		await rm(folder, { recursive: true, force: true });
	}
}

async function takeOvers(databaseUrl: string, material: Material): Promise<Row[]> {
	const all = await startTestNodes(databaseUrl, NODES, { isStraight: true, env: { BIVVO_LOG: 'warn' } });
	const database = await openDatabase(databaseUrl, 'src/server/db/migrations');
	const host = await openHost();
	const [desk] = await eventsOnAir(() => all.there, 1, `rtmp://127.0.0.1:${host.rtmpPort}/members`, material, true);
	const followedMs: number[] = [];
	const awayMs: number[] = [];
	const movedMs: number[] = [];
	try {
		for (let i = 0; i < TIMES; i++) {
			await settled(host, desk!);
			const away = longestGap(host);
			const { old, fence } = await ownerOf(database, all);
			old.kill('SIGKILL');
			const renewedAt = (await leaseIn(database)).expiresAt - LEASE_MS;
			await until('another owner', async () => (await leaseIn(database)).fence > fence);
			followedMs.push((await nowIn(database)) - renewedAt);
			await settled(host, desk!);
			awayMs.push(away());
			await all.add({ port: Number(new URL(old.url).port) });
		}
		for (let i = 0; i < MOVES; i++) {
			await settled(host, desk!);
			const away = longestGap(host);
			const { old, node, fence } = await ownerOf(database, all);
			const other = all.there.find((each) => each !== old)!;
			await ask(other, `/api/nodes/${node}`, 'PUT', { emptying: 'now' });
			await until('another owner', async () => (await leaseIn(database)).fence > fence);
			await settled(host, desk!);
			movedMs.push(away());
			await ask(other, `/api/nodes/${node}`, 'PUT', { emptying: null });
		}
	} finally {
		desk!.leave();
		await host.close();
		await database.close();
		await all.close();
	}
	return [
		row(`Killed, ${TIMES} times: from the last renewal to the next owner, median`, median(followedMs), 'ms'),
		row('… worst', Math.max(...followedMs), 'ms', { limit: { most: 5000 } }),
		row('… the host without a picture, median', median(awayMs), 'ms'),
		row('… worst', Math.max(...awayMs), 'ms'),
		row(`Emptied, ${MOVES} times: the host without a picture, median`, median(movedMs), 'ms'),
		row('… worst', Math.max(...movedMs), 'ms', { limit: { most: 2000 } }),
	];
}

/** Waits until the host has had the program, and not the holding card, for a while. */
async function settled(host: TestHost, desk: StubDesk): Promise<void> {
	const { state } = host.desk('members');
	await until('the program', () => desk.bot.page.status?.receiving && desk.bot.page.status.holdingSince === null);
	const from = state.pictures;
	await until('some of it', () => state.pictures > from + 60);
}

/** Follows a host. @returns tells the longest time without a picture since then, milliseconds */
function longestGap(host: TestHost): () => number {
	const { state } = host.desk('members');
	let [seen, at, longest] = [state.pictures, performance.now(), 0];
	const timer = setInterval(() => {
		if (state.pictures === seen) return;
		longest = Math.max(longest, performance.now() - at);
		[seen, at] = [state.pictures, performance.now()];
	}, 10);
	return () => {
		clearInterval(timer);
		return longest;
	};
}

async function leaseIn({ db }: Database) {
	const rows = await db.select().from(eventLeases);
	return rows.find(({ eventId }) => !eventId.startsWith('~'))!;
}

const nowIn = async ({ db }: Database) =>
	Number((await db.select({ now: DATABASE_NOW }).from(nodeRows).limit(1))[0]!.now);

async function ownerOf(database: Database, all: TestNodes): Promise<{ old: TestNode; node: string; fence: number }> {
	const { node, fence } = await leaseIn(database);
	const [known] = await database.db.select().from(nodeRows).where(eq(nodeRows.id, node));
	return { old: all.there.find(({ url }) => url === known!.url)!, node, fence };
}
