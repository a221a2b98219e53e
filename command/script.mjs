/** Runs one of the project's TypeScript programs. */
import { spawn } from 'node:child_process';
import path from 'node:path';
import { root } from './settings.mjs';

/**
 * @param {string} file below the project's folder
 * @param {string[]} args
 * @param {NodeJS.ProcessEnv} env beside this process's own
 * @returns {Promise<number>} exit code
 */
export function runScript(file, args, env = {}) {
	const child = spawn(process.execPath, ['--import', 'tsx', path.join(root, file), ...args], {
		cwd: root,
		stdio: 'inherit',
		env: { BIVVO_LOG: 'silent', ...process.env, ...env },
	});
	return new Promise((resolve) => child.once('exit', (code) => resolve(code ?? 1)));
}
