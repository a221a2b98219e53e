/** ./bivvo: reads the first word, sees to it that what it needs is there, and runs it. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import { need } from './install.mjs';
import { Problem, step } from './say.mjs';
import { lockFolder, needFolder, needFreePort, putAside, root, settings } from './settings.mjs';

const USAGE = `Usage: ./bivvo COMMAND

  demo [--fresh] [--minutes-to-start N] [--nodes N]
                     the demo event with simulated cameras, console and host; --fresh starts over and puts the former
                     data aside; with --minutes-to-start its evening begins in so many minutes; with --nodes it is carried
                     by so many nodes, with Redis and a small proxy, on this machine
  start              Bivvo without demo data; DATABASE_URL for a database of your own
  node               one of several nodes: DATABASE_URL, REDIS_URL, BIVVO_NODE_URL where the others reach it, and
                     BIVVO_SHARED for a folder that all of them see
  restore [NAME] [--organisation ID]
                     lists the backups of the last days, or puts one in place of what is there; 'latest' is the newest;
                     of the first organisation, or of another one
  owner-reset        makes a link with which somebody becomes an owner, when nobody can sign in any more
  test               all checks and tests
  bench [NAME]       measure; without a name, list what can be measured
  fuzz [MINUTES]     send rubbish to a demo that runs, and say what came of it
  shots              make the pictures in docs/screenshots from the demo

Ports and folders: BIVVO_PORT, BIVVO_CAMERA_PORT, BIVVO_DATA, BIVVO_DB_PORT, BIVVO_STANDIN_RTMP_PORT,
BIVVO_STANDIN_HTTP_PORT.`;

const SCRIPTS = { bench: 'bench/main.ts', fuzz: 'tests/support/fuzz-main.ts', shots: 'command/shots.ts' };

/** Things to be stopped at the end, last started first. */
const running = /** @type {{ stop: () => Promise<void> }[]} */ ([]);

async function stopAll() {
	for (const each of running.splice(0).reverse()) await each.stop();
}

/**
 * Starts database, stand-ins and server, and waits for Ctrl-C.
 * @param {{ demo: boolean, fresh: boolean, minutesToStart?: number, nodes?: number }} options
 */
async function serve({ demo, fresh, minutesToStart, nodes = 1 }) {
	const { host, port, databasePort, standInRtmpPort, standInHttpPort, data, databaseUrl } = settings();
	/** @type {Parameters<typeof need>[0]} */
	const packages = databaseUrl ? [] : ['mariadb', 'mariadbClient'];
	if (nodes > 1) packages.push('redis');
	await need(packages);
	await needFreePort(port, 'BIVVO_PORT', host);
	const signal = told();
	if (fresh) {
		// Whoever uses it would go on writing to it.
		if (existsSync(data)) await lockFolder(data).stop();
		const aside = putAside(data);
		if (aside) step(`Starting over; what was in ${data} is in ${aside} now`);
	}
	needFolder(data);
	running.push(lockFolder(data));

	let url = databaseUrl;
	if (!url) {
		step('Starting the database');
		const { startDatabase } = await import('./database.mjs');
		const database = await startDatabase(path.join(data, 'database'), databasePort);
		running.push(database);
		url = database.url;
	}
	const { startStandInHost } = await import('./processes.mjs');
	const { fingerprintOf, tlsFor, whoReaches } = await import('./tls.mjs');
	const tls = await tlsFor({ host, data });
	const parts = [];
	if (demo) {
		step('Starting the stand-in host');
		await needFreePort(standInRtmpPort, 'BIVVO_STANDIN_RTMP_PORT');
		await needFreePort(standInHttpPort, 'BIVVO_STANDIN_HTTP_PORT');
		const standIn = await startStandInHost({ rtmpPort: standInRtmpPort, httpPort: standInHttpPort });
		running.push(standIn);
		parts.push({ name: 'The stand-in host', gone: standIn.gone });
	}
	const standIns = demo ? { standInRtmpPort, lineTest: `http://127.0.0.1:${standInHttpPort}/line` } : {};
	const options = { host, databaseUrl: url, demo, minutesToStart, ...standIns };
	const server =
		nodes > 1
			? await startOnNodes(nodes, port, data, options)
			: await startAlone({ ...options, port, data, secure: tls !== null });
	parts.push({ name: nodes > 1 ? 'The proxy' : 'The server', gone: server.gone });

	console.log(`\nBivvo is ready: ${server.url}/`);
	if (demo) {
		console.log(`  Lantern Night's desk:    ${server.url}/events/lantern-night`);
		console.log(`  What the host receives:  http://127.0.0.1:${standInHttpPort}/`);
	}
	console.log(whoReaches({ host, port, tls, proxy: process.env.BIVVO_TRUST_PROXY }));
	if (tls?.isOwn)
		console.log(
			`Browsers ask once whether to trust it: its certificate is its own. Fingerprint: ${fingerprintOf(tls.cert)}`,
		);
	console.log('Ctrl-C stops everything.\n');

	const died = Promise.race(parts.map(({ name, gone }) => gone.then(() => name)));
	const name = await Promise.race([signal, died]);
	if (name) throw new Problem(`${name} stopped by itself; the lines above say why.`);
	console.log('');
	step('Stopping');
}

