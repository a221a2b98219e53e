import path from 'node:path';
import type { Browser } from '@playwright/test';
import { batchOf, type Command } from '../src/core/show/command.ts';
import { CUT } from '../src/core/show/scenes/scene.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import { addClip, addMedia } from '../tests/support/clips.ts';
import type { Demo } from '../tests/support/demo.ts';
import { run as execute } from '../tests/support/media.ts';
import { frames } from '../tests/support/see.ts';
import { EVENT, prepare, shareOfDue, withDemo } from './event.ts';
import { lipSync } from './lip-sync.ts';
import { Receiver } from './receiver.ts';
import { row, type Row } from './table.ts';

const MINUTES = Number(process.env.BIVVO_DRIFT_MINUTES ?? 60);
/** One frame. */
const MOST_MS = 1000 / 30;

/** A clip that flashes and clicks at once, played for an hour: how far its sound and picture are apart at the host. */
export async function benchDrift(): Promise<Row[]> {
	return withDemo(run);
}

/**
 * Every five seconds, the first time after two and a half, a flash of three frames and a click; its sound has another
 * rate than the mix. None is at the beginning, where a clip stands on its first frame while its sound gets under way.
 */
async function makeFlashes(file: string, seconds: number): Promise<void> {
	await execute('ffmpeg', [
		...`-v error -y -f lavfi -i color=black:s=320x180:r=30:d=${seconds}`.split(' '),
		...['-f', 'lavfi', '-i', `aevalsrc='0.8*sin(2*PI*1000*t)*lt(mod(t+2.5,5),0.03)':s=44100:d=${seconds}`],
		...['-vf', `drawbox=color=white:t=fill:enable='lt(mod(n+75,150),3)'`],
		...'-c:v libx264 -preset veryfast -g 150 -pix_fmt yuv420p -c:a flac -strict -2'.split(' '),
		file,
	]);
}

async function run(demo: Demo, browser: Browser): Promise<Row[]> {
	const [file, received] = ['flashes.mp4', 'received.flv'].map((name) => path.join(demo.folder, name)) as [
		string,
		string,
	];
	await makeFlashes(file, MINUTES * 60);
	const receiver = new Receiver(received);
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	const { state } = await hub.welcome();
	const tell = (command: Command) => hub.applied(hub.do(command));
	await prepare(demo, tell, 720, await receiver.listen());
	// Nothing else is to be heard, and cameras only cost.
	const others = state.setup.sources.filter(({ kind }) => kind.startsWith('standIn') || kind === 'clip');
	await tell(batchOf([...others.map(({ id }) => id), 'flash'].map((sourceId) => ({ type: 'removeSource', sourceId }))));
	await addClip(demo, 'flashes', [await addMedia(demo, file, 'Flashes', MINUTES * 60_000)]);
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
	await page.goto(`${demo.url}/events/${EVENT}`);
	await tell({ type: 'take', sceneId: 'starting-soon', transition: { ...CUT } });
	await page.waitForTimeout(4000);
	await tell({ type: 'startBroadcast', broadcastId: 'drift' });
	await until('pictures', () => receiver.pictures.length > 60);
	await tell({ type: 'take', sceneId: 'flashes-scene', transition: { ...CUT } });
	await page.waitForTimeout(MINUTES * 60_000 - 2000);
	await tell({ type: 'endBroadcast' });
	await page.waitForTimeout(2500);
	await receiver.close();
	hub.socket.close();
	const measured = await lipSync(received, await frames(received));
	for (const { time, ms, isWhole } of measured.pairs)
		if (Math.abs(ms) > MOST_MS)
			console.log(`At ${time.toFixed(2)} s: ${ms.toFixed(1)} ms${isWhole ? '' : ', frames were left out there'}`);
	const limit = { most: MOST_MS };
	return [
		row(`a clip of ${MINUTES} minutes: sound apart from picture, first 20 s`, Math.abs(measured.first), 'ms', {
			limit,
		}),
		row('the same: after that', Math.abs(measured.last), 'ms', { limit }),
		row(
			`the same: worst of ${measured.countWhole} flashes around which every frame was received`,
			measured.worstWhole,
			'ms',
			{ limit },
		),
		row(`the same: worst of all ${measured.count}`, measured.worst, 'ms'),
		row('frames received of frames due', shareOfDue(receiver.pictures, 30), '%'),
	];
}
