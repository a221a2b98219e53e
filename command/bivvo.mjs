/** ./bivvo: reads the first word, sees to it that what it needs is there, and runs it. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import { need } from './install.mjs';
import { Problem, step } from './say.mjs';
import { lockFolder, needFolder, needFreePort, putAside, root, settings } from './settings.mjs';

const USAGE = `Usage: ./bivvo COMMAND

  demo [--fresh] [--minutes-to-start N]
                     the demo event with simulated cameras, console and host; --fresh starts over and puts the former
                     data aside; with --minutes-to-start its evening begins in so many minutes
  start              Bivvo without demo data; DATABASE_URL for a database of your own
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
 * @param {{ demo: boolean, fresh: boolean, minutesToStart?: number }} options
 */
async function serve({ demo, fresh, minutesToStart }) {
	const { host, port, databasePort, standInRtmpPort, standInHttpPort, data, databaseUrl } = settings();
	await need(databaseUrl ? [] : ['mariadb', 'mariadbClient']);
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
	const { startServer, startStandInHost } = await import('./processes.mjs');
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
	step('Starting the server');
	const server = await startServer({
		host,
		port,
		data,
		databaseUrl: url,
		demo,
		minutesToStart,
		secure: tls !== null,
		...(demo ? { standInRtmpPort, lineTest: `http://127.0.0.1:${standInHttpPort}/line` } : {}),
	});
	running.push(server);
	parts.push({ name: 'The server', gone: server.gone });

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
			return serve({ demo: true, fresh: args.includes('--fresh'), minutesToStart: minutesOf(args) });
		case 'start':
			return serve({ demo: false, fresh: false });
		case 'owner-reset':
			return resetOwner();
		case 'restore':
			return restore(args);
		case 'test': {
			await need(['mariadb', 'mariadbClient', 'chromium', 'ffmpeg', 'nginx', 'coturn'], { toWork: true });
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
