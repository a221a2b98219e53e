import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromium } from '@playwright/test';
import { freePort } from '../command/settings.mjs';
import { CHROMIUM } from '../playwright.config.ts';
import { showSetUp, startDemo } from '../tests/support/demo.ts';
import { EVENT } from './event.ts';
import { row, type Row } from './table.ts';

const ROUNDS = 3;
/** Waits until the engine has pictures of three cameras: each is then listed with its size. */
const LIVE_SCRIPT = `(async () => {
	const look = () => [...document.querySelectorAll('[data-source]')].filter((each) => / × /.test(each.textContent)).length;
	while (look() < 3) await new Promise((resolve) => requestAnimationFrame(resolve));
	return performance.now();
})()`;

/** How long it takes from the command to a demo that can be opened, and from opening a desk to live pictures. */
export async function benchStart(): Promise<Row[]> {
	const folder = await mkdtemp(path.join(tmpdir(), 'bivvo-start-'));
	const starts: number[] = [];
	try {
		// The first one makes a database.
		for (let round = 0; round <= ROUNDS; round++) starts.push(await secondsToDemo(folder));
	} finally {
		await rm(folder, { recursive: true, force: true });
	}
	const demo = await startDemo();
	const browser = await chromium.launch(CHROMIUM);
	const pictures: number[] = [];
	for (let round = 0; round < ROUNDS; round++) {
		const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
		await showSetUp(page);
		await page.goto(`${demo.url}/events/${EVENT}`, { waitUntil: 'commit' });
		pictures.push((await page.evaluate<number>(LIVE_SCRIPT)) / 1000);
		await page.close();
	}
	await browser.close();
	await demo.close();
	const worst = (list: number[]) => Math.max(...list);
	return [
		row('demo, the first time', starts[0]!, 's'),
		row(`demo, again, worst of ${ROUNDS}`, worst(starts.slice(1)), 's', { limit: { most: 4 } }),
		row(`desk opened to three live pictures, worst of ${ROUNDS}`, worst(pictures), 's', { limit: { most: 2.5 } }),
	];
}

/** Until the demo says where it can be opened, and answers there. */
async function secondsToDemo(folder: string): Promise<number> {
	const port = await freePort();
	const [rtmp, http] = [await freePort(), await freePort()];
	const ports = { BIVVO_PORT: port, BIVVO_STANDIN_RTMP_PORT: rtmp, BIVVO_STANDIN_HTTP_PORT: http };
	const env = { ...process.env, BIVVO_DATA: folder };
	for (const [name, value] of Object.entries(ports)) Object.assign(env, { [name]: String(value) });
	const startedAt = performance.now();
	const demo = spawn('./bivvo', ['demo'], { stdio: 'ignore', env });
	const gone = new Promise((resolve) => demo.once('exit', resolve));
	let answers = false;
	while (!answers) {
		await new Promise((resolve) => setTimeout(resolve, 20));
		answers = await fetch(`http://127.0.0.1:${port}/health`).then(
			({ ok }) => ok,
			() => false,
		);
	}
	const seconds = (performance.now() - startedAt) / 1000;
	demo.kill('SIGTERM');
	await gone;
	return seconds;
}
