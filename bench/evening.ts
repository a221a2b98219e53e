import path from 'node:path';
import type { Browser } from '@playwright/test';
import type { Health } from '../src/server/bivvo.ts';
import type { Demo } from '../tests/support/demo.ts';
import { printThreads, processorSeconds, threadSeconds } from './cores.ts';
import { watchEncoder } from './encoder-watch.ts';
import { pidOf, shareOfDue, sizeOf, withDemo } from './event.ts';
import { FLOOR_PICTURES, measureFloor } from './floor.ts';
import { HEAVY_SOURCES, HeavyEvening } from './heavy.ts';
import { row, type Row } from './table.ts';

const MEASURED_S = 40;

/** An evening's heaviest picture: four cameras, three layers with a key and a clip, overlays on, fades, the wall. */
export async function benchEvening(): Promise<Row[]> {
	return [...(await measured(30)), ...(await measured(60))];
}

async function measured(fps: 30 | 60): Promise<Row[]> {
	return withDemo((demo, browser) => run(demo, browser, fps));
}

async function run(demo: Demo, browser: Browser, fps: 30 | 60): Promise<Row[]> {
	const file = path.join(demo.folder, 'received.flv');
	const evening = await HeavyEvening.prepare(demo, browser, { width: 1920, height: 1080, fps }, file);
	const page = await evening.open();
	const encoder = await watchEncoder(page, 1080);
	await evening.begin(page);
	await evening.tell({ type: 'take', sceneId: 'layers-1' });
	await encoder.keep(FLOOR_PICTURES);
	await page.waitForTimeout(4000);
	const browserPid = await pidOf(browser);
	const threads = threadSeconds(browserPid);
	const before = { browser: processorSeconds(browserPid), server: processorSeconds(demo.serverPid()) };
	const startedAt = performance.now();
	const received = await evening.play(page, MEASURED_S);
	const elapsedS = (performance.now() - startedAt) / 1000;
	printThreads(threads, threadSeconds(browserPid), elapsedS);
	const browserCores = (processorSeconds(browserPid) - before.browser) / elapsedS;
	const serverCores = (processorSeconds(demo.serverPid()) - before.server) / elapsedS;
	const { broadcasts } = (await (await fetch(`${demo.url}/health`)).json()) as Health;
	const kbps = evening.hub.status!.rates[0]!.plannedKbps;
	const frameMs = broadcasts[0]?.engine?.frameMs ?? NaN;
	await evening.end(page);
	const floor = await measureFloor(browser, demo, {
		...{ context: page.context(), picture: { ...sizeOf(1080), fps }, kbps },
		sources: HEAVY_SOURCES,
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
