/** The demo event as the benches use it: sent to their own receiver, watched from outside. */
import { chromium, type Browser, type BrowserContext } from '@playwright/test';
import { CHROMIUM } from '../playwright.config.ts';
import type { Command } from '../src/core/show/command.ts';
import { batchOf } from '../src/core/show/command.ts';
import { plainChannel } from '../src/core/show/mix/mix.ts';
import { plainScene, wholeLayer } from '../src/core/show/scenes/scene.ts';
import { plainSource } from '../src/core/show/sources/source.ts';
import { startDemo, type Demo } from '../tests/support/demo.ts';
import type { Receiver } from './receiver.ts';

export const EVENT = 'lantern-night';

/** A demo of its own, and a browser, for as long as something is measured with them. */
export async function withDemo<T>(measure: (demo: Demo, browser: Browser) => Promise<T>): Promise<T> {
	const demo = await startDemo();
	const browser = await chromium.launch(CHROMIUM);
	try {
		return await measure(demo, browser);
	} finally {
		await browser.close();
		await demo.close();
	}
}

/** The demo event, sent to the bench's own host only, with the flash-and-click source added. */
export async function prepare(
	demo: Demo,
	tell: (command: Command) => Promise<unknown>,
	lines: number,
	port: number,
): Promise<void> {
	for (const destinationId of ['ridge-channel', 'valley-relay'])
		await tell({ type: 'removeDestination', destinationId });
	const destination = {
		id: 'bench',
		name: 'Bench',
		address: `rtmp://127.0.0.1:${port}/bench`,
		key: 'bench',
		userName: '',
		password: null,
	};
	const response = await fetch(`${demo.url}/api/events/${EVENT}/destinations`, {
		method: 'PUT',
		headers: { 'Content-Type': 'application/json' },
		body: JSON.stringify(destination),
	});
	if (!response.ok) throw new Error(`The destination was not saved: ${await response.text()}`);
	if (lines === 1080) await tell({ type: 'setPicture', picture: { width: 1920, height: 1080, fps: 30 } });
	await tell(
		batchOf([
			{
				type: 'addSource',
				source: plainSource('flash', 'Flash and click', { kind: 'standInCamera', standIn: 'flash-and-click' }),
			},
			{ type: 'addScene', scene: plainScene('flash-scene', 'Flash and click', [wholeLayer('flash-layer', 'flash')]) },
			{ type: 'addChannel', channel: plainChannel('flash-channel', 'flash', 'Click') },
		]),
	);
}

/** The process that all others of a browser belong to. */
export async function pidOf(browser: Browser): Promise<number> {
	const session = await browser.newBrowserCDPSession();
	const { processInfo } = await session.send('SystemInfo.getProcessInfo');
	return processInfo.find(({ type }) => type === 'browser')!.id;
}

/** Pictures received of pictures due, in percent, by their time stamps. */
export function shareOfDue(pictures: Receiver['pictures'], fps: number): number {
	const spanS = (pictures.at(-1)!.timestampMs - pictures[0]!.timestampMs) / 1000;
	return (100 * pictures.length) / (Math.round(spanS * fps) + 1);
}

/** Of a page that is looked at as a desk; scripts of a bench may be put into it. */
export function newContext(browser: Browser): Promise<BrowserContext> {
	return browser.newContext({ viewport: { width: 1280, height: 800 }, bypassCSP: true });
}

export function sizeOf(lines: 720 | 1080) {
	return lines === 720 ? ({ width: 1280, height: 720 } as const) : ({ width: 1920, height: 1080 } as const);
}