/** @param {Parameters<typeof import('./processes.mjs').startServer>[0]} options */
async function startAlone(options) {
	step('Starting the server');
	const { startServer } = await import('./processes.mjs');
	const server = await startServer(options);
	running.push(server);
	return server;
}

/** Ports of what stands behind the proxy, from its own. */
const BEHIND = { redis: 10, nodes: 11 };

/**
 * Starts Redis, nodes, and a proxy before them. A node may be ended by itself, to see what happens.
 * @param {number} count
 * @param {number} port of the proxy
 * @param {string} data
 * @param {Omit<Parameters<typeof import('./processes.mjs').startServer>[0], 'port' | 'data'>} options
 */
async function startOnNodes(count, port, data, options) {
	step(`Starting Redis, ${count} nodes and a proxy`);
	const [{ startRedis }, { startNodes }, { startProxy }] = await Promise.all([
		import('./redis.mjs'),
		import('./nodes.mjs'),
		import('./processes.mjs'),
	]);
	const last = port + BEHIND.nodes + count - 1;
	for (let each = port + BEHIND.redis; each <= last; each++) await needFreePort(each, 'BIVVO_PORT');
	const redis = await startRedis(port + BEHIND.redis);
	running.push(redis);
	const shared = path.join(data, 'shared');
	const nodes = await startNodes({
		...options,
		count,
		folder: path.join(data, 'nodes'),
		shared,
		redisUrl: redis.url,
		port: port + BEHIND.nodes,
		cameraPort: settings().cameraPort,
	});
	running.push(...nodes);
	for (const { url, pid } of nodes) console.log(`  A node: ${url}, process ${pid}`);
	const proxy = await startProxy({
		port,
		nodes: nodes.map(({ url }) => url),
		keyFile: path.join(shared, 'secret.key'),
	});
	running.push(proxy);
	return proxy;
}

/** One of several nodes. */
async function serveNode() {
	const { host, port, data, databaseUrl } = settings();
	const { BIVVO_NODE_URL: url, REDIS_URL: redis, BIVVO_SHARED: shared } = process.env;
	if (!databaseUrl || !redis || !url || !shared)
		throw new Problem(
			'A node needs DATABASE_URL and REDIS_URL, which all nodes share, BIVVO_SHARED, a folder that all of them see, and BIVVO_NODE_URL, where the others reach it, such as http://10.0.0.2:5310.',
		);
	await need([]);
	await needFreePort(port, 'BIVVO_PORT', host);
	const signal = told();
	needFolder(data);
	running.push(lockFolder(data));
	const { tlsFor } = await import('./tls.mjs');
	const secure = (await tlsFor({ host, data })) !== null;
	const server = await startAlone({ host, port, data, databaseUrl, secure });
	console.log(
		`\nThis node is ready, and known to the others as ${url}. Ctrl-C ends it; others take its events over.\n`,
	);
	if (await Promise.race([signal, server.gone.then(() => 'gone')]))
		throw new Problem('The node stopped by itself; the lines above say why.');
}

