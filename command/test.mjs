/** All checks and tests, one after another; ends with one plain line of counts. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { step } from './say.mjs';
import { root } from './settings.mjs';

const REPORTS = path.join(root, 'test-results');

/** @returns {Promise<number>} exit code */
export async function runTests() {
	rmSync(REPORTS, { recursive: true, force: true });
	mkdirSync(REPORTS, { recursive: true });
	const total = { passed: 0, failed: 0 };
	/** @param {{ passed: number, failed: number }} counts */
	const add = ({ passed, failed }) => {
		total.passed += passed;
		total.failed += failed;
	};
	for (const [name, args] of /** @type {[string, string[]][]} */ ([
		['Formatting and lint', ['run', '-s', 'lint']],
		['Types', ['run', '-s', 'types']],
	])) {
		step(name);
		const ok = (await run('npm', args)) === 0;
		add({ passed: ok ? 1 : 0, failed: ok ? 0 : 1 });
	}
	step('Unit and integration tests');
	const vitest = path.join(REPORTS, 'vitest.json');
	const vitestCode = await run('npx', [
		'--no-install',
		'vitest',
		'run',
		'--reporter=dot',
		'--reporter=json',
		`--outputFile.json=${vitest}`,
	]);
	add(
		counts(vitest, vitestCode, ({ numPassedTests, numFailedTests }) => ({
			passed: numPassedTests,
			failed: numFailedTests,
		})),
	);

	step('End to end, in Chromium');
	const playwright = path.join(REPORTS, 'playwright.json');
	const playwrightCode = await run('npx', ['--no-install', 'playwright', 'test'], {
		PLAYWRIGHT_JSON_OUTPUT_FILE: playwright,
	});
	add(
		counts(playwright, playwrightCode, ({ stats }) => ({
			passed: stats.expected + stats.flaky,
			failed: stats.unexpected,
		})),
	);

	console.log(`\n${total.passed} passed, ${total.failed} failed`);
	return total.failed > 0 || total.passed === 0 ? 1 : 0;
}

/**
 * What a report says; a runner that failed without counting a failure counts as one.
 * @param {string} file
 * @param {number} code
 * @param {(report: any) => { passed: number, failed: number }} read
 */
function counts(file, code, read) {
	if (!existsSync(file)) return { passed: 0, failed: 1 };
	const { passed, failed } = read(JSON.parse(readFileSync(file, 'utf8')));
	return { passed, failed: code !== 0 && failed === 0 ? 1 : failed };
}

/**
 * @param {string} program
 * @param {string[]} args
 * @param {Record<string, string>} env
 * @returns {Promise<number>}
 */
function run(program, args, env = {}) {
	const child = spawn(program, args, {
		cwd: root,
		stdio: ['ignore', 'inherit', 'inherit'],
		env: { BIVVO_LOG: 'silent', ...process.env, ...env },
	});
	return new Promise((resolve) => child.once('exit', (code) => resolve(code ?? 1)));
}
