import type { Browser, Page } from '@playwright/test';
import { batchOf, type Command } from '../src/core/show/command.ts';
import { plainChannel } from '../src/core/show/mix/mix.ts';
import { Page as HubPage } from '../tests/support/app.ts';
import type { Demo } from '../tests/support/demo.ts';
import { printThreads, threadSeconds } from './cores.ts';
import { EVENT, pidOf, withDemo } from './event.ts';
import { row, type Row } from './table.ts';

const MEASURED_S = 15;
const SETTLES_S = 5;
const MOST_CHANNELS = 32;

/** What looking at a desk costs, off air with the wall on: its threads in parts of a core. */
export async function benchDesk(): Promise<Row[]> {
	return withDemo(run);
}

async function run(demo: Demo, browser: Browser): Promise<Row[]> {
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	const { state } = await hub.welcome();
	const tell = (command: Command) => hub.applied(hub.do(command));
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
	await page.goto(`${demo.url}/events/${EVENT}`);
	const usual = await measure(browser, page);
	await hide(page, true);
	const hidden = await measure(browser, page);
	await hide(page, false);
	const { length } = state.setup.channels;
	const more = Array.from({ length: MOST_CHANNELS - length }, (_, i) =>
		plainChannel(`more-${i}`, 'console', `More ${i + 1}`, [i % 12]),
	);
	await tell(batchOf(more.map((channel) => ({ type: 'addChannel', channel }))));
	const many = await measure(browser, page);
	hub.socket.close();
	printThreads(new Map(), usual, 1);
	return [
		row(`Web Audio thread, ${length} channels`, sound(usual), 'cores', { limit: { most: 0.08 } }),
		row(`Web Audio thread, ${MOST_CHANNELS} channels`, sound(many), 'cores', { limit: { most: 0.15 } }),
		row('main thread and compositor, wall on', looks(usual), 'cores', { limit: { most: 0.08 } }),
		row('the same, another tab in front', looks(hidden), 'cores', { limit: { most: 0.01 } }),
	];
}

/** Tells the page that it is hidden, or not: headless Chromium calls every page visible. */
async function hide(page: Page, hidden: boolean): Promise<void> {
	const script = `for (const [name, value] of [['visibilityState', '${hidden ? 'hidden' : 'visible'}'], ['hidden', ${hidden}]])
		Object.defineProperty(document, name, { configurable: true, value });
	document.dispatchEvent(new Event('visibilitychange'));`;
	await page.evaluate(script);
}

type Threads = Map<string, number>;

async function measure(browser: Browser, page: Page): Promise<Threads> {
	await page.waitForTimeout(SETTLES_S * 1000);
	const pid = await pidOf(browser);
	const [before, startedAt] = [threadSeconds(pid), performance.now()];
	await page.waitForTimeout(MEASURED_S * 1000);
	const elapsedS = (performance.now() - startedAt) / 1000;
	return new Map([...threadSeconds(pid)].map(([name, s]) => [name, (s - (before.get(name) ?? 0)) / elapsedS]));
}

const sumOf = (threads: Threads, is: RegExp) =>
	[...threads].reduce((sum, [name, cores]) => sum + (is.test(name) ? cores : 0), 0);
const sound = (threads: Threads) => sumOf(threads, /audio/i);
const looks = (threads: Threads) => sumOf(threads, /^renderer (main|Compositor)|^gpu-process/);
