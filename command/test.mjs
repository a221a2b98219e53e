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
	// Integration tests mostly wait, so the others compute beside them.
	step('Formatting and lint, types, unit and integration tests');
	const computing = async () => [...(await Promise.all(['lint', 'types'].map(runCheck))), await runVitest('unit')];
	for (const each of (await Promise.all([computing(), runVitest('integration')])).flat()) add(each);

	step('End to end, in Chromium');
	const playwright = path.join(REPORTS, 'playwright.json');
	const playwrightCode = await run('npx', ['--no-install', 'playwright', 'test'], {
		PLAYWRIGHT_JSON_OUTPUT_FILE: playwright,
	});
	for (const name of flaky(playwright)) console.log(`Passed only at a second try: ${name}`);
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
 * Titles of the tests that passed only at a second try.
 * @param {string} file Playwright's report
 * @returns {string[]}
 */
function flaky(file) {
	if (!existsSync(file)) return [];
	/** @param {any} suite @returns {string[]} */
	const within = (suite) => [
		...(suite.specs ?? []).filter((/** @type {any} */ { tests }) => tests.some(isFlaky)).map(titleOf),
		...(suite.suites ?? []).flatMap(within),
	];
	return within(JSON.parse(readFileSync(file, 'utf8')));
}
const isFlaky = (/** @type {any} */ test) => test.status === 'flaky';
const titleOf = (/** @type {any} */ { title }) => title;

/** @param {string} name of a script in package.json */
async function runCheck(name) {
	const code = await run('npm', ['run', '-s', name]);
	return { passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 };
}

/** @param {string} project */
async function runVitest(project) {
	const report = path.join(REPORTS, `${project}.json`);
	const args = ['vitest', 'run', '--project', project, '--reporter=dot', '--reporter=json'];
	const code = await run('npx', ['--no-install', ...args, `--outputFile.json=${report}`]);
	return counts(report, code, ({ numPassedTests, numFailedTests }) => ({
		passed: numPassedTests,
		failed: numFailedTests,
	}));
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
