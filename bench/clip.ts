import path from 'node:path';
import type { Browser, Page } from '@playwright/test';
import { batchOf, type Command } from '../src/core/show/command.ts';
import { CUT } from '../src/core/show/scenes/scene.ts';
import { Page as HubPage } from '../tests/support/app.ts';
import { addClip, addMedia } from '../tests/support/clips.ts';
import type { Demo } from '../tests/support/demo.ts';
import { run as execute } from '../tests/support/media.ts';
import type { decodeInTime } from './clip.page.ts';
import { processorSeconds } from './cores.ts';
import { EVENT, pidOf, withDemo } from './event.ts';
import { bundle } from './picture.ts';
import { median, row, type Row } from './table.ts';

const MEASURED_S = 15;
const ROUNDS = 3;
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * What the picture of a 1080p30 clip costs a desk that shows it, against the browser decoding the same and nothing else.
 * It has no sound: levels that move on the page are no cost of the clip.
 */
export async function benchClip(): Promise<Row[]> {
	return withDemo(run);
}

async function run(demo: Demo, browser: Browser): Promise<Row[]> {
	const file = path.join(demo.folder, 'film.mp4');
	// The demo's film, larger: it moves as a film does.
	await execute('ffmpeg', [
		...'-v error -y -i standins/venue/media/season-on-the-fell.mp4 -vf scale=1920:1080,noise=alls=6:allf=t'.split(' '),
		...`-t 60 -c:v libx264 -preset veryfast -b:v 8M -pix_fmt yuv420p -colorspace bt709 -color_primaries bt709 -color_trc bt709 -an ${file}`.split(
			' ',
		),
	]);
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	await hub.welcome();
	const tell = (command: Command) => hub.applied(hub.do(command));
	await tell({ type: 'setPicture', picture: { width: 1920, height: 1080, fps: 30 } });
	const media = await addMedia(demo, file, 'Film', 60_000);

	// Cameras and console would be most of what is measured.
	const { state } = await hub.welcome();
	const others = state.setup.sources.filter(({ kind }) => kind.startsWith('standIn') || kind === 'clip');
	await tell(batchOf(others.map(({ id: sourceId }) => ({ type: 'removeSource', sourceId }))));
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
	await page.goto(`${demo.url}/events/${EVENT}`);
	await tell({ type: 'take', sceneId: 'starting-soon', transition: { ...CUT } });
	await wait(4000);
	const pid = await pidOf(browser);
	const cores = async (during: () => Promise<unknown>) => {
		const [from, startedAt] = [processorSeconds(pid), performance.now()];
		await during();
		return (processorSeconds(pid) - from) / ((performance.now() - startedAt) / 1000);
	};
	const forAWhile = () => wait(MEASURED_S * 1000);

	const without: number[] = [];
	const resting: number[] = [];
	const playing: number[] = [];
	for (let i = 0; i < ROUNDS; i++) {
		without.push(await cores(forAWhile));
		await addClip(demo, 'film', [media]);
		await wait(4000);
		resting.push(await cores(forAWhile));
		await tell({ type: 'take', sceneId: 'film-scene', transition: { ...CUT } });
		await wait(2000);
		playing.push(await cores(forAWhile));
		await tell({ type: 'take', sceneId: 'starting-soon', transition: { ...CUT } });
		await tell({ type: 'removeSource', sourceId: 'film' });
		await wait(3000);
	}
	await page.close();
	const decoding = await alone(browser, demo, media.id, cores);
	hub.socket.close();
	return [
		row(
			'1080p30 clip decoded and placed (the browser’s own decoding of it)',
			median(playing) - median(resting),
			'cores',
			{
				yardstick: decoding,
				limit: { most: 1.3 },
			},
		),
		row('the same clip while nobody sees it', Math.max(0, median(resting) - median(without)), 'cores', {
			limit: { most: 0.05 },
		}),
	];
}

/** The browser's own decoding of a file, as fast as it is played. */
async function alone(
	browser: Browser,
	demo: Demo,
	mediaId: string,
	cores: (during: () => Promise<unknown>) => Promise<number>,
): Promise<number> {
	const page: Page = await browser.newPage({ bypassCSP: true });
	await page.goto(demo.url);
	await page.addScriptTag({ content: await bundle('bench/clip.page.ts') });
	await wait(5000);
	const idle = await cores(() => wait(5000));
	const measured: number[] = [];
	for (let i = 0; i < ROUNDS; i++)
		measured.push(
			await cores(async () => {
				const pictures = await page.evaluate(
					([url, seconds]) =>
						(globalThis as unknown as { bench: { decodeInTime: typeof decodeInTime } }).bench.decodeInTime(
							url,
							seconds,
						),
					[`/api/media/${mediaId}/file`, MEASURED_S] as const,
				);
				if (pictures < MEASURED_S * 29) throw new Error(`Only ${pictures} pictures were decoded`);
			}),
		);
	await page.close();
	return median(measured) - idle;
}
