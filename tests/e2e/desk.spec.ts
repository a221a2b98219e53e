import { readdir } from 'node:fs/promises';
import path from 'node:path';
import { chromium, expect, test, type Page } from '@playwright/test';
import { CHROMIUM } from '../../playwright.config.ts';
import { accessible } from '../support/accessible.ts';
import { Page as HubPage, until } from '../support/app.ts';
import { setPlainLook } from '../support/clips.ts';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';
import { decodeAll, probePackets } from '../support/media.ts';
import { difference, frames, lumaOn, sound } from '../support/see.ts';
import { MUCH_STOLEN, watchPace } from '../support/stolen-time.ts';

let demo: Demo;
test.beforeAll(async () => {
	demo = await startDemo();
});
test.afterAll(() => demo.close());

async function openDesk(page: Page, event = 'lantern-night'): Promise<void> {
	await showSetUp(page);
	page.on('dialog', (dialog) => void dialog.accept());
	await page.goto(`${demo.url}/events/${event}`);
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
}
async function goOnAir(page: Page): Promise<void> {
	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
}
async function endBroadcast(page: Page): Promise<void> {
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await expect(page.getByText('Off air')).toBeVisible();
}
const pictures = (app: string, more: number) => async () => {
	const { pictures: count } = await demo.place(app);
	return until(`${more} more pictures`, async () => (await demo.place(app)).pictures >= count + more);
};
const light = (page: Page) => page.locator('[data-light="ridge-channel"]');

test('camera 2 is put in Next and taken, and viewers get camera 2 while the sound goes on', async ({ page }) => {
	const pace = watchPace();
	await openDesk(page);
	await page.getByRole('button', { name: 'Cut' }).click();
	await page.keyboard.press('Shift+Digit1');
	await goOnAir(page);
	await expect(light(page)).toContainText(/[kM]bit\/s/);
	await pictures('ridge', 90)();
	await page.keyboard.press('Digit2');
	await expect(page.getByLabel('Next', { exact: true })).toContainText('Chapel wide');
	await page.keyboard.press('Enter');
	await expect(page.getByLabel('On air', { exact: true })).toContainText('Chapel wide');
	await page.keyboard.press('KeyM');
	await pictures('ridge', 90)();
	await endBroadcast(page);
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');

	const file = await demo.received('ridge');
	expect(await decodeAll(file)).toBe('');
	// What the cameras show, decoded by FFmpeg from their own files.
	const [lectern, wide] = await Promise.all(
		['lectern', 'chapel-wide'].map(async (name) => (await frames(`standins/venue/media/${name}.mp4`))[60]!.luma),
	);
	const seen = (await frames(file)).map(({ luma }) =>
		difference(luma, lectern!) < difference(luma, wide!) ? 'lectern' : 'wide',
	);
	expect(seen[0]).toBe('lectern');
	expect(seen.at(-1)).toBe('wide');
	expect(seen.filter((each, i) => i > 0 && each !== seen[i - 1])).toEqual(['wide']);

	const packets = await probePackets(file);
	const isStarved = pace.worst() > MUCH_STOLEN;
	for (const kind of ['video', 'audio'] as const) {
		const times = packets.filter((packet) => packet.kind === kind).map(({ time }) => time);
		const steps = times.slice(1).map((time, i) => time - times[i]!);
		expect(Math.min(...steps), `${kind} steps back`).toBeGreaterThanOrEqual(0);
		// RTMP counts whole milliseconds: an AAC frame is 21.33 ms.
		if (kind === 'audio') expect(Math.max(...steps), 'gap in the sound').toBeLessThan(isStarved ? 0.5 : 0.0235);
	}
	// Every two seconds a key frame; where pictures were left out on a busy machine, the first one after that.
	const video = packets.filter(({ kind }) => kind === 'video');
	let lastKey = video[0]!.time;
	for (const [i, { time, key }] of video.entries()) {
		if (!key) continue;
		expect((video[i - 1]?.time ?? time) - lastKey, `key frame at ${time} s is late`).toBeLessThan(1.999);
		lastKey = time;
	}
	expect(video[0]!.key).toBe(true);
	expect(video.at(-1)!.time - lastKey).toBeLessThan(2.001);

	// The console's sound has air in it all the time: a run of true silence would be a hole.
	const { samples } = await sound(file);
	let silence = 0;
	let longest = 0;
	for (const sample of samples.subarray(4800, -4800))
		longest = Math.max(longest, (silence = Math.abs(sample) < 1e-7 ? silence + 1 : 0));
	expect(longest).toBeLessThan(240);

	const folder = path.join(demo.folder, 'recordings', 'lantern-night');
	const recording = (await readdir(folder)).find((name) => name.endsWith('.mp4'));
	expect(await decodeAll(path.join(folder, recording!))).toBe('');

	// What was recorded is found, played, cut, deleted and brought back by those who come after.
	await page.goto(`${demo.url}/events/lantern-night/recordings`);
	const moments = page.getByRole('region', { name: 'Run sheet, takes and markers' });
	await expect(moments.getByRole('listitem')).toContainText(['Lectern', 'Chapel wide', 'Marker at Chapel wide']);
	await moments.getByRole('button', { name: 'Marker at Chapel wide' }).click();
	await until('the place', () => page.locator('video').evaluate((video: HTMLVideoElement) => video.currentTime > 1));
	await page.getByRole('button', { name: 'Excerpt from here' }).click();
	await page.getByRole('button', { name: 'Cut the excerpt' }).click();
	const all = page.getByRole('region', { name: 'All recordings' }).getByRole('listitem');
	await expect(all).toHaveCount(2);
	await accessible(page);
	await all.filter({ hasText: 'Excerpt' }).getByRole('button', { name: 'Delete' }).click();
	await expect(all).toHaveCount(1);
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(all).toHaveCount(2);
});

