import path from 'node:path';
import type { Browser, Page } from '@playwright/test';
import { CUT } from '../src/core/show/scenes/scene.ts';
import { GROUPS } from '../src/core/show/mix/mix.ts';
import type { Command } from '../src/core/show/command.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import type { Demo } from '../tests/support/demo.ts';
import { difference, frames } from '../tests/support/see.ts';
import { processorSeconds, printThreads, threadSeconds } from './cores.ts';
import { encodedTimes, watchEncoder, type Encoded } from './encoder-watch.ts';
import { EVENT, newContext, pidOf, prepare, shareOfDue, sizeOf, withDemo } from './event.ts';
import { FLOOR_PICTURES, measureFloor } from './floor.ts';
import { lipSync } from './lip-sync.ts';
import { Receiver } from './receiver.ts';
import { median, row, type Row } from './table.ts';

const MEASURED_S = 60;
const PRESSES = 100;
/** A cut between two cameras changes the small picture by more than this; their own movement by far less. */
const CUT_DIFFERENCE = 5;

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** The real page, cameras, server and a host: at 720p30 in full, at 1080p30 reported. */
export async function benchSlice(): Promise<Row[]> {
	return [...(await measure(720, MEASURED_S)), ...(await measure(1080, MEASURED_S))];
}

async function measure(lines: 720 | 1080, seconds: number): Promise<Row[]> {
	return withDemo((demo, browser) => run(demo, browser, lines, seconds));
}

async function run(demo: Demo, browser: Browser, lines: 720 | 1080, seconds: number): Promise<Row[]> {
	const file = path.join(demo.folder, 'received.flv');
	const receiver = new Receiver(file);
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	await hub.welcome();
	const tell = (command: Command) => hub.applied(hub.do(command));
	await prepare(demo, tell, lines, await receiver.listen());

	const context = await newContext(browser);
	const page = await context.newPage();
	await page.goto(`${demo.url}/events/${EVENT}`);
	const encoder = await watchEncoder(page, lines);
	await watchKeys(page);
	await wait(3000);

	// Flash and click at the start.
	await muteConsole(tell, true);
	await tell({ type: 'take', sceneId: 'flash-scene' });
	await tell({ type: 'startBroadcast', broadcastId: `bench-${lines}` });
	await until('pictures', () => receiver.pictures.length > 30);
	await wait(7000);

	// Fades, with the wall on, as in an evening.
	await tell({ type: 'take', sceneId: 'lectern', transition: { ...CUT } });
	await tell({ type: 'setNext', sceneId: 'chapel-wide' });
	await muteConsole(tell, false);
	await wait(2000);
	await page.keyboard.press('Enter');
	await encoder.keep(FLOOR_PICTURES);
	await wait(4000);
	const browserPid = await pidOf(browser);
	const threads = threadSeconds(browserPid);
	const before = {
		browser: processorSeconds(browserPid),
		server: processorSeconds(demo.serverPid()),
		at: performance.now(),
	};
	const from = receiver.pictures.length;
	const startedAt = performance.now();
	while (performance.now() - startedAt < seconds * 1000) {
		await page.keyboard.press('Enter');
		await wait(5000);
	}
	const elapsedS = (performance.now() - before.at) / 1000;
	const cores = {
		browser: (processorSeconds(browserPid) - before.browser) / elapsedS,
		server: (processorSeconds(demo.serverPid()) - before.server) / elapsedS,
	};
	printThreads(threads, threadSeconds(browserPid), elapsedS);
	const measured = receiver.pictures.slice(from);
	const kbps = hub.status!.rates[0]!.plannedKbps;

	// Cuts, to time a key's way.
	await tell({ type: 'setTransition', transition: { ...CUT } });
	await page.evaluate(() => (globalThis.pressed = []));
	for (let i = 0; i < PRESSES; i++) {
		await page.keyboard.press(`Shift+Digit${1 + (i % 3)}`);
		await wait(850 + ((37 * i) % 200));
	}
	const pressed = await page.evaluate(() => globalThis.pressed);

	// The tab out of sight.
	await stopPageTimers(page);
	const fromHidden = receiver.pictures.length;
	await wait(10_000);
	const whileHidden = receiver.pictures.slice(fromHidden);

	// Flash and click at the end.
	await muteConsole(tell, true);
	await tell({ type: 'take', sceneId: 'flash-scene' });
	await wait(7000);
	const encoded = await encoder.encoded();
	await tell({ type: 'endBroadcast' });
	await wait(2500);
	await receiver.close();

	await page.close();
	const floor = await measureFloor(browser, demo, {
		...{ context, picture: { ...sizeOf(lines), fps: 30 }, kbps },
		sources: ['lectern.mp4', 'chapel-wide.mp4', 'choir-left.mp4'],
	});
	const seen = await frames(file);
	const presses = followPresses(pressed, seen, receiver.pictures, encoded);
	const offsets = await lipSync(file, seen);
	const name = `${lines}p30`;
	const judged = lines === 720;
	return [
		row(
			`${name}: frames received of frames due`,
			shareOfDue(measured, 30),
			'%',
			judged ? { limit: { least: 99.9 } } : {},
		),
		row(
			`${name}: the same with the page’s timers and animation frames stopped`,
			shareOfDue(whileHidden, 30),
			'%',
			judged ? { limit: { least: 99.9 } } : {},
		),
		row(`${name}: browser and server (encoder and decoders alone)`, cores.browser + cores.server, 'cores', {
			yardstick: floor.cores,
			...(judged ? { limit: { most: 1.35 } } : {}),
		}),
		row(`${name}: browser`, cores.browser, 'cores'),
		row(`${name}: server`, cores.server, 'cores'),
		row(`${name}: encoder alone`, floor.encoder, 'cores'),
		row(
			`${name}: cuts by key on air within 800 ms, of ${PRESSES}`,
			presses.encodedMs.length,
			'cuts',
			judged ? { limit: { least: PRESSES - 4 } } : {},
		),
		row(
			`${name}: key press to changed frame encoded, median`,
			median(presses.encodedMs),
			'ms',
			judged ? { limit: { most: 45 } } : {},
		),
		row(
			`${name}: the same, 99th percentile of ${presses.encodedMs.length}`,
			presses.encodedMs.toSorted((a, b) => a - b)[Math.ceil(0.99 * presses.encodedMs.length) - 1]!,
			'ms',
			judged ? { limit: { most: 80 } } : {},
		),
		row(`${name}: key press to changed frame at the host, median`, median(presses.receivedMs), 'ms'),
		row(`${name}: key press to changed frame at the host, worst`, Math.max(...presses.receivedMs), 'ms'),
		row(
			`${name}: sound apart from picture, at the start`,
			Math.abs(offsets.first),
			'ms',
			judged ? { limit: { most: 20 } } : {},
		),
		row(
			`${name}: sound apart from picture, after ${seconds} s`,
			Math.abs(offsets.last),
			'ms',
			judged ? { limit: { most: 20 } } : {},
		),
		row(
			`${name}: sound apart from picture, worst of ${offsets.count} flashes`,
			offsets.worst,
			'ms',
			judged ? { limit: { most: 20 } } : {},
		),
	];
}

