/** A private Redis on loopback: what nodes tell each other. It keeps nothing. */
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import net from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Problem } from './say.mjs';

const READY_MS = 20_000;

/**
 * @param {number} port on loopback
 * @returns {Promise<{ url: string, pid: number, kill: (signal: NodeJS.Signals) => void, stop: () => Promise<void> }>}
 */
export async function startRedis(port) {
	const folder = mkdtempSync(path.join(tmpdir(), 'bivvo-redis-'));
	const options = ['--bind', '127.0.0.1', '--port', String(port), '--dir', folder];
	const keepsNothing = ['--save', '', '--appendonly', 'no', '--loglevel', 'warning'];
	const child = spawn('/usr/bin/redis-server', [...options, ...keepsNothing], { stdio: 'ignore', detached: true });
	const gone = new Promise((resolve) => child.once('exit', resolve));
	let alive = true;
	void gone.then(() => (alive = false));
	const deadline = Date.now() + READY_MS;
	while (!(await answers(port))) {
		if (!alive || Date.now() > deadline) throw new Problem(`Redis did not start on port ${port}.`);
		await new Promise((resolve) => setTimeout(resolve, 50));
	}
	return {
		url: `redis://127.0.0.1:${port}`,
		pid: /** @type {number} */ (child.pid),
		kill: (signal) => void child.kill(signal),
		async stop() {
			if (alive) child.kill('SIGTERM');
			await gone;
			rmSync(folder, { recursive: true, force: true });
		},
	};
}

/** @param {number} port @returns {Promise<boolean>} */
function answers(port) {
	return new Promise((resolve) => {
		const socket = net.connect(port, '127.0.0.1', () => socket.write('PING\r\n'));
		socket.once('data', (text) => {
			resolve(String(text).startsWith('+PONG'));
			socket.destroy();
		});
		socket.once('error', () => resolve(false));
	});
}