test('a reload of the desk, and a server that was killed, come back to the same state and go on sending', async ({
	page,
	context,
}) => {
	await openDesk(page);
	await page.keyboard.press('Shift+Digit3');
	await page.keyboard.press('KeyD');
	await goOnAir(page);
	const mix = await context.newPage();
	await mix.goto(`${demo.url}/events/lantern-night/mix`);
	// Told to the server every five seconds.
	await pictures('ridge', 180)();
	await page.keyboard.press('KeyH');
	await pictures('ridge', 180)();
	const soFar = async () =>
		Number(
			await mix
				.getByText('Since the start')
				.locator('+ dd')
				.innerText()
				.then((text) => text.split(' ')[0]),
		);
	const before = await soFar();
	expect(before).toBeLessThan(-5);
	await page.reload();
	// Nothing is heard since then, so that what is told was heard before.
	await until('how loud it was', async () => Math.abs((await soFar()) - before) < 0.5);
	await page.keyboard.press('KeyH');
	await mix.close();
	const onAir = page.getByLabel('On air', { exact: true });
	await expect(onAir).toContainText('Choir left');
	await expect(page.getByRole('status').filter({ hasText: 'ON AIR' })).toBeVisible();
	await expect(page.getByLabel('Direct')).toBeChecked();
	await pictures('ridge', 60)();

	await demo.crashServer();
	await expect(onAir).toContainText('Choir left');
	await expect(light(page)).toContainText(/[kM]bit\/s/);
	await pictures('ridge', 60)();
	// Direct: choosing a scene takes it at once.
	await page.keyboard.press('Digit1');
	await expect(onAir).toContainText('Lectern');
	await page.keyboard.press('KeyD');
	await endBroadcast(page);
});

