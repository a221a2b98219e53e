/** The whole demo for a test or a bench: database, stand-in host and built server as processes of their own. */
import { mkdir, mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { startDatabase } from '../../command/database.mjs';
import { startNodes } from '../../command/nodes.mjs';
import { startProxy, startServer, startStandInHost } from '../../command/processes.mjs';
import { startRedis } from '../../command/redis.mjs';
import { freePort, needFreePort } from '../../command/settings.mjs';
import { until } from './app.ts';
import { waitForPace } from './stolen-time.ts';
import type { PlaceState } from '../../standins/host/ingest.ts';

export interface Demo {
	url: string;
	hostUrl: string;
	rtmpPort: number;
	/** Where cameras of the network connect. */
	cameraPort: number;
	databaseUrl: string;
	folder: string;
	/** Those behind the proxy, where it was asked for several. */
	nodes: Awaited<ReturnType<typeof startNodes>>;
	serverPid(): number;
	databasePid: number;
	/** What the server has written to the terminal. */
	serverSaid(): string;
	/** The code that makes the owner, as the terminal shows it. */
	setUpCode(): Promise<string>;
	/** Kills the server as a power cut would, and starts it again. @param meanwhile done while there is none */
	crashServer(meanwhile?: () => void): Promise<void>;
	killHost(): Promise<void>;
	startHost(): Promise<void>;
	place(app: string): Promise<PlaceState>;
	/** The newest stream that a place of the host has kept, as a file. */
	received(app: string): Promise<string>;
	close(): Promise<void>;
}

/** Lets the desk open with sources and destinations at the left instead of the run sheet. */
export async function showSetUp(page: Page): Promise<void> {
	await page.addInitScript(() => localStorage.setItem('bivvo-left', 'setUp'));
}

/** Far from the demo's evening, on which going on air begins its run sheet. */
const ANOTHER_DAY_MS = 180 * 24 * 3_600_000;

/** @param env of the server, beside what the demo sets @param count of nodes */
export async function startDemo(minutesToStart?: number, env: Record<string, string> = {}, count = 1): Promise<Demo> {
	await waitForPace();
	const folder = await mkdtemp(path.join(tmpdir(), 'bivvo-demo-'));
	const keep = path.join(folder, 'kept');
	await mkdir(keep);
	const database = await startDatabase(path.join(folder, 'database'), await freePort());
	const [rtmpPort, httpPort, port] = [await freePort(), await freePort(), await freePort()];
	const cameraPort = await freePort();
	const startHost = () => startStandInHost({ rtmpPort, httpPort, keep });
	const options = {
		host: '127.0.0.1',
		port,
		databaseUrl: database.url,
		standInRtmpPort: rtmpPort,
		lineTest: `http://127.0.0.1:${httpPort}/line`,
		demo: true,
		minutesToStart,
		env: {
			BIVVO_CAMERA_PORT: String(cameraPort),
			BIVVO_DEMO_DAY: new Date(Date.now() + ANOTHER_DAY_MS).toISOString().slice(0, 10),
			...env,
		},
	};
	let host = await startHost();
	const alone = () => startServer({ ...options, data: folder, quiet: true });
	const several = count > 1 ? await startSeveral(options, folder, count) : null;
	let server = several?.proxy ?? (await alone());
	return {
		nodes: several?.nodes ?? [],
		url: server.url,
		hostUrl: host.url,
		rtmpPort,
		cameraPort,
		databaseUrl: database.url,
		databasePid: database.pid,
		folder,
		serverPid: () => server.pid,
		serverSaid: () => server.said(),
		setUpCode: () => until('the code', () => /type this code: (\w{8})/.exec(server.said())?.[1]),
		async crashServer(meanwhile) {
			server.kill('SIGKILL');
			await server.gone;
			meanwhile?.();
			server = await alone();
		},
		async killHost() {
			host.kill('SIGKILL');
			await host.gone;
		},
		async startHost() {
			host = await startHost();
		},
		async place(app) {
			const places = (await (await fetch(`${host.url}/api/places`)).json()) as PlaceState[];
			return places.find((each) => each.app === app)!;
		},
		async received(app) {
			const files = (await readdir(keep)).filter((file) => file.startsWith(`${app}-`)).sort();
			return path.join(keep, files.at(-1)!);
		},
		async close() {
			await server.stop();
			await several?.stop();
			await host.stop();
			// One that a test has stopped hears nothing else.
			process.kill(database.pid, 'SIGCONT');
			await database.stop();
			await rm(folder, { recursive: true, force: true });
		},
	};
}

/** @param options of each server; its port is the proxy's */
async function startSeveral(options: Omit<Parameters<typeof startServer>[0], 'data'>, folder: string, count: number) {
	const redis = await startRedis(await freePort());
	const shared = path.join(folder, 'shared');
	const nodes = await startNodes({
		...options,
		...{ count, shared, redisUrl: redis.url, port: await freePorts(count), cameraPort: null, quiet: true },
		folder: path.join(folder, 'nodes'),
	});
	const urls = nodes.map(({ url }) => url);
	const proxy = await startProxy({ port: options.port, nodes: urls, keyFile: path.join(shared, 'secret.key') });
	return {
		nodes,
		proxy,
		async stop() {
			// One that a test has stopped hears nothing else.
			for (const node of nodes) node.kill('SIGCONT');
			await Promise.all(nodes.map((node) => node.stop()));
			await redis.stop();
		},
	};
}

/** The first of several free ports in a row. */
async function freePorts(count: number): Promise<number> {
	for (;;) {
		const first = await freePort();
		const rest = Array.from({ length: count - 1 }, (_, i) => needFreePort(first + i + 1, 'BIVVO_PORT'));
		if ((await Promise.allSettled(rest)).every(({ status }) => status === 'fulfilled')) return first;
	}
}
