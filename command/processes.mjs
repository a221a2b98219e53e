/** Bivvo's own processes: the server and the stand-in host. */
import { fork } from 'node:child_process';
import http from 'node:http';
import https from 'node:https';
import path from 'node:path';
import { Problem } from './say.mjs';
import { root } from './settings.mjs';

const READY_MS = 30_000;
/** Letters of what a quiet process says. */
const MOST_SAID = 100_000;

/**
 * @typedef {{ execPath: string, execArgv: string[] }} Through
 * @typedef {{ pid: number, gone: Promise<number | null>, kill: (signal?: NodeJS.Signals) => void, stop: () => Promise<void>, said: () => string }} Running
 */

/**
 * How large each half of the heap’s young generation may grow, in megabytes. Packets of the program live for seconds: with the
 * usual 16 they outlived it, and the whole heap was gone through every two seconds for those that had grown old.
 */
const YOUNG_MEMORY = '--max-semi-space-size=64';

/**
 * Starts the server and waits until it answers.
 * @param {{ host: string, port: number, data: string, databaseUrl: string, standInRtmpPort?: number, lineTest?: string, demo?: boolean, minutesToStart?: number, quiet?: boolean, secure?: boolean, env?: Record<string, string>, through?: Through }} options through: a program that starts it
 * @returns {Promise<Running & { url: string }>}
 */
export async function startServer({
	host,
	port,
	data,
	databaseUrl,
	standInRtmpPort,
	lineTest,
	demo = false,
	minutesToStart,
	quiet = false,
	secure = false,
	env = {},
	through,
}) {
	const own = {
		BIVVO_HOST: host,
		BIVVO_PORT: String(port),
		BIVVO_DATA: data,
		BIVVO_MIGRATIONS: path.join(root, 'src/server/db/migrations'),
		BIVVO_BUILT: path.join(root, 'build/client'),
		BIVVO_DEMO: demo ? '1' : '0',
		BIVVO_STANDINS: path.join(root, 'standins'),
		...(minutesToStart === undefined ? {} : { BIVVO_MINUTES_TO_START: String(minutesToStart) }),
		DATABASE_URL: databaseUrl,
		...(lineTest ? { BIVVO_LINE_TEST: lineTest } : {}),
		...(standInRtmpPort ? { BIVVO_STANDIN_RTMP_PORT: String(standInRtmpPort) } : {}),
		...env,
	};
	const running = start('command/serve.mjs', [YOUNG_MEMORY], quiet, own, through);
	const scheme = secure ? 'https' : 'http';
	const url = `${scheme}://${host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host}:${port}`;
	await answers(`${url}/health`, running, 'The server');
	return { ...running, url };
}

/**
 * Starts the stand-in host and waits until it answers.
 * @param {{ rtmpPort: number, httpPort: number, keep?: string, env?: Record<string, string> }} options
 * @returns {Promise<Running & { url: string }>}
 */
export async function startStandInHost({ rtmpPort, httpPort, keep, env = {} }) {
	const running = start('standins/host/main.ts', ['--import', 'tsx'], false, {
		BIVVO_STANDIN_RTMP_PORT: String(rtmpPort),
		BIVVO_STANDIN_HTTP_PORT: String(httpPort),
		...(keep ? { BIVVO_STANDIN_KEEP: keep } : {}),
		...env,
	});
	const url = `http://127.0.0.1:${httpPort}`;
	await answers(`${url}/api/places`, running, 'The stand-in host');
	return { ...running, url };
}

/**
 * Starts a small proxy before several nodes, for those who look at them on one machine.
 * @param {{ port: number, nodes: string[], keyFile: string }} options keyFile: of the nodes, so that they take what it says for true
 * @returns {Promise<Running & { url: string }>}
 */
export async function startProxy({ port, nodes, keyFile }) {
	const running = start('standins/proxy/main.ts', ['--import', 'tsx'], false, {
		BIVVO_PROXY_PORT: String(port),
		BIVVO_PROXY_NODES: nodes.join(','),
		BIVVO_PROXY_KEY: keyFile,
	});
	const url = `http://127.0.0.1:${port}`;
	await answers(`${url}/health`, running, 'The proxy');
	return { ...running, url };
}

/**
 * @param {string} file
 * @param {string[]} execArgv
 * @param {boolean} quiet
 * @param {Record<string, string>} env
 * @param {Through} [through]
 * @returns {Running}
 */
function start(file, execArgv, quiet, env, through) {
	const child = fork(path.join(root, file), [], {
		cwd: root,
		...(through && { execPath: through.execPath }),
		execArgv: [...(through?.execArgv ?? []), ...execArgv],
		// Its own process group: Ctrl-C comes to the command first, which ends things in order.
		detached: true,
		stdio: ['ignore', quiet ? 'pipe' : 'inherit', 'inherit', 'ipc'],
		env: { ...process.env, ...env },
	});
	// The first of what it says is kept; the rest is only read, so that it is not held up.
	let said = '';
	child.stdout?.on('data', (text) => (said = (said + text).slice(0, MOST_SAID)));
	/** @type {Promise<number | null>} */
	const gone = new Promise((resolve) => child.once('exit', resolve));
	return {
		pid: /** @type {number} */ (child.pid),
		gone,
		said: () => said,
		kill: (signal = 'SIGTERM') => void child.kill(signal),
		async stop() {
			child.kill('SIGTERM');
			const late = setTimeout(() => child.kill('SIGKILL'), 10_000);
			await gone;
			clearTimeout(late);
		},
	};
}

/**
 * @param {string} url
 * @param {Running} running
 * @param {string} what
 */
async function answers(url, running, what) {
	let gone = false;
	void running.gone.then(() => (gone = true));
	const deadline = Date.now() + READY_MS;
	for (;;) {
		if (await isOk(url)) return;
		if (gone) throw new Problem(`${what} stopped while starting; the line above says why.`);
		if (Date.now() > deadline) throw new Problem(`${what} did not answer at ${url} within ${READY_MS / 1000} s.`);
		await new Promise((resolve) => setTimeout(resolve, 100));
	}
}

/**
 * Whether something answers well. Its certificate may be its own: it is asked on this machine.
 * @param {string} url
 * @returns {Promise<boolean>}
 */
function isOk(url) {
	return new Promise((resolve) => {
		const request = (url.startsWith('https:') ? https : http).get(url, { rejectUnauthorized: false }, (response) => {
			response.resume();
			resolve(response.statusCode === 200);
		});
		request.on('error', () => resolve(false));
	});
}
