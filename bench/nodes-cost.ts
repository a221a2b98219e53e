/** What events on air cost one server, and several nodes: cores, memory, and what database and Redis are asked. */
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { sql } from 'drizzle-orm';
import { Redis } from 'ioredis';
import { startServer } from '../command/processes.mjs';
import { freePort } from '../command/settings.mjs';
import { openDatabase } from '../src/server/db/database.ts';
import { ownDatabase } from '../tests/support/app.ts';
import { makeMaterial, type Material } from '../tests/support/media.ts';
import { eventsOnAir, startTestNodes } from '../tests/support/nodes.ts';
import { keepOn, processorSeconds, residentMb } from './cores.ts';
import { row, type Row } from './table.ts';

const EVENTS = 60;
export const NODES = 3;
/** With sound 1 and 4 Mbit/s. */
export const PICTURE_KBPS = 872;
const WIDE_KBPS = 3872;
const WIDE_EVENTS = 20;
/** Code that runs often is made fast within this. */
const WARM_S = 20;
const MEASURED_S = 30;
/** There and back, since the machine itself becomes faster and slower. */
const TURNS = ['one', 'loose', 'nodes', 'nodes', 'loose', 'one'] as const;
const QUIET = { BIVVO_LOG: 'warn' };

/** Where it is measured: an empty database of a server, a folder, and the hosts that everything is sent to. */
interface Place {
	databaseUrl: string;
	folder: string;
	to: string;
}

/** @param databaseUrl of a server whose databases may be made anew */
export async function nodesCost(databaseUrl: string, folder: string, material: Material): Promise<Row[]> {
	const hosts = fork(new URL('./many-hosts.ts', import.meta.url), { execArgv: ['--import', 'tsx'] });
	try {
		const [{ port }] = (await once(hosts, 'message')) as [{ port: number }];
		for (const pid of [process.pid, hosts.pid!]) keepOn(pid, 'others');
		const placeOf = async (name: string): Promise<Place> => ({
			databaseUrl: await ownDatabase(databaseUrl, name),
			folder: path.join(folder, name),
			to: `rtmp://127.0.0.1:${port}/hears`,
		});
		const ones: number[] = [];
		const looses: number[] = [];
		const straights: Several[] = [];
		for (const [i, turn] of TURNS.entries()) {
			const place = await placeOf(turn + i);
			if (turn === 'one') ones.push((await costOfOne(place, EVENTS, material)).cores);
			else if (turn === 'nodes') straights.push(await costOfSeveral(place, material, true));
			else {
				const places = await Promise.all(Array.from({ length: NODES }, (_, k) => placeOf(`loose${i}${k}`)));
				const costs = await Promise.all(places.map((each) => costOfOne(each, EVENTS / NODES, material)));
				looses.push(costs.reduce((sum, { cores }) => sum + cores, 0));
			}
		}
		const passed = await costOfSeveral(await placeOf('passed'), material, false);
		const wide = await costOfOne(await placeOf('wide'), WIDE_EVENTS, await wideMaterial(folder));
		const unit = `cores, ${EVENTS} events of 1 Mbit/s`;
		const one = mean(ones);
		const of = (part: (each: Several) => number) => mean(straights.map(part));
		return [
			row('One server', one, unit),
			row(
				`${NODES} nodes, desks at any of them`,
				of(({ cores }) => cores),
				unit,
				{
					yardstick: one,
					limit: { most: 1.2 },
				},
			),
			row(
				'… beside servers that know nothing of each other',
				of(({ cores }) => cores),
				unit,
				{ yardstick: mean(looses) },
			),
			row('… all passed on, where desks do not reach nodes', passed.cores, unit, { yardstick: one }),
			row(
				'… before anything is on air',
				of(({ idle }) => idle.cores),
				'cores',
			),
			row(
				'… memory of a node then',
				of(({ idle }) => idle.mb),
				'MB',
			),
			row(
				'… memory of a node on air',
				of(({ mb }) => mb),
				'MB',
			),
			row(
				'Redis beside them',
				of(({ redis }) => redis),
				'cores',
			),
			row(
				'… is asked',
				of(({ asked }) => asked.redis),
				'commands/s',
			),
			row(
				'The database is asked before',
				of(({ idle }) => idle.asked.statements),
				'statements/s',
			),
			row(
				'… and then',
				of(({ asked }) => asked.statements),
				'statements/s',
			),
			row(
				'… of which write',
				of(({ asked }) => asked.writes),
				'statements/s',
			),
			row(
				'… its log',
				of(({ asked }) => asked.logKb),
				'kB/s',
			),
			row('One server, events of 4 Mbit/s', wide.cores, `cores, ${WIDE_EVENTS} events`),
			row('… its memory', wide.mb, 'MB'),
		];
	} finally {
		hosts.disconnect();
		keepOn(process.pid, 'all');
	}
}

