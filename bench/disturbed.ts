import { spawn } from 'node:child_process';
import path from 'node:path';
import type { Browser } from '@playwright/test';
import type { Demo } from '../tests/support/demo.ts';
import { shareOfDue, withDemo } from './event.ts';
import { HeavyEvening } from './heavy.ts';
import type { Receiver } from './receiver.ts';
import { row, type Row } from './table.ts';

const FPS = 30;
const ROUNDS = 3;
/** Calm, and then disturbed, in each round. */
const CALM_S = 55;
const DISTURBED_S = 5;
/** Takes half of a core: ten milliseconds of each twenty. */
const BUSY = `setInterval(() => { const until = performance.now() + 10; while (performance.now() < until); }, 20)`;

/** The heavy picture at 720p30 while another process takes half a core for five seconds of each minute. */
export async function benchDisturbed(): Promise<Row[]> {
	return withDemo(run);
}

async function run(demo: Demo, browser: Browser): Promise<Row[]> {
	const picture = { width: 1280, height: 720, fps: FPS } as const;
	const evening = await HeavyEvening.prepare(demo, browser, picture, path.join(demo.folder, 'received.flv'));
	const page = await evening.open();
	await evening.begin(page);
	await page.waitForTimeout(5000);
	const received: Receiver['pictures'] = [];
	const recoveries: number[] = [];
	for (let round = 0; round < ROUNDS; round++) {
		const other = spawn(process.execPath, ['-e', BUSY], { stdio: 'ignore' });
		received.push(...(await evening.play(page, DISTURBED_S)));
		other.kill();
		const after = await evening.play(page, CALM_S);
		received.push(...after);
		recoveries.push(secondsToFull(after));
	}
	await evening.end(page);
	return [
		row('720p30, heavy and disturbed: frames received of frames due', shareOfDue(received, FPS), '%', {
			limit: { least: 99 },
		}),
		row(
			`after the disturbance, seconds until all frames come again, worst of ${ROUNDS}`,
			Math.max(...recoveries),
			's',
			{
				limit: { most: 5 },
			},
		),
	];
}

/** Seconds from the first picture until ten seconds begin in which none is missing; by time stamps. */
function secondsToFull(pictures: Receiver['pictures']): number {
	const start = pictures[0]!.timestampMs;
	const gaps = pictures.flatMap(({ timestampMs }, i) =>
		i > 0 && timestampMs - pictures[i - 1]!.timestampMs > 1500 / FPS ? [(timestampMs - start) / 1000] : [],
	);
	let full = 0;
	for (const at of gaps) if (at - full < 10) full = at;
	return full;
}
