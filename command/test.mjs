/** All checks and tests, one after another; ends with one plain line of counts. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { step } from './say.mjs';
import { root } from './settings.mjs';

const REPORTS = path.join(root, 'test-results');
/** Of what is said again about a failure at the end. */
const MOST_LETTERS = 3000;

/** @returns {Promise<number>} exit code */
export async function runTests() {
	rmSync(REPORTS, { recursive: true, force: true });
	mkdirSync(REPORTS, { recursive: true });
	const since = Date.now();
	const total = { passed: 0, failed: 0 };
	/** @type {string[]} */
	const faults = [];
	/** @param {Counts} counts */
	const add = (counts) => {
		total.passed += counts.passed;
		total.failed += counts.failed;
		faults.push(...(counts.faults ?? []));
	};
	// Integration tests mostly wait, so the others compute beside them.
	step('Formatting and lint, types, unit and integration tests, pages in Chromium');
	const computing = async () => [
		...(await Promise.all(['lint', 'types'].map(runCheck))),
		await runVitest('unit'),
		await runPlaywright('pages', since),
	];
	for (const each of (await Promise.all([computing(), runVitest('integration')])).flat()) add(each);

	step('The evening, end to end, in Chromium');
	add(await runPlaywright('evening', since));

	// What ran first has long left the screen, and most logs keep only their end.
	for (const fault of faults) console.log(`\nFailed: ${fault}`);
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

/** What failed in a project, with what was on the page where Playwright has written it down. @param {string} project @returns {string[]} */
function pagesOfFailed(project) {
	const folder = path.join(REPORTS, 'e2e', project);
	if (!existsSync(folder)) return [];
	const written = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.md'));
	return written.map((name) => {
		const sections = readFileSync(path.join(folder, name), 'utf8').split(/^# /m);
		const wanted = sections.filter((section) => /^(Test info|Error details|Page snapshot)/.test(section));
		return wanted.join('').slice(0, MOST_LETTERS);
	});
}

/** @typedef {{ passed: number, failed: number, faults?: string[] }} Counts `faults` says what failed, for whoever reads only the end */

/** @param {string} name of a script in package.json @returns {Promise<Counts>} */
async function runCheck(name) {
	const code = await run('npm', ['run', '-s', name]);
	return code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1, faults: [`npm run ${name}`] };
}

/** @param {string} project */
async function runVitest(project) {
	const report = path.join(REPORTS, `${project}.json`);
	const args = ['vitest', 'run', '--project', project, '--reporter=dot', '--reporter=json'];
	const code = await run('npx', ['--no-install', ...args, `--outputFile.json=${report}`]);
	return counts(report, code, ({ numPassedTests, numFailedTests, testResults }) => ({
		passed: numPassedTests,
		failed: numFailedTests,
		faults: testResults.flatMap(faultsOfFile),
	}));
}

/** @param {string} project @param {number} since when all of it began @returns {Promise<Counts>} */
async function runPlaywright(project, since) {
	const report = path.join(REPORTS, `${project}.json`);
	const code = await run('npx', ['--no-install', 'playwright', 'test', `--project=${project}`], {
		PLAYWRIGHT_JSON_OUTPUT_FILE: report,
		BIVVO_TESTS_SINCE: String(since),
	});
	for (const name of flaky(report)) console.log(`Passed only at a second try: ${name}`);
	return counts(report, code, ({ stats }) => ({
		passed: stats.expected + stats.flaky,
		failed: stats.unexpected,
		faults: pagesOfFailed(project),
	}));
}

/** @param {{ name: string, message: string, status: string, assertionResults: { status: string, fullName: string, failureMessages: string[] }[] }} file */
function faultsOfFile({ name, message, status, assertionResults }) {
	const failed = assertionResults.filter((test) => test.status === 'failed');
	const said = failed.map(({ fullName, failureMessages }) => `${fullName}\n${failureMessages.join('\n')}`);
	// A file that could not be run at all has no tests.
	const all = status === 'failed' && said.length === 0 ? [message] : said;
	return all.map((what) => `${path.relative(root, name)}: ${what}`.slice(0, MOST_LETTERS));
}

/**
 * What a report says; a runner that failed without counting a failure counts as one.
 * @param {string} file
 * @param {number} code
 * @param {(report: any) => Counts} read
 * @returns {Counts}
 */
function counts(file, code, read) {
	const none = { passed: 0, failed: 1, faults: [`No ${path.basename(file)} was written; exit code ${code}`] };
	if (!existsSync(file)) return none;
	const said = read(JSON.parse(readFileSync(file, 'utf8')));
	if (code === 0 || said.failed > 0) return said;
	return {
		...said,
		failed: 1,
		faults: [...(said.faults ?? []), `${path.basename(file)} lists no failure; exit code ${code}`],
	};
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
