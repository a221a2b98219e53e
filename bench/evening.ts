import path from 'node:path';
import type { Browser } from '@playwright/test';
import type { Command } from '../src/core/show/command.ts';
import { CUT, plainScene, wholeLayer } from '../src/core/show/scenes/scene.ts';
import { plainCard } from '../src/core/show/sources/kinds/card.ts';
import { plainSource } from '../src/core/show/sources/source.ts';
import type { Health } from '../src/server/bivvo.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import type { Demo } from '../tests/support/demo.ts';
import { processorSeconds } from './cores.ts';
import { EVENT, pidOf, prepare, shareOfDue, withDemo } from './event.ts';
import { measureFloor } from './floor.ts';
import { Receiver } from './receiver.ts';
import { row, type Row } from './table.ts';

const MEASURED_S = 40;
const FADE_EVERY_MS = 5000;

/** An evening's heaviest picture: four cameras, three layers with a key and a clip, overlays on, fades, the wall. */
export async function benchEvening(): Promise<Row[]> {
	return [...(await measured(30)), ...(await measured(60))];
}

async function measured(fps: 30 | 60): Promise<Row[]> {
	return withDemo((demo, browser) => run(demo, browser, fps));
}

/** What the event has beyond the demo's: a fourth camera, a logo, and two scenes of three layers. */
const MORE: Command[] = [
	{ type: 'removeSource', sourceId: 'flash' },
	{
		type: 'addSource',
		source: plainSource('gallery', 'Gallery', { kind: 'standInCamera', standIn: 'choir-left' }),
	},
	{
		type: 'addSource',
		source: plainSource('mark', 'Mark', {
			kind: 'card',
			card: plainCard({
				dress: 'own',
				lines: [{ says: 'text', text: 'HFHA' }],
				paper: '#f0a830',
				ink: '#12161c',
			}),
		}),
	},
	{
		type: 'addOverlay',
		overlay: {
			id: 'logo',
			name: 'Logo',
			kind: 'picture',
			reach: 'every',
			showMs: 0,
			move: 'fade',
			sourceId: 'mark',
			box: { x: 0.86, y: 0.04, width: 0.1, height: 0.1 },
			fit: 'fit',
		},
	},
	...['lectern', 'choir-left'].map((front, i): Command => ({
		type: 'addScene',
		scene: plainScene(`layers-${i}`, `Layers ${i + 1}`, [
			wholeLayer('behind', i === 0 ? 'chapel-wide' : 'gallery'),
			{
				...wholeLayer('keyed', front),
				box: { x: 0, y: 0.3, width: 0.7, height: 0.7 },
				key: { by: 'colour', colour: '#3a3026', tolerance: 0.12, softness: 0.1, spill: 0.2 },
			},
			// The film of the evening plays in a corner.
			{ ...wholeLayer('corner', 'season-on-the-fell'), box: { x: 0.68, y: 0.5, width: 0.28, height: 0.28 } },
		]),
	})),
];

async function run(demo: Demo, browser: Browser, fps: 30 | 60): Promise<Row[]> {
	const file = path.join(demo.folder, 'received.flv');
	const receiver = new Receiver(file);
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	await hub.welcome();
	const tell = (command: Command) => hub.applied(hub.do(command));
	await prepare(demo, tell, 1080, await receiver.listen());
	await tell({ type: 'setPicture', picture: { width: 1920, height: 1080, fps } });
	for (const command of MORE) await tell(command);
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
	await page.goto(`${demo.url}/events/${EVENT}`);
	await page.waitForTimeout(3000);
	await tell({ type: 'take', sceneId: 'layers-0', transition: { ...CUT } });
	await tell({ type: 'setTransition', transition: { ...CUT, kind: 'fade', durationMs: 500 } });
	await tell({ type: 'startBroadcast', broadcastId: 'evening' });
	await until('pictures', () => receiver.pictures.length > 60);
	await tell({ type: 'showOverlay', overlayId: 'logo' });

	const browserPid = await pidOf(browser);
	const before = { browser: processorSeconds(browserPid), server: processorSeconds(demo.serverPid()) };
	const from = receiver.pictures.length;
	const startedAt = performance.now();
	for (let i = 1; performance.now() - startedAt < MEASURED_S * 1000; i++) {
		await tell({ type: 'showOverlay', overlayId: 'name' });
		await tell({ type: 'take', sceneId: `layers-${i % 2}` });
		await page.waitForTimeout(FADE_EVERY_MS);
	}
	const elapsedS = (performance.now() - startedAt) / 1000;
	const received = receiver.pictures.slice(from);
	const browserCores = (processorSeconds(browserPid) - before.browser) / elapsedS;
	const serverCores = (processorSeconds(demo.serverPid()) - before.server) / elapsedS;
	const { broadcasts } = (await (await fetch(`${demo.url}/health`)).json()) as Health;
	const kbps = hub.status!.rates[0]!.plannedKbps;
	const frameMs = broadcasts[0]?.engine?.frameMs ?? NaN;
	await tell({ type: 'endBroadcast' });
	await page.waitForTimeout(1500);
	await receiver.close();
	await page.close();
	const floor = await measureFloor(browser, demo, {
		...{ received: file, fromS: received[0]!.timestampMs / 1000 + 3, fps, kbps },
		// The choir's picture is there twice.
		sources: ['lectern.mp4', 'chapel-wide.mp4', 'choir-left.mp4', 'choir-left.mp4', 'season-on-the-fell.mp4'],
	});
	// What is asked of 1080p30; 1080p60 is only told.
	const limits = (limit: Row['limit']) => (fps === 30 ? { limit } : {});
	const what = `1080p${fps}, three layers with a key, a clip and overlays`;
	return [
		row(`${what}: frames received of frames due`, shareOfDue(received, fps), '%', limits({ least: 99.9 })),
		row('the same: browser and server (encoder and decoders alone)', browserCores + serverCores, 'cores', {
			yardstick: floor.cores,
			...limits({ most: 1.35 }),
		}),
		row('the same: encoder alone', floor.encoder, 'cores'),
		row('the same: server alone', serverCores, 'cores'),
		row('the same: time for one frame, waits included', frameMs, 'ms', limits({ most: 1000 / 30 })),
	];
}
