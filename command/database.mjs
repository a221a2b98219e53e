/** A private MariaDB on loopback, its files in the data folder. */
import { spawn, spawnSync } from 'node:child_process';
import { randomBytes, randomUUID } from 'node:crypto';
import {
	chmodSync,
	chownSync,
	existsSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	rmSync,
	statSync,
	symlinkSync,
	writeFileSync,
} from 'node:fs';
import { hostname, tmpdir, userInfo } from 'node:os';
import path from 'node:path';
import { Problem } from './say.mjs';
import { needFreePort } from './settings.mjs';

const READY_MS = 60_000;
/** The user that the database runs as where an administrator starts it. */
const DATABASE_USER = 'bivvo-database';
/** Where its files lie when it cannot get to the data folder. */
const ELSEWHERE = '/var/lib/bivvo';

/** @typedef {{ name: string, uid: number, gid: number }} Owner */

/**
 * Starts the database, making it on the first start.
 * @param {string} folder where its files live
 * @param {number | null} port on loopback; null for none, so that only who may open its socket reaches it
 * @returns {Promise<{ url: string, pid: number, sql: (text: string) => boolean, stop: () => Promise<void> }>} `sql` is run as its administrator; false when that failed
 */
export async function startDatabase(folder, port = null) {
	mkdirSync(folder, { recursive: true, mode: 0o700 });
	const owner = databaseOwner();
	const home = homeFor(folder, owner);
	const files = path.join(home, 'files');
	// A socket's path has 107 characters at most; the data folder may be deeper than that.
	const socketFolder = mkdtempSync(path.join(tmpdir(), 'bivvo-db-'));
	const socket = path.join(socketFolder, 'socket');
	const pidFile = path.join(home, 'pid');
	const passwordFile = path.join(folder, 'password');
	/** There while a database is being made: what lies beside it is of no use to anybody. */
	const markFile = path.join(folder, 'unfinished');
	const user = userInfo().username;
	const runsAs = owner?.name ?? user;
	give(owner, socketFolder, home);
	if (existsSync(files)) give(owner, ...all(files));
	await stopLeftOver(pidFile, files);
	if (port !== null) await needFreePort(port, 'BIVVO_DB_PORT');

	const isNew = !existsSync(passwordFile);
	if (isNew) {
		clearUnfinished(files, markFile, passwordFile);
		writeFileSync(markFile, 'This database is being made. Until its password file is there, it holds nothing.\n');
		// The script that makes it breaks paths at blanks: it gets to the folder by a way without any.
		const way = mkdtempSync('/tmp/bivvo-');
		symlinkSync(path.resolve(home), path.join(way, 'to'));
		if (owner) chmodSync(way, 0o711);
		const options = [
			`--datadir=${path.join(way, 'to', 'files')}`,
			`--user=${runsAs}`,
			// Only this user, and only through the socket, is its administrator.
			'--auth-root-authentication-method=socket',
			`--auth-root-socket-user=${user}`,
			'--skip-test-db',
		];
		const made = spawnSync('mariadb-install-db', ['--no-defaults', ...options], { encoding: 'utf8' });
		rmSync(way, { recursive: true, force: true });
		if (made.status !== 0) {
			const lines = made.stderr.trim().split('\n');
			const reason = lines.find((line) => line.includes('[ERROR]')) ?? lines.at(-1);
			throw new Problem(`The database could not be made in ${files}: ${reason}`);
		}
	}
	const options = [
		`--datadir=${files}`,
		`--user=${runsAs}`,
		`--socket=${socket}`,
		...(port === null ? ['--skip-networking'] : ['--bind-address=127.0.0.1', `--port=${port}`]),
		`--pid-file=${pidFile}`,
	];
	const small = ['--skip-name-resolve', '--innodb-buffer-pool-size=64M', `--log-error=${path.join(home, 'log')}`];
	// A process group of its own, so that Ctrl-C reaches it last, through us.
	const child = spawn('/usr/sbin/mariadbd', ['--no-defaults', ...options, ...small], {
		stdio: 'ignore',
		detached: true,
	});
	const gone = new Promise((resolve) => child.once('exit', resolve));
	let alive = true;
	void gone.then(() => (alive = false));

	const password = isNew ? randomBytes(18).toString('hex') : readFileSync(passwordFile, 'utf8');
	/** Those of databases that were made by a former version have a password. */
	const administrators = [
		{ name: user, env: process.env },
		{ name: 'root', env: { ...process.env, MYSQL_PWD: password } },
	];
	/** @param {string} sql */
	const ask = (sql) =>
		administrators.some(
			({ name, env }) =>
				spawnSync('mariadb', ['--no-defaults', '-S', socket, `-u${name}`, '--batch'], {
					input: sql,
					encoding: 'utf8',
					env,
				}).status === 0,
		);

	const deadline = Date.now() + READY_MS;
	while (!ask('select 1')) {
		if (!alive || Date.now() > deadline)
			throw new Problem(`The database did not start. Its log is ${path.join(home, 'log')}.`);
		await new Promise((resolve) => setTimeout(resolve, 150));
	}
	if (isNew) {
		const set = ask(
			`create database bivvo character set utf8mb4 collate utf8mb4_unicode_ci;
			 create user 'bivvo'@'127.0.0.1' identified by '${password}';
			 grant all on bivvo.* to 'bivvo'@'127.0.0.1';`,
		);
		if (!set) throw new Problem(`The database could not be set up. Remove ${folder} and run this again.`);
		writeFileSync(passwordFile, password, { mode: 0o600 });
		rmSync(markFile, { force: true });
	}
	// A former version left administrators without a password who could come from the network.
	const open = ['127.0.0.1', '::1', hostname()].map((from) => `drop user if exists 'root'@'${from}';`);
	if (!ask(open.join(' '))) throw new Problem(`The database in ${folder} cannot be secured. Its log says why.`);
	// Through the socket one comes from "localhost"; databases of former versions know only the other.
	const local = `create user if not exists 'bivvo'@'localhost' identified by '${password}';
		grant all on bivvo.* to 'bivvo'@'localhost';
		grant all on \`bivvo\\_%\`.* to 'bivvo'@'localhost';
		create user if not exists 'bivvo'@'127.0.0.1' identified by '${password}';
		grant all on \`bivvo\\_%\`.* to 'bivvo'@'127.0.0.1';`;
	if (!ask(local)) throw new Problem(`The database in ${folder} cannot be set up. Its log says why.`);
	const where = port === null ? `localhost/bivvo?socketPath=${encodeURIComponent(socket)}` : `127.0.0.1:${port}/bivvo`;
	return {
		url: `mysql://bivvo:${password}@${where}`,
		pid: /** @type {number} */ (child.pid),
		sql: ask,
		async stop() {
			if (alive) child.kill('SIGTERM');
			await gone;
			rmSync(socketFolder, { recursive: true, force: true });
		},
	};
}