async function wideMaterial(folder: string): Promise<Material> {
	const own = path.join(folder, 'wide-material');
	await mkdir(own);
	return makeMaterial(own, 20, WIDE_KBPS);
}

const mean = (all: readonly number[]) => all.reduce((sum, each) => sum + each, 0) / all.length;
const pause = (s: number) => new Promise((resolve) => setTimeout(resolve, s * 1000));

/**
 * Cores that processes take. All of them share one core, as one server would have it: two halves of a core that are busy
 * at the same time take more of its seconds for the same work.
 */
async function coresOf(pids: readonly number[]): Promise<number[]> {
	for (const pid of pids) keepOn(pid, 'first');
	await pause(WARM_S);
	const before = pids.map(processorSeconds);
	const from = performance.now();
	await pause(MEASURED_S);
	const elapsedS = (performance.now() - from) / 1000;
	return pids.map((pid, i) => (processorSeconds(pid) - before[i]!) / elapsedS);
}

async function costOfOne({ databaseUrl, folder, to }: Place, count: number, material: Material) {
	const env = { BIVVO_CAMERA_PORT: 'none', BIVVO_REACH_LOOPBACK: '1', ...QUIET };
	const port = await freePort();
	const server = await startServer({ host: '127.0.0.1', port, data: folder, databaseUrl, quiet: true, env });
	const desks = await eventsOnAir(() => [server], count, to, material);
	const [cores] = await coresOf([server.pid]);
	const mb = residentMb(server.pid);
	for (const desk of desks) desk.leave();
	await server.stop();
	return { cores: cores!, mb };
}

/** A second of several nodes; memory is that of one of them. */
interface Taken {
	cores: number;
	mb: number;
	redis: number;
	asked: Asked;
}
type Several = Taken & { idle: Taken };

async function costOfSeveral({ databaseUrl, to }: Place, material: Material, isStraight: boolean): Promise<Several> {
	const all = await startTestNodes(databaseUrl, NODES, { isStraight, env: QUIET });
	const pids = all.nodes.map(({ pid }) => pid);
	const taken = async (): Promise<Taken> => {
		const counting = countAsked(databaseUrl, all.redis.url);
		const [redis, ...cores] = await coresOf([all.redis.pid, ...pids]);
		const asked = await (await counting)();
		return { redis: redis!, cores: NODES * mean(cores), mb: mean(pids.map(residentMb)), asked };
	};
	const idle = await taken();
	const desks = await eventsOnAir(() => all.there, EVENTS, to, material, isStraight);
	const onAir = await taken();
	for (const desk of desks) desk.leave();
	await all.close();
	return { ...onAir, idle };
}

/** What database and Redis were asked, for each second. */
interface Asked {
	statements: number;
	writes: number;
	logKb: number;
	redis: number;
}

/** @returns tells what was asked since, and ends */
async function countAsked(databaseUrl: string, redisUrl: string): Promise<() => Promise<Asked>> {
	const database = await openDatabase(databaseUrl, null);
	const redis = new Redis(redisUrl);
	const counts = async () => {
		const [answer] = await database.db.execute(sql`show global status`);
		const status = new Map(
			(answer as unknown as { Variable_name: string; Value: string }[]).map((each) => [each.Variable_name, each.Value]),
		);
		const of = (...names: string[]) => names.reduce((sum, name) => sum + Number(status.get(name)), 0);
		const calls = [...(await redis.info('commandstats')).matchAll(/^cmdstat_(\S+):calls=(\d+)/gm)];
		return {
			statements: of('Questions'),
			writes: of('Com_insert', 'Com_update', 'Com_delete'),
			logKb: of('Innodb_os_log_written') / 1000,
			redis: calls.filter(([, name]) => name !== 'info').reduce((sum, [, , count]) => sum + Number(count), 0),
		};
	};
	await pause(WARM_S);
	const from = performance.now();
	const before = await counts();
	return async () => {
		const now = await counts();
		const s = (performance.now() - from) / 1000;
		await database.close();
		redis.disconnect();
		return {
			statements: (now.statements - before.statements) / s,
			writes: (now.writes - before.writes) / s,
			logKb: (now.logKb - before.logKb) / s,
			redis: (now.redis - before.redis) / s,
		};
	};
}
