/** Cameras of the network at a desk: FFmpeg by RTMP, a page by WHIP, and the stand-in; on air, recorded, torn and back. */
import { readdir } from 'node:fs/promises';
import { expect, test, type Page } from '@playwright/test';
import { Page as HubPage, until } from '../support/app.ts';
import { leaveOut, setPlainLook } from '../support/clips.ts';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';
import type { ffmpeg } from '../support/media.ts';
import { addCamera, cameraRow as row } from '../support/network-camera.ts';
import { ChangingCamera, sendAsCamera } from '../support/rtmp-camera.ts';
import { frames, part, sound, type Seen } from '../support/see.ts';
import { MUCH_STOLEN, watchPace, type Pace } from '../support/stolen-time.ts';
import { offerByWhip } from '../support/whip-camera.ts';

const SOON_MS = 30_000;
let demo: Demo;
let senders: ReturnType<typeof ffmpeg>[] = [];

test.beforeEach(async () => {
	demo = await startDemo();
	await setPlainLook(demo);
	// What this is about needs the machine: two decoders less.
	await leaveOut(demo, ['lectern', 'chapel-wide', 'choir-left']);
});
test.afterEach(async ({ context }) => {
	for (const each of context.browser()?.contexts() ?? []) await each.close();
	for (const sender of senders) sender.kill();
	await Promise.all(senders.map(({ ended }) => ended));
	senders = [];
	await demo.close();
});

async function openDesk(page: Page): Promise<void> {
	await showSetUp(page);
	page.on('dialog', (dialog) => void dialog.accept());
	await page.goto(`${demo.url}/events/lantern-night`);
	await expect(page.getByRole('button', { name: 'Go on air' })).toBeVisible();
}

function send(url: string, ...more: [string?, string?, string?]): ReturnType<typeof ffmpeg> {
	const sender = sendAsCamera(url, ...more);
	senders.push(sender);
	return sender;
}

/** Shows the camera in the program, and goes on air. */
async function goOnAir(page: Page): Promise<void> {
	await page.getByRole('button', { name: 'Cut', exact: true }).click();
	await page
		.getByLabel('Wall')
		.getByRole('button', { name: /Network camera/ })
		.first()
		.click();
	await page.keyboard.press('Enter');
	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await expect(page.locator('[data-light="ridge-channel"]')).toContainText(/[kM]bit\/s/);
}

async function endBroadcast(page: Page): Promise<void> {
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');
}

test('FFmpeg by RTMP: on air and in the recording with its sound, torn and back', async ({ page }) => {
	const pace = watchPace();
	await openDesk(page);
	const { address, key } = await addCamera(page, 'rtmp');
	expect(address).toBe(`rtmp://127.0.0.1:${demo.cameraPort}/camera`);
	await expect(row(page)).toContainText('lost');
	// With B-frames, 4:3, and 29.97 pictures a second.
	const picture =
		'-preset veryfast -bf 2 -vf drawbox=w=iw:h=ih:color=white:t=fill,drawbox=w=iw/2:h=ih:color=black:t=fill';
	const sender = send(`${address}/${key}`, picture, '640x480', '30000/1001');
	await expect(row(page)).toContainText('640 × 480');
	await page.getByLabel('The largest picture it could send').selectOption('1920x1080');
	await expect(page.getByText('It sends 640 × 480 and could send 1920 × 1080.')).toBeVisible();
	await page.getByRole('button', { name: 'Use its own sound' }).click();
	await page.getByRole('button', { name: 'Done' }).click();

	const hub = new HubPage(Number(new URL(demo.url).port), 'lantern-night');
	const { state } = await hub.welcome();
	const channel = state.setup.channels.find(({ name }) => name === 'Network camera')!;
	const others = state.setup.channels.filter(({ id }) => id !== channel.id);
	for (const { id } of others) await hub.applied(hub.do({ type: 'setMute', channelId: id, muted: true }));
	await hub.applied(hub.do({ type: 'setMute', channelId: channel.id, muted: false }));

	await goOnAir(page);
	await until('five seconds of it', async () => (await demo.place('ridge')).pictures > 150, 60_000);
	sender.kill();
	await expect(row(page)).toContainText('lost', { timeout: SOON_MS });
	await expect(
		page.getByText(/^Network camera has stopped sending|The connection of Network camera broke/).first(),
	).toBeVisible();
	send(`${address}/${key}`, picture, '640x480', '30000/1001');
	await expect(row(page)).toContainText('640 × 480', { timeout: SOON_MS });
	const { pictures } = await demo.place('ridge');
	await until('seconds after that', async () => (await demo.place('ridge')).pictures > pictures + 120, 60_000);
	await endBroadcast(page);
	hub.socket.close();

	for (const file of [await demo.received('ridge'), await recording()]) {
		const seen = await frames(file);
		// Black at the left and white at the right of the 4:3 picture in the middle.
		expectBack(seen, pace, (luma) => brightness(luma, 12) < 30 && brightness(luma, 40) > 220);
		const { samples } = await sound(file);
		// Since it is back. Where a machine stands still for a moment, as others on its hardware can make it, there is silence.
		expect(longestTone(samples.subarray(-5 * 48_000))).toBeGreaterThanOrEqual(pace.worst() > MUCH_STOLEN ? 0.3 : 1);
	}
});