test('a tab that is closed on air is stood in for by the holding card until it is back, and no viewer is thrown out', async ({
	page,
	context,
}) => {
	await setPlainLook(demo);
	await openDesk(page);
	await goOnAir(page);
	await expect(light(page)).toContainText(/[kM]bit\/s/);
	// The loop of the card takes a few seconds to be made.
	await pictures('ridge', 150)();
	const file = await demo.received('ridge');
	const watching = await context.newPage();
	await watching.goto(`${demo.url}/events/lantern-night/mix`);
	await page.close({ runBeforeUnload: false });
	await expect(watching.locator('[data-trouble="holding"]')).toContainText('Viewers see the card “Back shortly”');
	await pictures('ridge', 60)();

	const back = await context.newPage();
	back.on('dialog', (dialog) => void dialog.accept());
	await back.goto(`${demo.url}/events/lantern-night`);
	await expect(back.getByRole('status').getByText('ON AIR')).toBeVisible();
	await expect(back.locator('[data-source="lectern"]')).toContainText('1280 × 720');
	// Whoever watched has seen the card come: there it is no longer said only once the desk's own pictures go out.
	await expect(watching.locator('[data-trouble="holding"]')).toHaveCount(0);
	await expect(back.locator('[data-trouble="holding"]')).toHaveCount(0);
	await pictures('ridge', 90)();
	await endBroadcast(back);
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');
	// One connection from beginning to end.
	expect(await demo.received('ridge')).toBe(file);
	expect((await demo.place('ridge')).backSteps).toBe(0);
	expect(await decodeAll(file)).toBe('');
	const times = (await probePackets(file)).filter(({ kind }) => kind === 'video').map(({ time }) => time);
	const brightness = (await frames(file)).map(({ luma }) => luma.reduce((sum, value) => sum + value, 0) / luma.length);
	// The card is dark, but not as black as a desk that has just been opened; the lectern is bright.
	const card = brightness.map((value) => value > 8 && value < 32);
	expect(card[0]).toBe(false);
	expect(card.filter(Boolean).length).toBeGreaterThan(30);
	// No gap where the card comes, in it, and where it goes.
	expect(times).toHaveLength(card.length);
	const steps = times.map((time, i) => (card[i] || card[i - 1] ? time - times[i - 1]! : 0));
	expect(Math.max(...steps)).toBeLessThan(0.25);
	// Nor is there black before the cameras are open again.
	expect(Math.min(...brightness)).toBeGreaterThan(8);
	expect(brightness.at(-1)).toBeGreaterThan(32);
});

test('two hosts with different caps get each what it takes', async ({ page }) => {
	await openDesk(page);
	await page.keyboard.press('Shift+Digit1');
	await page.getByRole('checkbox', { name: 'Send to Valley Relay' }).check();
	await page.getByRole('button', { name: 'Go on air' }).click();
	const dialog = page.getByRole('dialog');
	await dialog.getByText(/How it is sent: 720 lines at 30.s, 2.5 Mbit.s, 540 lines at 30.s/).click();
	await expect(dialog.getByText('it accepts 720 lines and 1.0 Mbit/s at most')).toBeVisible();
	await dialog.getByRole('button', { name: 'Go on air' }).click();
	await pictures('ridge', 120)();
	await pictures('valley', 60)();
	const [ridge, valley] = [await demo.place('ridge'), await demo.place('valley')];
	expect([ridge.width, ridge.height, valley.width, valley.height]).toEqual([1280, 720, 960, 540]);
	// A cut arrives at both.
	await page.keyboard.press('Shift+Digit2');
	await pictures('ridge', 90)();
	await endBroadcast(page);
	await until('the end', async () => (await demo.place('valley')).state === 'ended');
	const lectern = (await frames('standins/venue/media/lectern.mp4'))[60]!.luma;
	const wide = (await frames('standins/venue/media/chapel-wide.mp4'))[60]!.luma;
	for (const app of ['ridge', 'valley']) {
		const file = await demo.received(app);
		expect(await decodeAll(file)).toBe('');
		const seen = (await frames(file)).map(({ luma }) => difference(luma, lectern) < difference(luma, wide));
		expect([seen[0], seen.at(-1)], app).toEqual([true, false]);
	}
	await page.getByRole('checkbox', { name: 'Send to Valley Relay' }).uncheck();
	await page.keyboard.press('Shift+Digit1');
});

