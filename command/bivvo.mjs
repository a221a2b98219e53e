/** ./bivvo: reads the first word, sees to it that what it needs is there, and runs it. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import { need } from './install.mjs';
import { Problem, step } from './say.mjs';
import { lockFolder, needFolder, needFreePort, putAside, settings } from './settings.mjs';

const USAGE = `Usage: ./bivvo COMMAND

  demo [--fresh]     the demo event with simulated cameras, console and host; --fresh starts over and puts the former data aside
  start              Bivvo without demo data; DATABASE_URL for a database of your own
  test               all checks and tests
  bench [NAME]       measure; without a name, list what can be measured
  shots              make the pictures in docs/screenshots from the demo

Ports and folders: BIVVO_PORT, BIVVO_DATA, BIVVO_DB_PORT, BIVVO_STANDIN_RTMP_PORT, BIVVO_STANDIN_HTTP_PORT.`;

/** Things to be stopped at the end, last started first. */
const running = /** @type {{ stop: () => Promise<void> }[]} */ ([]);

async function stopAll() {
	for (const each of running.splice(0).reverse()) await each.stop();
}

/**
 * Starts database, stand-ins and server, and waits for Ctrl-C.
 * @param {{ demo: boolean, fresh: boolean }} options
 */
async function serve({ demo, fresh }) {
	const { host, port, databasePort, standInRtmpPort, standInHttpPort, data, databaseUrl } = settings();
	await need(databaseUrl ? [] : ['mariadb']);
	await needFreePort(port, 'BIVVO_PORT', host);
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
		...(demo ? { standInRtmpPort, lineTest: `http://127.0.0.1:${standInHttpPort}/line` } : {}),
	});
	running.push(server);
	parts.push({ name: 'The server', gone: server.gone });

	console.log(`\nBivvo is ready: ${server.url}/`);
	if (demo) {
		console.log(`  Lantern Night's desk:    ${server.url}/events/lantern-night`);
		console.log(`  What the host receives:  http://127.0.0.1:${standInHttpPort}/`);
	}
	console.log('Ctrl-C stops everything.\n');

	const signal = new Promise((resolve) => {
		// "on", not "once": a second Ctrl-C while it stops would end this process and leave the database running.
		for (const name of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(name, () => resolve(null));
	});
	const died = Promise.race(parts.map(({ name, gone }) => gone.then(() => name)));
	const name = await Promise.race([signal, died]);
	if (name) throw new Problem(`${name} stopped by itself; the lines above say why.`);
	console.log('');
	step('Stopping');
}

async function main() {
	const [command, ...args] = process.argv.slice(2);
	switch (command) {
		case 'demo':
			return serve({ demo: true, fresh: args.includes('--fresh') });
		case 'start':
			return serve({ demo: false, fresh: false });
		case 'test': {
			await need(['mariadb', 'chromium', 'ffmpeg'], { toWork: true });
			const { runTests } = await import('./test.mjs');
			process.exitCode = await runTests();
			return;
		}
		case 'bench':
		case 'shots': {
			await need(['mariadb', 'chromium', 'ffmpeg'], { toWork: true });
			const { runScript } = await import('./script.mjs');
			process.exitCode = await runScript(command === 'bench' ? 'bench/main.ts' : 'command/shots.ts', args);
			return;
		}
		default:
			console.log(USAGE);
			if (command !== undefined && command !== 'help') process.exitCode = 2;
	}
}

try {
	await main();
} catch (error) {
	if (!(error instanceof Problem)) throw error;
	console.error(`\n${error.message}`);
	process.exitCode = 1;
} finally {
	await stopAll();
}