/**
 * A camera that was torn is back in what the host got last. Where a machine had no time for them, its own card has stood in
 * for most of that: then it is there now and then.
 */
function expectBack(seen: readonly Seen[], pace: Pace, isIts: (luma: Uint8Array) => boolean): void {
	const last = seen.slice(-90);
	const its = last.filter(({ luma }) => isIts(luma)).length;
	expect(its, 'pictures of it').toBeGreaterThan((pace.worst() > MUCH_STOLEN ? 0.1 : 0.5) * last.length);
}

/** Mean luma of some pixels in the middle of a picture of 64 × 36, from a column on. */
function brightness(luma: Uint8Array, x: number): number {
	const area = part(luma, { x, y: 12, width: 12, height: 12 });
	return area.reduce((sum, each) => sum + each, 0) / area.length;
}

/** For how long at most a tone of 440 Hz is heard without a gap, seconds: it goes through zero 88 times in each tenth. */
function longestTone(samples: Float32Array): number {
	const tenths = Array.from({ length: Math.floor(samples.length / 4800) }, (_, i) => {
		const tenth = samples.subarray(4800 * i, 4800 * (i + 1));
		const count = tenth.reduce((sum, each, at) => sum + Number(at > 0 && tenth[at - 1]! < 0 !== each < 0), 0);
		return count >= 86 && count <= 90 ? 'x' : ' ';
	});
	return (
		Math.max(
			...tenths
				.join('')
				.split(' ')
				.map(({ length }) => length),
		) / 10
	);
}

/** The recording of the last broadcast, as a file. */
async function recording(): Promise<string> {
	const files = (await readdir(`${demo.folder}/recordings`, { recursive: true })).filter((file) =>
		file.endsWith('.mp4'),
	);
	expect(files).toHaveLength(1);
	return `${demo.folder}/recordings/${files[0]}`;
}

test('a page of another origin by WHIP: on air, ended, torn and back', async ({ page, browser }) => {
	const pace = watchPace();
	await openDesk(page);
	const told = await addCamera(page, 'whip');
	expect(told.address).toBe(`${demo.url}/whip`);
	await page.getByRole('button', { name: 'Done' }).click();
	const context = await browser.newContext();
	const client = async () => {
		const made = await context.newPage();
		await made.goto(demo.hostUrl);
		await offerByWhip(made, told.address, told.key, '#00c000');
		return made;
	};
	const first = await client();
	await expect(row(page)).toContainText(/\d+ × \d+/);
	expect(await first.evaluate('window.sent.end()')).toBe(200);
	await expect(row(page)).toContainText('lost');
	await first.close();
	const second = await client();
	await expect(row(page)).toContainText(/\d+ × \d+/);
	await goOnAir(page);
	await until('three seconds of it', async () => (await demo.place('ridge')).pictures > 100, 60_000);
	await second.close();
	await expect(row(page)).toContainText('lost', { timeout: SOON_MS });
	await client();
	await expect(row(page)).toContainText(/\d+ × \d+/, { timeout: SOON_MS });
	const { pictures } = await demo.place('ridge');
	await until('seconds after that', async () => (await demo.place('ridge')).pictures > pictures + 120, 60_000);
	await endBroadcast(page);
	const seen = await frames(await demo.received('ridge'));
	// Green is 133 by BT.709, 112 by BT.601, whichever its encoder takes.
	expectBack(seen, pace, (luma) => brightness(luma, 24) > 100 && brightness(luma, 24) < 145);
});

test('a camera that changes the size of its picture in mid-stream goes on in the other one', async ({ page }) => {
	await openDesk(page);
	const { key } = await addCamera(page, 'rtmp');
	const films = ['tower-door', 'lectern'].map((name) => `standins/venue/media/${name}.mp4`);
	const camera = await ChangingCamera.send(demo.cameraPort, key, films, 4);
	await expect(row(page)).toContainText('640 × 480');
	await expect(row(page)).toContainText('1280 × 720');
	await expect(row(page)).toContainText('640 × 480');
	camera.close();
	await expect(row(page)).toContainText('lost');
});

test('the stand-in Tower door sends where it is told to, and its key is made anew', async ({ page }) => {
	await openDesk(page);
	const { key } = await addCamera(page, 'rtmp');
	await page.getByRole('button', { name: 'Let the stand-in send' }).click();
	await expect(row(page)).toContainText('640 × 480');
	await page.getByRole('button', { name: 'Another key…' }).click();
	await page.getByRole('button', { name: 'Make another key' }).click();
	await expect(page.getByLabel('Stream key', { exact: true })).not.toHaveValue(key);
	// It still has the old one.
	await expect(row(page)).toContainText('lost');
	await page.getByRole('button', { name: 'Stop the stand-in' }).click();
	await page.getByRole('button', { name: 'Let the stand-in send' }).click();
	await expect(row(page)).toContainText('640 × 480');
});