/**
 * Removes what was left of a database that was never finished. Anything else is left alone.
 * @param {string} files
 * @param {string} markFile
 * @param {string} passwordFile
 */
function clearUnfinished(files, markFile, passwordFile) {
	if (existsSync(markFile) || !existsSync(files)) return rmSync(files, { recursive: true, force: true });
	throw new Problem(
		`There is a database in ${files}, but not its password file ${passwordFile}. ` +
			'Bring the file back from the same backup, or move the database away to start with an empty one.',
	);
}

/**
 * Ends a database of this folder that was left when the command before was killed.
 * @param {string} pidFile
 * @param {string} files
 */
async function stopLeftOver(pidFile, files) {
	if (!existsSync(pidFile)) return;
	const pid = Number(readFileSync(pidFile, 'utf8'));
	const commandLine = () => {
		try {
			return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
		} catch {
			return '';
		}
	};
	if (!commandLine().includes(`--datadir=${files}`)) return;
	process.kill(pid, 'SIGTERM');
	while (commandLine().includes('mariadbd')) await new Promise((resolve) => setTimeout(resolve, 100));
}

/**
 * An administrator's database runs as a user who may do nothing else, made on the first start.
 * @returns {Owner | null} null for who is no administrator: then it is their own
 */
function databaseOwner() {
	if (process.getuid?.() !== 0) return null;
	const options = ['--system', '--user-group', '--no-create-home', '--home-dir', '/nonexistent'];
	if (!idsOf(DATABASE_USER)) spawnSync('useradd', [...options, '--shell', '/usr/sbin/nologin', DATABASE_USER]);
	return idsOf(DATABASE_USER) ?? idsOf('nobody');
}

/**
 * @param {string} name
 * @returns {Owner | null}
 */
function idsOf(name) {
	const [uid, gid] = ['-u', '-g'].map((what) => spawnSync('id', [what, name], { encoding: 'utf8' }));
	if (uid?.status !== 0 || gid?.status !== 0) return null;
	return { name, uid: Number(uid.stdout), gid: Number(gid.stdout) };
}

/**
 * Where the database's own files lie: in its folder, unless its user cannot get there.
 * @param {string} folder
 * @param {Owner | null} owner
 */
function homeFor(folder, owner) {
	if (!owner) return folder;
	const note = path.join(folder, 'where');
	if (existsSync(note)) return readFileSync(note, 'utf8').trim();
	const isOpen = above(folder).every((each) => mayPass(each, owner) || letPass(each, path.dirname(folder), owner));
	if (isOpen) return folder;
	const home = path.join(ELSEWHERE, randomUUID());
	mkdirSync(home, { recursive: true, mode: 0o700 });
	chmodSync(ELSEWHERE, 0o711);
	writeFileSync(note, `${home}\n`);
	return home;
}

/**
 * All folders that a folder lies in.
 * @param {string} folder
 * @returns {string[]}
 */
function above(folder) {
	const parent = path.dirname(path.resolve(folder));
	return parent === path.resolve(folder) ? [] : [parent, ...above(parent)];
}

/**
 * @param {string} folder
 * @param {Owner} owner
 */
function mayPass(folder, { uid, gid }) {
	const { mode, uid: itsUser, gid: itsGroup } = statSync(folder);
	return Boolean(mode & 0o001 || (itsUser === uid && mode & 0o100) || (itsGroup === gid && mode & 0o010));
}

/**
 * Lets the database's user go through the data folder, or one for passing use, and see nothing there.
 * @param {string} folder
 * @param {string} data
 * @param {Owner} owner
 */
function letPass(folder, data, { gid }) {
	const isOurs = folder === path.resolve(data) || folder.startsWith(`${path.resolve(tmpdir())}${path.sep}`);
	if (!isOurs || statSync(folder).uid !== process.getuid?.()) return false;
	chownSync(folder, 0, gid);
	chmodSync(folder, (statSync(folder).mode & 0o700) | 0o010);
	return true;
}

/**
 * @param {Owner | null} owner
 * @param {string[]} files
 */
function give(owner, ...files) {
	if (owner) for (const each of files) chownSync(each, owner.uid, owner.gid);
}

/** @param {string} folder */
function all(folder) {
	const inside = readdirSync(folder, { recursive: true, encoding: 'utf8' });
	return [folder, ...inside.map((each) => path.join(folder, each))];
}