test('a host that dies in mid-stream is named, with what happens next, and comes back by itself', async ({ page }) => {
	await page.addInitScript(() => {
		const { start } = OscillatorNode.prototype;
		OscillatorNode.prototype.start = function (...when) {
			const { dataset } = document.documentElement;
			// The stand-in console's hum is no alarm.
			if (this.frequency.value > 200) dataset.tones = String(Number(dataset.tones ?? 0) + 1);
			start.apply(this, when);
		};
	});
	const tones = () => page.evaluate(() => Number(document.documentElement.dataset.tones ?? 0));
	await openDesk(page);
	await goOnAir(page);
	await pictures('ridge', 60)();
	await expect(page).toHaveTitle('Lantern Night · Desk');
	expect(await tones()).toBe(0);
	await demo.killHost();
	const trouble = page.locator('[data-trouble="destination ridge-channel"]');
	await expect(trouble).toContainText('Ridge Channel is lost');
	await expect(trouble).toContainText('tried again by itself');
	await expect(page).toHaveTitle(/▲ Ridge Channel is lost/);
	expect(await tones()).toBe(2);
	await demo.startHost();
	await expect(light(page)).toContainText(/[kM]bit\/s/);
	await expect(trouble).toHaveCount(0);
	await expect(page).toHaveTitle('Lantern Night · Desk');
	await pictures('ridge', 30)();
	await endBroadcast(page);
});

test('a camera’s own sound becomes a channel, a key is changed and kept, and a program left black is named', async ({
	page,
}) => {
	await openDesk(page);
	await page.locator('[data-source="lectern"]').getByRole('button', { name: 'Lectern', exact: true }).click();
	const use = page.getByRole('button', { name: 'Use its own sound' });
	await use.click();
	await expect(page.getByText('The sound of Lectern is a channel of the mix now, muted.')).toBeVisible();
	await expect(use).toBeHidden();
	await page.getByRole('button', { name: 'Done' }).click();
	const channel = page.getByRole('button', { name: 'Set up Lectern', exact: true });
	await expect(channel).toBeVisible();
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(channel).toBeHidden();

	await page.keyboard.press('Shift+?');
	await page.getByRole('button', { name: 'Change the key for: Hush' }).click();
	await page.keyboard.press('KeyB');
	await expect(page.getByRole('dialog').getByRole('status')).toContainText(
		'B was the key for “Black over everything, and back”',
	);
	const usual = page.getByRole('button', { name: 'Back to the usual keys' });
	await expect(usual).toBeInViewport();
	await usual.click();
	await expect(page.getByRole('dialog').getByRole('status')).toHaveText('The keys are kept on this machine.');
	await page.getByRole('button', { name: 'Change the key for: Black' }).click();
	await page.keyboard.press('KeyX');
	await expect(page.getByRole('dialog').getByRole('row', { name: 'Black over everything' })).toContainText('X');
	await page.reload();
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
	await page.keyboard.press('KeyB');
	await page.keyboard.press('KeyX');
	await expect(page.getByRole('button', { name: 'End black' })).toBeVisible();

	await goOnAir(page);
	const trouble = page.locator('[data-trouble="black"]');
	await expect(trouble).toContainText('Black is on, so viewers see nothing', { timeout: 30_000 });
	await page.keyboard.press('KeyX');
	await expect(trouble).toBeHidden();
	await endBroadcast(page);
});

