/** Ports and folders, from the environment. Two copies run side by side when these differ. */
import {
	accessSync,
	chmodSync,
	constants,
	existsSync,
	mkdirSync,
	readdirSync,
	readFileSync,
	renameSync,
	rmSync,
	statfsSync,
	statSync,
	writeFileSync,
} from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { Problem } from './say.mjs';

export const root = path.resolve(import.meta.dirname, '..');
const LEAST_FREE_BYTES = 300e6;
/** Says that a folder is one of Bivvo's. */
const MARKER = 'bivvo-data';
/** Names the process that uses a data folder. */
const LOCK = 'in-use';

export function settings(env = process.env) {
	return {
		host: env.BIVVO_HOST ?? '127.0.0.1',
		port: port('BIVVO_PORT', 5310, env),
		databasePort: env.BIVVO_DB_PORT === undefined ? null : port('BIVVO_DB_PORT', 0, env),
		standInRtmpPort: port('BIVVO_STANDIN_RTMP_PORT', 19350, env),
		standInHttpPort: port('BIVVO_STANDIN_HTTP_PORT', 5311, env),
		data: path.resolve(root, env.BIVVO_DATA ?? 'data'),
		databaseUrl: env.DATABASE_URL,
		cameraPort: env.BIVVO_CAMERA_PORT === 'none' ? null : port('BIVVO_CAMERA_PORT', 1935, env),
	};
}

/**
 * @param {string} name
 * @param {number} otherwise
 * @param {NodeJS.ProcessEnv} env
 */
function port(name, otherwise, env) {
	const value = Number(env[name] ?? otherwise);
	if (!Number.isInteger(value) || value < 1 || value > 65535)
		throw new Problem(`${name} is ${env[name]}, which is no port. Set it to a number from 1024 to 65535.`);
	return value;
}

/**
 * @param {number} number
 * @param {string} name of the variable that changes it
 * @param {string} host
 */
export async function needFreePort(number, name, host = '127.0.0.1') {
	await new Promise((resolve, reject) => {
		const probe = net.createServer();
		probe.once('error', (/** @type {NodeJS.ErrnoException} */ error) => {
			const why =
				error.code === 'EADDRINUSE'
					? `Port ${number} is in use by another program. Close it, or choose another port with ${name}=…`
					: error.code === 'EACCES'
						? `This user may not open port ${number}. Choose one above 1023 with ${name}=…`
						: `Port ${number} on ${host} cannot be opened (${error.code}). Choose another with ${name}=…`;
			reject(new Problem(why));
		});
		probe.listen(number, host, () => probe.close(resolve));
	});
}

/** Below those that the system gives to connections, one of which could take a free port before it is used. */
const [FIRST_PORT, LAST_PORT] = [20_000, 32_000];
/** Two that are asked for one after the other are never the same. */
const given = new Set();

/** A free port, for tests and benches. */
export async function freePort() {
	for (;;) {
		const number = FIRST_PORT + Math.floor(Math.random() * (LAST_PORT - FIRST_PORT));
		if (given.has(number)) continue;
		const isFree = await needFreePort(number, '').then(
			() => true,
			() => false,
		);
		if (!isFree) continue;
		given.add(number);
		return number;
	}
}

/** @param {string} folder */
export function needFolder(folder) {
	try {
		mkdirSync(folder, { recursive: true });
		accessSync(folder, constants.W_OK);
	} catch {
		throw new Problem(
			`The data folder ${folder} cannot be written. Give this user the right, or choose another with BIVVO_DATA=…`,
		);
	}
	if (readdirSync(folder).length === 0)
		writeFileSync(path.join(folder, MARKER), 'This folder holds the data of Bivvo.\n');
	closeToOthers(folder);
	const { bavail, bsize } = statfsSync(folder);
	if (bavail * bsize < LEAST_FREE_BYTES)
		throw new Problem(
			`Only ${Math.round((bavail * bsize) / 1e6)} MB are free at ${folder}. Make room, or choose another folder with BIVVO_DATA=…`,
		);
}

/**
 * Keys and recordings are in it: other users see nothing there. A folder of something else is left as it is.
 * @param {string} folder
 */
function closeToOthers(folder) {
	const { uid, mode } = statSync(folder);
	if (existsSync(path.join(folder, MARKER)) && uid === process.getuid?.()) chmodSync(folder, mode & 0o710);
}

/**
 * Takes a data folder for this process alone.
 * @param {string} folder
 * @returns {{ stop: () => Promise<void> }} gives it back
 */
export function lockFolder(folder) {
	const file = path.join(folder, LOCK);
	for (let attempt = 0; attempt < 2; attempt++) {
		try {
			writeFileSync(file, String(process.pid), { flag: 'wx' });
			return { stop: async () => rmSync(file, { force: true }) };
		} catch (error) {
			if (/** @type {NodeJS.ErrnoException} */ (error).code !== 'EEXIST') throw error;
			const pid = Number(readFileSync(file, 'utf8'));
			if (isBivvo(pid))
				throw new Problem(
					`Bivvo is running already with the data in ${folder} (process ${pid}). Stop it first, or choose another folder with BIVVO_DATA=…`,
				);
			// Whoever had it was killed.
			rmSync(file, { force: true });
		}
	}
	throw new Problem(`The data folder ${folder} is being taken by another process. Try again.`);
}

/** @param {number} pid */
function isBivvo(pid) {
	try {
		return pid !== process.pid && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('bivvo');
	} catch {
		return false;
	}
}

/**
 * Puts a data folder aside, so that one starts with an empty one. Nothing is deleted.
 * @param {string} folder
 * @returns {string | null} where it lies now; null when there was none
 */
export function putAside(folder) {
	if (!existsSync(folder) || readdirSync(folder).length === 0) return null;
	// A former version made its folders without a marker.
	const isOurs = existsSync(path.join(folder, MARKER)) || existsSync(path.join(folder, 'secret.key'));
	if (!isOurs)
		throw new Problem(
			`${folder} holds something else than the data of Bivvo, so it is left alone. Choose another folder with BIVVO_DATA=…`,
		);
	const time = new Date().toISOString().slice(0, 19).replaceAll(':', '').replace('T', '-');
	const aside = `${folder}-before-${time}`;
	renameSync(folder, aside);
	return aside;
}
