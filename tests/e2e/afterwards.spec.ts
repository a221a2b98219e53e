/** From a recording to what people pass on: a clip, a picture, the talk as sound; as files that others read. */
import { readFile } from 'node:fs/promises';
import { expect, test, type Download, type Page } from '@playwright/test';
import { Page as HubPage, until } from '../support/app.ts';
import { leaveOut } from '../support/clips.ts';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';
import { decodeAll, run } from '../support/media.ts';

let demo: Demo;
test.beforeAll(async () => {
	demo = await startDemo();
	await leaveOut(demo, ['choir-left']);
});
test.afterAll(() => demo.close());
test.afterEach(async ({ context }) => {
	for (const each of context.browser()?.contexts() ?? []) await each.close();
});

interface Probed {
	streams: { codec_name: string; width?: number; height?: number; disposition?: { attached_pic: number } }[];
	format: { duration: string; tags?: Record<string, string> };
}
async function probed(download: Download): Promise<Probed & { path: string }> {
	const path = await download.path();
	const { stdout } = await run('ffprobe', ['-v', 'error', '-show_streams', '-show_format', '-of', 'json', path]);
	return { ...(JSON.parse(stdout) as Probed), path };
}
const videoOf = ({ streams }: Probed) => streams.find(({ codec_name: codec }) => codec === 'h264');

/** Integrated loudness as FFmpeg hears it, LUFS. */
async function loudness(file: string): Promise<number> {
	const { stderr } = await run('ffmpeg', ['-hide_banner', '-i', file, '-vn', '-af', 'ebur128', '-f', 'null', '-']);
	return Number(/I:\s+(-?[\d.]+) LUFS\s+Threshold/.exec(stderr.slice(stderr.lastIndexOf('Summary')))![1]);
}

/** Records a short evening with a take and words, and opens its recording. */
async function record(page: Page): Promise<void> {
	await showSetUp(page);
	page.on('dialog', (each) => void each.accept());
	await page.goto(`${demo.url}/events/lantern-night`);
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await until('pictures', async () => (await demo.place('ridge')).pictures > 120);
	const hub = new HubPage(Number(new URL(demo.url).port), 'lantern-night');
	await hub.welcome();
	const layer = { id: 'left', sourceId: 'chapel-wide', box: { x: 0, y: 0, width: 0.4, height: 1 } };
	const scene = { id: 'at-left', name: 'At the left', layers: [layer] };
	await hub.applied(hub.do({ type: 'addScene', scene: scene as never }));
	await hub.applied(hub.do({ type: 'take', sceneId: 'at-left' }));
	hub.socket.close();
	const { pictures } = await demo.place('ridge');
	await until('more pictures', async () => (await demo.place('ridge')).pictures > pictures + 150);
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await expect(page.getByText('Off air').first()).toBeVisible();
	await page.goto(`${demo.url}/events/lantern-night/recordings`);
	await expect(page.locator('[data-overview="read"]')).toBeVisible();
}

const seek = (page: Page, seconds: number) =>
	page.locator('video').evaluate((video: HTMLVideoElement, to) => void (video.currentTime = to), seconds);

async function downloaded(page: Page, press: () => Promise<void>): Promise<Download> {
	const download = page.waitForEvent('download');
	await press();
	return download;
}

test('a clip, a picture and the talk of a recording', async ({ page }) => {
	await record(page);
	await seek(page, 1);
	await page.getByRole('button', { name: 'Excerpt from here' }).click();
	await seek(page, 6);
	await page.getByRole('button', { name: 'to here', exact: true }).click();

	await page.getByRole('button', { name: 'A clip for phones' }).click();
	// It looks where what was on air stood: at the left from the take on.
	await page.getByRole('button', { name: 'Follow what was on air' }).click();
	await expect(page.getByRole('list', { name: 'Points' }).getByRole('listitem')).toHaveCount(2);
	await page.getByLabel('Text upon it').selectOption('own');
	await page.getByLabel('Text', { exact: true }).fill('Lantern Night');
	const clip = await probed(await downloaded(page, () => page.getByRole('button', { name: 'Make the clip' }).click()));
	expect(videoOf(clip)).toMatchObject({ width: 720, height: 1280 });
	expect(Number(clip.format.duration)).toBeCloseTo(5, 0);
	expect(await decodeAll(clip.path)).toBe('');
	expect(await loudness(clip.path)).toBeCloseTo(-14, 0);
	await expect(page.getByText('The clip is in your downloads.')).toBeVisible();

	// By hand as well; what was moved is taken back.
	await page.getByLabel('Shape').selectOption('square');
	await page.getByLabel('Where it looks: left or right').fill('0.9');
	await page.getByRole('button', { name: 'Undo', exact: true }).click();
	await page.getByLabel('Sound as loud as phones want it').uncheck();
	const square = await probed(
		await downloaded(page, () => page.getByRole('button', { name: 'Make the clip' }).click()),
	);
	expect(videoOf(square)).toMatchObject({ width: 720, height: 720 });

	const still = await downloaded(page, () =>
		page.getByRole('button', { name: 'Save this moment as a picture' }).click(),
	);
	const bytes = await readFile(await still.path());
	expect([bytes.subarray(1, 4).toString(), bytes.readUInt32BE(16), bytes.readUInt32BE(20)]).toEqual(['PNG', 1280, 720]);

	await page.getByRole('button', { name: 'The talk as sound' }).click();
	await page.getByLabel('Title', { exact: true }).fill('A winter at Cold Tarn');
	await page.getByLabel('Who speaks').fill('Maren Oakshaw');
	for (const [format, codec] of [
		['m4a', 'aac'],
		['mp3', 'mp3'],
	] as const) {
		await page.getByLabel('Format').selectOption(format);
		const talk = await probed(
			await downloaded(page, () => page.getByRole('button', { name: 'Make the sound' }).click()),
		);
		expect(talk.streams.map(({ codec_name: each }) => each).toSorted()).toEqual([codec, 'mjpeg'].toSorted());
		expect(talk.format.tags).toMatchObject({
			title: 'A winter at Cold Tarn',
			artist: 'Maren Oakshaw',
			album: 'Lantern Night',
		});
		expect(Number(talk.format.duration)).toBeCloseTo(5, 0);
	}
});

test('a clip that is being made is cancelled, and nothing of it is left', async ({ page }) => {
	await page.goto(`${demo.url}/events/lantern-night/recordings`);
	await expect(page.locator('[data-overview="read"]')).toBeVisible();
	await page.getByRole('button', { name: 'A clip for phones' }).click();
	await expect(page.getByRole('button', { name: 'Make the clip' })).toBeDisabled();
	await page.getByRole('button', { name: 'Excerpt from here' }).click();
	await seek(page, 8);
	await page.getByRole('button', { name: 'to here', exact: true }).click();
	await page.getByRole('button', { name: 'Make the clip' }).click();
	await page.getByRole('button', { name: 'Cancel' }).click();
	await expect(page.getByText('Making the clip…')).toHaveCount(0);
	await expect(page.getByRole('button', { name: 'Make the clip' })).toBeEnabled();
	await expect(page.getByText('The clip is in your downloads.')).toHaveCount(0);
});