test('a wrong key is refused in the host’s words; the right one, pasted with blanks, is live without a restart', async ({
	page,
}) => {
	await openDesk(page);
	const form = page.getByRole('dialog');
	const fillKey = async (key: string) => {
		await page.getByRole('button', { name: 'Change Ridge Channel' }).click();
		await form.getByLabel('Key', { exact: true }).fill(key);
		await form.getByRole('button', { name: 'Save' }).click();
		await expect(form).toBeHidden();
	};
	await fillKey('last-weeks-key');
	const entry = page.getByRole('listitem').filter({ has: page.getByLabel('Send to Ridge Channel') });
	await page.getByRole('button', { name: 'Test without going on air' }).click();
	await expect(entry).toContainText('▲ Ridge Channel does not know this key.');
	await goOnAir(page);
	const trouble = page.locator('[data-trouble="destination ridge-channel"]');
	await expect(trouble).toContainText('Ridge Channel refuses the stream: Ridge Channel does not know this key.');
	await fillKey('  ridge-lantern-1845 ');
	await expect(light(page)).toContainText(/[kM]bit\/s/);
	await expect(trouble).toHaveCount(0);

	// The end can be left to itself, with a last scene; and taken back.
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await form.getByLabel('In so many minutes').fill('20');
	await form.getByRole('button', { name: 'Plan the end' }).click();
	await expect(page.getByRole('timer', { name: 'Ends by itself' })).toContainText('ends in 19:');
	await page.getByRole('timer').getByRole('button', { name: 'Stay on air' }).click();
	await expect(page.getByRole('timer', { name: 'Ends by itself' })).toBeHidden();
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await form.getByLabel('What viewers see last').selectOption('Thank you');
	await form.getByLabel('For so many seconds').fill('3');
	await form.getByRole('button', { name: 'Show and end' }).click();
	await expect(page.getByLabel('On air', { exact: true })).toContainText('Thank you');
	await expect(page.getByText('Off air')).toBeVisible();
	await page.getByRole('button', { name: 'Test without going on air' }).click();
	await expect(entry).toContainText('it accepts the stream');
});

test('a destination is made by pasting what the host shows; its key stays hidden until somebody asks', async ({
	page,
}) => {
	await openDesk(page);
	await page.getByRole('button', { name: 'Add a destination' }).click();
	await page.getByRole('button', { name: 'Enter address and key' }).click();
	const form = page.getByRole('dialog').filter({ hasText: 'Paste address and key together' });
	await form.getByLabel('Name', { exact: true }).fill('Second page');
	await form.getByLabel('Server address').fill('members');
	await expect(form).toContainText('must begin with rtmp://');
	await form
		.getByLabel('Paste address and key together')
		.fill(`Server: rtmp://127.0.0.1:${demo.rtmpPort}/members\nStream key: members-lantern-1845 \n`);
	await expect(form.getByLabel('Server address')).toHaveValue(`rtmp://127.0.0.1:${demo.rtmpPort}/members`);
	const key = form.getByLabel('Key', { exact: true });
	await expect(key).toHaveAttribute('type', 'password');
	await form.getByRole('button', { name: 'Save' }).click();
	await expect(form).toBeHidden();

	await page.reload();
	await page.getByRole('button', { name: 'Change Second page' }).click();
	await expect(key).toHaveValue('');
	expect(await page.content()).not.toContain('members-lantern-1845');
	await form.getByRole('button', { name: 'Show', exact: true }).click();
	await expect(key).toHaveValue('members-lantern-1845');
	await form.getByRole('button', { name: 'Remove' }).click();
	await page.getByRole('button', { name: 'Undo' }).click();
	await page.getByRole('button', { name: 'Change Second page' }).click();
	// Two that go to one place would throw each other out.
	await form.getByRole('button', { name: 'Remove' }).click();
	await expect(page.getByRole('button', { name: 'Change Second page' })).toBeHidden();
});