declare global {
	/** Times of key presses, milliseconds since 1970. */
	var pressed: number[];
}

/** Leaves the click alone to be heard: it is in no group. */
async function muteConsole(tell: (command: Command) => Promise<unknown>, muted: boolean): Promise<void> {
	for (const group of GROUPS) await tell({ type: 'setGroupMute', group, muted });
}

async function watchKeys(page: Page): Promise<void> {
	await page.evaluate(() => {
		globalThis.pressed = [];
		// The digit, not the Shift before it.
		addEventListener(
			'keydown',
			(event) => event.code.startsWith('Digit') && pressed.push(performance.timeOrigin + event.timeStamp),
			true,
		);
	});
}

/** For each press: how long until the first picture that differs was encoded, and was at the host. */
function followPresses(
	pressed: number[],
	seen: Awaited<ReturnType<typeof frames>>,
	pictures: Receiver['pictures'],
	encoded: readonly Encoded[],
): { encodedMs: number[]; receivedMs: number[] } {
	const times = encodedTimes(pictures, encoded);
	const cuts = pictures
		.map((picture, i) => ({ ...picture, encodedAt: times[i]! }))
		.filter((_, i) => i > 0 && seen[i] && difference(seen[i]!.luma, seen[i - 1]!.luma) > CUT_DIFFERENCE);
	const result = { encodedMs: [] as number[], receivedMs: [] as number[] };
	for (const at of pressed) {
		const cut = cuts.find(({ arrivedAt }) => arrivedAt > at && arrivedAt < at + 800);
		if (!cut) continue;
		result.receivedMs.push(cut.arrivedAt - at);
		if (!Number.isNaN(cut.encodedAt)) result.encodedMs.push(cut.encodedAt - at);
	}
	if (result.encodedMs.length === 0) throw new Error(`None of ${pressed.length} cuts was found`);
	return result;
}

/**
 * Does to the page what browsers do to a tab out of sight, in full: no animation frames, no timers. Headless Chromium
 * calls every page visible, minimised or not, so it cannot be asked to do it.
 */
async function stopPageTimers(page: Page): Promise<void> {
	await page.evaluate(() => {
		globalThis.requestAnimationFrame = () => 0;
		globalThis.setTimeout = (() => 0) as unknown as typeof setTimeout;
		for (let timer = Number(globalThis.setInterval(() => {}, 1e6)); timer > 0; timer--) clearInterval(timer);
	});
}