/** Resolves when somebody ends Bivvo. Called before anything is started: whatever runs by then is stopped all the same. */
function told() {
	return new Promise((resolve) => {
		// "on", not "once": a second Ctrl-C while it stops would end this process and leave the database running.
		for (const name of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(name, () => resolve(null));
	});
}

/** The database alone, with its data taken for that time: the server must be stopped. */
async function databaseAlone() {
	const { databasePort, data, databaseUrl } = settings();
	await need(databaseUrl ? [] : ['mariadb', 'mariadbClient']);
	needFolder(data);
	running.push(lockFolder(data));
	if (databaseUrl) return databaseUrl;
	const { startDatabase } = await import('./database.mjs');
	const database = await startDatabase(path.join(data, 'database'), databasePort);
	running.push(database);
	return database.url;
}

/**
 * Lists backups, or restores one.
 * @param {string[]} args
 */
async function restore(args) {
	const url = await databaseAlone();
	const { runScript } = await import('./script.mjs');
	process.exitCode = await runScript('src/server/backup/restore-main.ts', args, {
		DATABASE_URL: url,
		BIVVO_DATA: settings().data,
		BIVVO_MIGRATIONS: path.join(root, 'src/server/db/migrations'),
	});
}

/** Prints a link that makes an owner. */
async function resetOwner() {
	const { host, port, data } = settings();
	const url = await databaseAlone();
	const { inviteOwner } = await import('./owner-reset.mjs');
	const secret = await inviteOwner(url);
	const { isLoopback, tlsFor } = await import('./tls.mjs');
	const scheme = (await tlsFor({ host, data })) ? 'https' : 'http';
	const name = isLoopback(host) ? host : '127.0.0.1';
	console.log(`Start Bivvo within an hour, and open this address once: ${scheme}://${name}:${port}/join#${secret}`);
}

/**
 * Minutes until the demo's evening begins.
 * @param {string[]} args
 */
function minutesOf(args) {
	const at = args.indexOf('--minutes-to-start');
	if (at < 0) return undefined;
	const minutes = Number(args[at + 1]);
	if (!(minutes >= 0.5 && minutes <= 600))
		throw new Problem('--minutes-to-start takes a number of minutes from 0.5 to 600, such as --minutes-to-start 3.');
	return minutes;
}

async function main() {
	const [command, ...args] = process.argv.slice(2);
	switch (command) {
		case 'demo':
			return serve({
				demo: true,
				fresh: args.includes('--fresh'),
				minutesToStart: minutesOf(args),
				nodes: (await import('./nodes.mjs')).nodesOf(args),
			});
		case 'start':
			return serve({ demo: false, fresh: false });
		case 'node':
			return serveNode();
		case 'owner-reset':
			return resetOwner();
		case 'restore':
			return restore(args);
		case 'test': {
			await need(
				['mariadb', 'mariadbClient', 'chromium', 'ffmpeg', 'nginx', 'redis', 'network', 'galera', 'rsync', 'coturn'],
				{
					toWork: true,
				},
			);
			const { runTests } = await import('./test.mjs');
			process.exitCode = await runTests();
			return;
		}
		case 'bench':
		case 'fuzz':
		case 'shots': {
			await need(['mariadb', 'mariadbClient', 'chromium', 'ffmpeg'], { toWork: true });
			const { runScript } = await import('./script.mjs');
			process.exitCode = await runScript(SCRIPTS[command], args);
			return;
		}
		default:
			console.log(USAGE);
			if (command !== undefined && command !== 'help') process.exitCode = 2;
	}
}

// What is made is for this user alone: keys, recordings, the database.
process.umask(0o077);
try {
	await main();
} catch (error) {
	if (!(error instanceof Problem)) throw error;
	console.error(`\n${error.message}`);
	process.exitCode = 1;
} finally {
	await stopAll();
}