test('a host that waits to be told shows the stream once somebody has made it public', async ({ page }) => {
	await openDesk(page);
	await page.getByRole('checkbox', { name: 'Send to Ridge Channel' }).uncheck();
	await page.getByRole('checkbox', { name: 'Send to Members’ Page' }).check();
	await goOnAir(page);
	const trouble = page.locator('[data-trouble="destination members-page"]');
	await expect(trouble).toContainText('Members’ Page gets the stream, but shows it to nobody yet.');
	expect((await demo.place('members')).public).toBe(false);
	await trouble.getByRole('button', { name: 'Make it public' }).click();
	await expect(trouble).toBeHidden();
	const entry = page.getByRole('listitem').filter({ has: page.getByLabel('Send to Members’ Page') });
	await expect(entry).toContainText('0 watching');
	expect((await demo.place('members')).public).toBe(true);
	await endBroadcast(page);
	await page.getByRole('checkbox', { name: 'Send to Members’ Page' }).uncheck();

	// With nothing ticked it is only recorded, and nothing says that viewers see it.
	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Only record' }).click();
	await expect(page.getByText('ONLY RECORDED')).toBeVisible();
	await expect(page.getByText('● Recording')).toBeVisible();
	await expect(page.getByLabel('On air', { exact: true })).toContainText('PROGRAM, not sent');
	await page.getByRole('button', { name: 'End the recording' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the recording' }).click();
	await expect(page.getByText('Off air')).toBeVisible();
	await page.getByRole('checkbox', { name: 'Send to Ridge Channel' }).check();
});

/** Lets a page pretend, with what the browser tells in such a case, that a camera is pulled out and put back. */
function pretendToUnplug(label: string): void {
	const { mediaDevices } = navigator;
	if (!mediaDevices) return;
	const open = mediaDevices.getUserMedia.bind(mediaDevices);
	const list = mediaDevices.enumerateDevices.bind(mediaDevices);
	const tracks: MediaStreamTrack[] = [];
	let gone = false;
	mediaDevices.getUserMedia = async (constraints) => {
		const stream = await open(constraints);
		tracks.push(...stream.getVideoTracks().filter((track) => track.label === label));
		return stream;
	};
	mediaDevices.enumerateDevices = async () =>
		(await list()).filter((device) => !gone || device.kind !== 'videoinput' || device.label !== label);
	Object.assign(globalThis, {
		unplug(on: boolean) {
			gone = on;
			for (const track of on ? tracks.splice(0) : []) {
				track.stop();
				track.dispatchEvent(new Event('ended'));
			}
			mediaDevices.dispatchEvent(new Event('devicechange'));
		},
	});
}

test('cameras and microphones of the machine are listed, added, fitted, and removed with undo', async ({ page }) => {
	await page.addInitScript(pretendToUnplug, 'fake_device_0');
	await showSetUp(page);
	await page.goto(demo.url);
	await page.getByLabel('Made from').selectOption({ label: 'Nothing: an empty event' });
	await page.getByLabel('Name').fill('Trial of devices');
	await page.getByRole('button', { name: 'Make the event' }).click();
	await page.getByRole('link', { name: 'To the desk' }).click();
	// Sources can be added where an event is prepared as well, until that page has gone.
	await expect(page.getByLabel('Wall')).toBeVisible();
	await page.getByRole('button', { name: 'Add a source' }).click();
	const dialog = page.getByRole('dialog');
	const camera = dialog.getByRole('listitem').filter({ hasText: 'fake_device_0' });
	await camera.getByRole('combobox').selectOption('640 × 480');
	await camera.getByRole('button', { name: 'Add' }).click();
	const line = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: /^Remove fake_device_0/ }) });
	await expect(line).toContainText('640 × 480');
	await page.getByRole('button', { name: 'Add a source' }).click();
	await dialog.getByRole('listitem').filter({ hasText: 'Sound' }).first().getByRole('button', { name: 'Add' }).click();
	// Chromium's pretended microphone beeps twice a second.
	const level = page.getByRole('meter', { name: 'Level of the stream mix' });
	await until('a sound', async () => Number(await level.getAttribute('aria-valuenow')) > -40);

	// 4:3 in 16:9: black at both sides, picture in the middle. A key counts when its dialog is gone, and its scene is there.
	await expect(dialog).toHaveCount(0);
	await expect(
		page
			.getByLabel('Wall')
			.getByRole('button', { name: /fake_device_0/ })
			.first(),
	).toBeVisible();
	await page.keyboard.press('Shift+Digit1');
	const canvas = page.getByLabel('On air', { exact: true }).locator('canvas');
	/** A row of what is on air, as sums of red, green and blue. */
	const row = () =>
		canvas.evaluate((element: HTMLCanvasElement) => {
			const copy = new OffscreenCanvas(16, 9).getContext('2d')!;
			copy.drawImage(element, 0, 0, 16, 9);
			const pixels = copy.getImageData(0, 6, 16, 1).data;
			return Array.from({ length: 16 }, (_, x) => pixels[4 * x]! + pixels[4 * x + 1]! + pixels[4 * x + 2]!);
		});
	/** All of what is on air, small, as text. */
	const picture = () =>
		canvas.evaluate((element: HTMLCanvasElement) => {
			const copy = new OffscreenCanvas(64, 36).getContext('2d')!;
			copy.drawImage(element, 0, 0, 64, 36);
			return String(copy.getImageData(0, 0, 64, 36).data);
		});
	await expect(async () => {
		const bright = await row();
		expect([bright[0], bright[15]]).toEqual([0, 0]);
		expect(bright[8]).toBeGreaterThan(60);
	}).toPass({ timeout: 30_000 });

	for (const afterMs of [0, 200, 1500]) {
		await page.evaluate('unplug(true)');
		await expect(line).toContainText('lost');
		const trouble = page.getByRole('listitem').filter({ hasText: /fake_device_0 (was unplugged|is not connected)/ });
		await expect(trouble).toContainText('it comes back by itself');
		await page.evaluate(`setTimeout(() => unplug(false), ${afterMs})`);
		await expect(line).toContainText('640 × 480');
		// It must go on, not only show the first picture again.
		const seen = new Set<string>();
		await until('new pictures', async () => seen.add(await picture()).size > 10).catch(async ({ message }: Error) => {
			throw new Error(`${message} (${seen.size} seen). It says: ${await line.textContent()}`);
		});
		await expect(line).toContainText('640 × 480');
	}

	await page.getByRole('button', { name: /^Remove fake_device_0/ }).click();
	await expect(line).toHaveCount(0);
	const removed = page.getByRole('listitem').filter({ hasText: 'was removed' });
	await removed.getByRole('button', { name: 'Undo' }).click();
	await expect(line).toContainText('640 × 480');
});

