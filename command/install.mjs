/** Installs what is missing and builds what is out of date; does nothing, quickly, when all is there. */
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Problem, step } from './say.mjs';
import { root } from './settings.mjs';

/** Debian packages by the program that shows they are there. */
const PACKAGES = {
	// The client makes and asks it; neither package starts a service.
	mariadb: { program: '/usr/sbin/mariadbd', name: 'mariadb-server-core' },
	mariadbClient: { program: '/usr/bin/mariadb', name: 'mariadb-client-core' },
	nginx: { program: '/usr/sbin/nginx', name: 'nginx-light' },
	chromium: { program: '/usr/bin/chromium', name: 'chromium' },
	ffmpeg: { program: '/usr/bin/ffmpeg', name: 'ffmpeg' },
	// What several nodes tell each other goes by it.
	redis: { program: '/usr/bin/redis-server', name: 'redis-server' },
	// A database of several members, for the tests of nodes.
	galera: { program: '/usr/lib/galera/libgalera_smm.so', name: 'galera-4' },
	rsync: { program: '/usr/bin/rsync', name: 'rsync' },
	// The tests' machines, each with a network of its own.
	network: { program: '/usr/sbin/ip', name: 'iproute2' },
	// The relay of the tests; it is started by them alone.
	coturn: { program: '/usr/bin/turnserver', name: 'coturn' },
};

/**
 * Installs just what the lock file says and leaves it as it is. Not `npm ci`: that refuses a lock file made where
 * the registry does not carry other systems' optional binaries. No package needs a script of its own.
 */
const LOCKED_INSTALL = ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error', '--ignore-scripts'];

/**
 * Debian's packages come while npm's are installed and all is built.
 * @param {(keyof typeof PACKAGES)[]} packages
 * @param {{ toWork?: boolean }} options toWork: also the npm packages that only tests, checks and measurements need
 */
export async function need(packages, { toWork = false } = {}) {
	const both = await Promise.allSettled([needPackages(packages), needModules(toWork).then(needBuild)]);
	for (const each of both) if (each.status === 'rejected') throw each.reason;
}

/** @param {(keyof typeof PACKAGES)[]} wanted */
async function needPackages(wanted) {
	const missing = wanted.map((each) => PACKAGES[each]).filter(({ program }) => !existsSync(program));
	if (missing.length === 0) return;
	const names = missing.map(({ name }) => name);
	step(`Installing ${names.join(', ')} (Debian packages; this takes some minutes)`);
	const asRoot = process.getuid?.() === 0;
	if (!asRoot && spawnSync('sudo', ['--version']).status !== 0)
		throw new Problem(
			`${names.join(' and ')} must be installed. Ask an administrator to run: apt-get install ${names.join(' ')}`,
		);
	/** @param {string[]} args */
	const apt = (args) => {
		const [program, ...rest] = asRoot ? ['apt-get', ...args] : ['sudo', 'apt-get', ...args];
		return run(/** @type {string} */ (program), rest, {
			stdio: ['inherit', 'ignore', 'inherit'],
			env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
		});
	};
	await apt(['update', '-qq']);
	if (!(await apt(['install', '-y', '-qq', '--no-install-recommends', ...names])))
		throw new Problem(`${names.join(' and ')} could not be installed. See the lines above; then run this again.`);
}

/**
 * Installs the npm packages of the lock file, unless just these are there.
 * @param {boolean} toWork also those of `devDependencies`
 */
async function needModules(toWork) {
	const lock = createHash('sha256')
		.update(readFileSync(path.join(root, 'package-lock.json')))
		.digest('hex');
	const stamp = path.join(root, 'node_modules', '.bivvo-lock');
	const there = existsSync(stamp) ? readFileSync(stamp, 'utf8') : '';
	if (there === lock || (!toWork && there === `${lock} to run`)) return;
	step('Installing the npm packages of the lock file (a minute or two)');
	const omitted = toWork ? [] : ['--omit=dev'];
	if (!(await run('npm', [...LOCKED_INSTALL, ...omitted], { cwd: root, stdio: 'inherit' })))
		throw new Problem('The npm packages could not be installed. Check the network, then run this again.');
	writeFileSync(stamp, toWork ? lock : `${lock} to run`);
}

/** Builds kernels, pages and server, unless nothing they are made of has changed. */
async function needBuild() {
	const folders = ['src', 'standins', 'static'];
	const files = readdirSync(root)
		.filter((file) => /\.(json|js|ts)$/.test(file))
		.concat(
			folders.flatMap((folder) =>
				readdirSync(path.join(root, folder), { recursive: true }).map((file) => `${folder}/${file}`),
			),
		)
		.filter((file) => !file.includes('/kernels/build') && !file.endsWith('.test.ts'))
		.map((file) => ({ file, stats: statSync(path.join(root, file)) }))
		.filter(({ stats }) => stats.isFile())
		.map(({ file, stats }) => `${file} ${stats.size} ${stats.mtimeMs}`);
	const state = createHash('sha256').update(files.sort().join('\n')).digest('hex');
	const stamp = path.join(root, 'build', '.bivvo-build');
	if (existsSync(stamp) && readFileSync(stamp, 'utf8') === state) return;
	step('Building (about half a minute)');
	const output = /** @type {string[]} */ ([]);
	if (!(await run('npm', ['run', '-s', 'build'], { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] }, output))) {
		console.error(output.join(''));
		throw new Problem('The build failed; the lines above say where.');
	}
	writeFileSync(stamp, state);
}

/**
 * True when a program ended well.
 * @param {string} program
 * @param {string[]} args
 * @param {import('node:child_process').SpawnOptions} options
 * @param {string[]} output gets what it says on its pipes
 * @returns {Promise<boolean>}
 */
function run(program, args, options, output = []) {
	const child = spawn(program, args, options);
	for (const pipe of [child.stdout, child.stderr]) pipe?.on('data', (text) => output.push(String(text)));
	return new Promise((resolve) => {
		child.once('error', () => resolve(false));
		child.once('close', (code) => resolve(code === 0));
	});
}