test('a second tab watches and can switch, and takes the program over while viewers stay', async ({
	page,
	context,
}) => {
	await openDesk(page);
	await page.keyboard.press('Shift+Digit1');
	await goOnAir(page);
	await pictures('ridge', 60)();
	const second = await context.newPage();
	await second.goto(`${demo.url}/events/lantern-night`);
	await expect(second.getByRole('alert')).toContainText('Another tab makes the program of this event');
	// It shows what is made there: the program, Next, and every scene on the wall.
	const [[lectern], [chapel]] = [
		await frames('standins/venue/media/lectern.mp4'),
		await frames('standins/venue/media/chapel-wide.mp4'),
	];
	const seen = (label: string) => lumaOn(second.getByLabel(`Picture of ${label}`, { exact: true }).first());
	await until('the program', async () => difference(await seen('Lectern'), lectern!.luma) < 14);
	await until('a scene', async () => difference(await seen('2 Chapel wide'), chapel!.luma) < 14);
	await second.keyboard.press('Digit2');
	await until('Next', async () => difference(await seen('Chapel wide'), chapel!.luma) < 14);
	await second.keyboard.press('Shift+Digit2');
	await expect(page.getByLabel('On air', { exact: true })).toContainText('Chapel wide');

	const { backSteps } = await demo.place('ridge');
	await second.getByRole('button', { name: 'Make the program here' }).click();
	await expect(second.locator('[data-source="lectern"]')).toContainText('1280 × 720');
	await expect(page.getByRole('alert')).toContainText('Another tab makes the program of this event');
	await pictures('ridge', 60)();
	const place = await demo.place('ridge');
	expect(place).toMatchObject({ state: 'receiving', backSteps });
	await endBroadcast(second);
	await second.close();
});

test('hush is silence for viewers within a moment, and one more press brings everything back', async ({ page }) => {
	await openDesk(page);
	const pace = watchPace();
	await goOnAir(page);
	await pictures('ridge', 90)();
	await page.keyboard.press('KeyH');
	await expect(page.getByRole('button', { name: 'HUSHED, press to undo' })).toBeVisible();
	await pictures('ridge', 90)();
	await page.keyboard.press('KeyH');
	await pictures('ridge', 90)();
	await endBroadcast(page);
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');

	const { samples } = await sound(await demo.received('ridge'));
	// Loud or silent in steps of a tenth of a second, the encoder's own first and last moments left out.
	const loud: boolean[] = [];
	for (let at = 9600; at + 4800 < samples.length - 9600; at += 4800)
		loud.push(samples.subarray(at, at + 4800).some((sample) => Math.abs(sample) > 1e-4));
	const silences = loud
		.map((each) => (each ? '|' : '.'))
		.join('')
		.split(/\|+/)
		.map(({ length }) => length);
	const [hush, ...others] = silences.toSorted((a, b) => b - a);
	// From one press to the other the host got three seconds of pictures; before and behind it there is sound.
	expect(hush).toBeGreaterThanOrEqual(25);
	expect([silences[0], silences.at(-1)]).not.toContain(hush);
	// Where a machine stands still for a moment there is silence too: never one that could be taken for the hush.
	const longest = pace.worst() > MUCH_STOLEN ? 12 : 4;
	expect(others.filter((each) => each > longest)).toEqual([]);
});

test('a browser that holds sound back is named; the first press starts it, and does what it was for', async () => {
	const args = CHROMIUM.args.filter((arg) => !arg.includes('autoplay'));
	const browser = await chromium.launch({ ...CHROMIUM, args });
	const page = await browser.newPage();
	await showSetUp(page);
	await page.goto(`${demo.url}/events/lantern-night`);
	// Whatever a test looks at in a page counts as a press, so it must not look before the sound is wanted: the server is
	// asked instead, to which the page reports levels five times a second from its start on.
	const hub = new HubPage(Number(new URL(demo.url).port), 'lantern-night');
	await until('levels', () => hub.messages.filter(({ type }) => type === 'sound').length > 25);
	hub.socket.close();
	const line = page.getByText('holds sound and picture back');
	await expect(line).toBeVisible();
	// A hand presses longer than a test: what it is on must still be there when it lets go.
	await page.getByRole('button', { name: 'Change Ridge Channel' }).click({ delay: 400 });
	await expect(page.getByRole('dialog')).toBeVisible();
	await expect(line).toBeHidden();
	await browser.close();
});

test('everybody can use the desk; keys leave fields alone, and the list of keys can be asked for', async ({ page }) => {
	await openDesk(page);
	await accessible(page);
	const next = page.getByLabel('Next', { exact: true });
	await page.keyboard.press('Digit3');
	await expect(next).toContainText('Choir left');
	const duration = page.getByRole('spinbutton');
	await page.getByRole('button', { name: /Fade/ }).click();
	await duration.fill('1200');
	await duration.press('2');
	await expect(next).toContainText('Choir left');
	await duration.blur();
	await page.keyboard.press('Shift+?');
	await expect(page.getByRole('dialog')).toContainText('Previous scene');
	await page.keyboard.press('Digit2');
	await expect(next).toContainText('Choir left');
});
