import { expect, test, type Page } from '@playwright/test';
import { plainChannel, plainMix } from '../../src/core/show/mix/mix.ts';
import { plainSource } from '../../src/core/show/sources/source.ts';
import { estimateDelay } from '../../src/core/sound/delay-estimate.ts';
import { accessible } from '../support/accessible.ts';
import { Page as HubPage, until } from '../support/app.ts';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';
import { sound, samplesOf } from '../support/see.ts';
import type { ConsoleAnswer, ConsoleFault } from '../../standins/venue/faults.ts';

let demo: Demo;
test.beforeAll(async () => {
	demo = await startDemo();
});
test.afterAll(() => demo.close());

const EVENT = 'lantern-night';
async function openDesk(page: Page): Promise<void> {
	await showSetUp(page);
	page.on('dialog', (dialog) => void dialog.accept());
	await page.goto(`${demo.url}/events/${EVENT}`);
	await expect(page.locator('[data-source="console"]')).toContainText('connected');
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
}
const decibels = (samples: Float32Array) =>
	20 * Math.log10(Math.sqrt(samples.reduce((sum, s) => sum + s * s, 0) / samples.length) + 1e-9);

/** Breaks an input of the stand-in console, or mends it; done when that is in what the console gives out. */
const breakInput = (page: Page, fault: ConsoleFault) =>
	page.evaluate(
		(message) =>
			new Promise<void>((resolve) => {
				const switches = new BroadcastChannel('bivvo-stand-in-console');
				switches.onmessage = ({ data: { applied } }: MessageEvent<Partial<ConsoleAnswer>>) => {
					if (applied?.input !== message.input || applied.fault !== message.fault) return;
					switches.close();
					resolve();
				};
				switches.postMessage(message);
			}),
		fault,
	);

test('speech turns music down; a channel is set up, removed and brought back; and nothing is objected to', async ({
	page,
}) => {
	await openDesk(page);
	await page.goto(`${demo.url}/events/${EVENT}/mix`);
	await expect(page.getByText('No desk is open, so there is no sound.')).toBeVisible();
	const desk = await page.context().newPage();
	await openDesk(desk);
	const choir = page.locator('[data-channel="choir"]');
	await expect(choir).toContainText(/dips −1[0-2] dB/);
	await page.getByLabel('Dip under speech').getByRole('slider').first().fill('0');
	await expect(choir).not.toContainText('dips');

	await page.getByRole('button', { name: 'Set up Choir' }).click();
	await page.getByRole('button', { name: 'speaking voice' }).click();
	await expect(page.getByLabel('Group', { exact: true })).toHaveValue('speech');
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(page.getByLabel('Group', { exact: true })).toHaveValue('music');
	await accessible(page);
	await page.getByRole('button', { name: 'Remove', exact: true }).click();
	await expect(choir).toBeHidden();
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(choir).toBeVisible();
	await page.getByLabel('Add a channel').selectOption('Console');
	await expect(page.getByLabel('Name of the channel')).toHaveValue('Console 11');
	await expect(page.getByRole('button', { name: 'Mute Console 11' })).toHaveAttribute('aria-pressed', 'true');
});

test('what is wrong with the sound is said in words, and no longer when it is mended', async ({ page }) => {
	await openDesk(page);
	const says = (text: string | RegExp) => page.getByRole('alert').filter({ hasText: text });
	await expect(page.getByText('Nothing is wrong.')).toBeVisible();
	const take = page.getByRole('button', { name: 'Take Chapel wide' });
	const before = await take.boundingBox();
	// While something is pressed no line comes; and the first has its place already.
	await page.getByText('Where it goes').hover();
	await page.mouse.down();
	await breakInput(page, { input: 3, fault: 'dead' });
	// Another page hears of it; and this one, whose clock goes on, does not show it.
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	const isFound = () => {
		const sound = hub.messages.findLast((message) => message.type === 'sound')?.sound;
		return sound?.channels.some(({ faults }) => faults.length > 0);
	};
	await until('the fault', isFound);
	const clock = page.getByLabel('Time of day');
	for (const _ of [1, 2, 3]) await expect(clock).not.toHaveText((await clock.textContent())!);
	await expect(says('Choir has')).toBeHidden();
	hub.socket.close();
	await page.mouse.up();
	await expect(says('Choir has sound on the left side only.')).toBeVisible();
	expect(await take.boundingBox()).toEqual(before);
	await breakInput(page, { input: 3, fault: 'none' });
	await expect(says('Choir has sound on the left side only.')).toBeHidden();
	// As anybody can try it out, at the console itself.
	await page.getByRole('button', { name: 'Console', exact: true }).click();
	await page.getByLabel('What is wrong with it').selectOption('Hums');
	await expect(says('Lectern mic hums like the mains.')).toBeVisible();
	await page.getByLabel('What is wrong with it').selectOption('Nothing');
	await expect(says('Lectern mic hums like the mains.')).toBeHidden();
	await page.getByRole('button', { name: 'Done' }).click();
	await breakInput(page, { input: 0, fault: 'clipping' });
	await expect(says('Lectern mic is too loud where it comes in')).toBeVisible();
	await breakInput(page, { input: 4, fault: 'dead' });
	await expect(says('Fiddle is open, but nothing comes in.')).toBeVisible();
	await page.getByRole('button', { name: 'Mute Fiddle' }).click();
	await expect(says('Fiddle is open')).toBeHidden();
	await page.getByRole('button', { name: 'Mute Fiddle' }).click();
	for (const input of [0, 4]) await breakInput(page, { input, fault: 'none' });
});

test('two people mix: faders, snapshots, mutes, a followed picture and hush, as viewers hear them', async ({
	page,
	context,
}) => {
	// Viewers are given seconds to hear each step.
	test.slow();
	await openDesk(page);
	const mix = await context.newPage();
	await mix.goto(`${demo.url}/events/${EVENT}/mix`);
	await expect(mix.getByRole('button', { name: 'Mute Harmonium' })).toBeVisible();
	// What sounds is heard on the tablet too, though another page makes it.
	const level = mix.getByRole('meter', { name: 'Level of the stream mix' });
	await until('a level', async () => Number(await level.getAttribute('aria-valuenow')) > -40);

	// The harmonium alone, since it never pauses.
	await mix.getByRole('button', { name: 'Mute speech' }).click();
	await mix.getByRole('button', { name: 'Mute audience' }).click();
	for (const name of ['Choir', 'Fiddle']) await mix.getByRole('button', { name: `Mute ${name}`, exact: true }).click();
	await expect(page.getByRole('button', { name: 'Mute Fiddle' })).toHaveAttribute('aria-pressed', 'true');
	await mix.getByLabel('Name of the new snapshot').fill('Harmonium alone');
	await mix.getByRole('button', { name: 'Store' }).click();

	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	// Told by time stamps: a busy machine leaves pictures out, and counting them would look back too far.
	const received = async () => (await demo.place('ridge')).soundMs;
	await until('sound', async () => (await received()) > 2000);
	/** Seconds into the stream, once viewers have had two seconds of what is so now; it was so for the last of them. */
	const settled = async () => {
		const from = await received();
		await until('two seconds more', async () => (await received()) >= from + 2500);
		return (from + 2000) / 1000;
	};
	const plain = await settled();
	// Last move wins, and both see it.
	await mix.getByRole('slider', { name: 'Fader of Harmonium' }).fill('-34');
	await expect(page.getByRole('slider', { name: 'Fader of Harmonium' })).toHaveValue('-34');
	const soft = await settled();
	await page.getByRole('slider', { name: 'Fader of Harmonium' }).fill('-58');
	await expect(mix.getByRole('slider', { name: 'Fader of Harmonium' })).toHaveValue('-58');
	await mix.getByRole('button', { name: 'Harmonium alone', exact: true }).click();
	await expect(page.getByRole('slider', { name: 'Fader of Harmonium' })).toHaveValue('-10');
	// The snapshot is recalled in a fade of two seconds.
	const fadeFrom = await received();
	await until('the end of the fade', async () => (await received()) >= fadeFrom + 2500);
	const recalled = await settled();

	// It follows the picture of Choir left, which is not in the program; then it is.
	await mix.getByRole('button', { name: 'Set up Harmonium' }).click();
	await mix.getByLabel('When it is heard').selectOption('Heard while its picture is shown');
	await mix.getByLabel('Whose picture it follows').selectOption('The picture of Choir left');
	await expect(mix.locator('[data-channel="harmonium"]')).toContainText('Waits for its picture');
	const waiting = await settled();
	await page.keyboard.press('Shift+Digit3');
	const shown = await settled();
	await page.keyboard.press('KeyH');
	await expect(mix.getByRole('button', { name: 'HUSHED, press to undo' })).toBeVisible();
	const hushed = await settled();
	// It is in sight on a small tablet too, and has its key there.
	await mix.setViewportSize({ width: 800, height: 1000 });
	await expect(mix.getByRole('button', { name: 'HUSHED, press to undo' })).toBeInViewport({ ratio: 1 });
	await mix.getByLabel('Whose picture it follows').blur();
	await mix.keyboard.press('KeyH');
	await expect(mix.getByRole('button', { name: 'Hush', exact: true })).toBeVisible();
	const back = await settled();
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');

	const { samples, startsAt } = await sound(await demo.received('ridge'));
	const at = (seconds: number) => {
		const from = Math.round((seconds - startsAt) * 48_000);
		return decibels(samples.subarray(from - 16_000, from + 16_000));
	};
	// Its swell and its chords move it by some decibels by themselves.
	const near = (value: number, expected: number) => expect(Math.abs(value - expected)).toBeLessThan(7);
	near(at(soft), at(plain) - 24);
	for (const same of [recalled, shown, back]) near(at(same), at(plain));
	for (const silent of [waiting, hushed]) expect(at(silent)).toBeLessThan(-75);
});

test('lip-sync is measured, by two sounds and by a clap, and set; a button is held to talk; headphones are chosen', async ({
	page,
}) => {
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	await hub.welcome();
	const tell = (command: Parameters<HubPage['do']>[0]) => hub.applied(hub.do(command));
	// A picture that flashes with each click of its sound, and the second microphone of the chapel's air.
	const flash = plainSource('flash', 'Clapper', { kind: 'standInCamera', standIn: 'flash-and-click' });
	await tell({ type: 'addSource', source: flash });
	await tell({ type: 'addChannel', channel: plainChannel('click', 'flash', 'Clapper', [0]) });
	await tell({ type: 'addChannel', channel: plainChannel('air-right', 'console', 'Air right', [9]) });
	await openDesk(page);
	await expect(page.locator('[data-source="flash"]')).toContainText('1280 × 720');
	await breakInput(page, { input: 9, fault: 'late' });

	await page.getByRole('button', { name: 'Set up Chapel air' }).click();
	await page.getByLabel('Measure the delay').selectOption('Air right');
	await expect(page.getByText('Listening for 5 s…')).toBeVisible();
	// A metre between the microphones is 3 ms, and the fault 180.
	await expect(page.getByText(/Chapel air comes 18[234] ms before Air right/)).toBeVisible();
	await page.getByRole('button', { name: /Set the delay to 18[234] ms/ }).click();
	await expect(page.getByRole('slider', { name: 'Delay' })).toHaveValue(/18[234]/);
	await page.getByLabel('Measure the delay').selectOption('Air right');
	await expect(page.getByText('As it is set, nobody will notice.')).toBeVisible();
	await breakInput(page, { input: 9, fault: 'none' });
	await page.getByRole('button', { name: 'Done' }).click();

	await page.getByRole('button', { name: 'Set up Clapper' }).click();
	await page.getByLabel('Measure the delay').selectOption('Clapper');
	await expect(page.getByText(/[234] claps agree within .* nobody will notice/)).toBeVisible();
	// Another camera sees none of these claps.
	await page.getByLabel('Measure the delay').selectOption('Lectern');
	await expect(page.getByText(/No clap was seen|do not fit/)).toBeVisible();
	await page.getByLabel('When it is heard').selectOption('Heard while you hold its button');
	await page.getByRole('button', { name: 'Done' }).click();

	const talk = page.getByRole('button', { name: 'Hold to talk' });
	await talk.hover();
	await page.mouse.down();
	await expect(page.getByRole('button', { name: 'Clapper is heard' })).toBeVisible();
	await page.mouse.up();
	await expect(talk).toBeVisible();
	await page.getByLabel('I hear').selectOption('Fiddle');
	await expect(page.getByLabel('Output for headphones')).toBeVisible();
	await page.getByLabel('I hear').selectOption('Nothing');
	for (const removed of ['click', 'air-right']) await tell({ type: 'removeChannel', channelId: removed });
	await tell({ type: 'removeSource', sourceId: 'flash' });
	hub.socket.close();
});

test('sound and picture that come apart, and a microphone that hears the headphones, are said in words', async ({
	page,
}) => {
	// Each is looked at every ten seconds, and said when two looks agree.
	test.slow();
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	await hub.welcome();
	const tell = (command: Parameters<HubPage['do']>[0]) => hub.applied(hub.do(command));
	await openDesk(page);
	const says = (text: string | RegExp) => page.getByRole('alert').filter({ hasText: text });
	await page.getByLabel('I hear').selectOption('The stream, as viewers get it');
	await expect(page.getByText('Checking whether a microphone hears this tone…')).toBeVisible();
	// Speech, choir and fiddle are no echo.
	await expect(page.getByText('Only you hear this. Use headphones.')).toBeVisible();
	await breakInput(page, { input: 1, fault: 'hearsDesk' });
	await page.getByRole('button', { name: 'Check echo' }).click();
	await expect(page.getByText('A microphone hears this.')).toBeVisible();
	await expect(says('Handheld hears what this desk plays: viewers would get an echo.')).toBeVisible();
	await breakInput(page, { input: 1, fault: 'none' });
	await page.getByRole('button', { name: 'Check echo' }).click();
	await expect(says('Handheld hears')).toBeHidden();
	await page.getByLabel('I hear').selectOption('Nothing');

	// The camera's own sound is there to compare, and not heard.
	const own = { ...plainChannel('camera-mic', 'lectern', 'Camera at the lectern', [0]), muted: true };
	await tell({ type: 'addChannel', channel: own });
	await breakInput(page, { input: 0, fault: 'late' });
	const apart = says(/Sound and picture are apart: Lectern mic comes 17\d ms behind the picture of Lectern/);
	await expect(apart).toBeVisible({ timeout: 60_000 });
	// Who mixes on another page is told as well.
	const mix = await page.context().newPage();
	await mix.goto(`${demo.url}/events/${EVENT}/mix`);
	await expect(mix.getByRole('alert').filter({ hasText: 'Sound and picture are apart' })).toBeVisible();
	await mix.close();
	await breakInput(page, { input: 0, fault: 'none' });
	await expect(apart).toBeHidden({ timeout: 60_000 });
	await tell({ type: 'removeChannel', channelId: 'camera-mic' });
	hub.socket.close();
});

test('a delay, and music that dips under speech, as viewers hear them', async ({ page }) => {
	test.slow();
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	const { state } = await hub.welcome();
	const tell = (command: Parameters<HubPage['do']>[0]) => hub.applied(hub.do(command));
	for (const { id } of state.setup.channels) await tell({ type: 'removeChannel', channelId: id });
	// Whatever the tests before have left.
	await tell({ type: 'setGroupMute', group: 'speech', muted: false });
	await tell({ type: 'setGroupFader', group: 'speech', gainDb: 0 });
	// It comes back soon enough for the shortest pause of whoever speaks.
	await tell({ type: 'setDucking', ducking: { ...plainMix().ducking, releaseMs: 150 } });
	const side = (id: string, name: string, input: number, pan: -1 | 1, group: 'speech' | null = null) => {
		const channel = plainChannel(id, 'console', name, [input]);
		return tell({ type: 'addChannel', channel: { ...channel, group, strip: { ...channel.strip, pan } } });
	};
	// The same on both sides: what is done to one of them is heard by comparing.
	await side('voice', 'Voice', 0, -1, 'speech');
	await side('late', 'Voice late', 0, 1);
	await openDesk(page);
	await page.getByRole('button', { name: 'Set up Voice late' }).click();
	await page.getByRole('slider', { name: 'Delay' }).fill('240');
	await page.getByRole('button', { name: 'Done' }).click();
	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	const heardMs = async () => (await demo.place('ridge')).soundMs;
	const more = async (ms: number) => {
		const from = await heardMs();
		await until(`${ms} ms more`, async () => (await heardMs()) >= from + ms);
		return from;
	};
	await until('the stream', async () => (await demo.place('ridge')).state === 'receiving');
	await until('sound', async () => (await heardMs()) > 1500);
	const delayed = await more(6500);

	await tell({ type: 'removeChannel', channelId: 'late' });
	await side('plain', 'Harmonium', 5, -1);
	await side('dips', 'Harmonium that dips', 5, 1);
	await page.getByRole('button', { name: 'Set up Harmonium that dips' }).click();
	await page.getByLabel('Dips while somebody speaks').check();
	await page.getByRole('button', { name: 'Done' }).click();
	// Who speaks is hardly heard, so that what dips can be told from what does not.
	await page.getByRole('slider', { name: 'Fader of Voice' }).fill('-50');
	await more(1000);
	const dipping = await more(9000);
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');

	const file = await demo.received('ridge');
	const [{ startsAt }, both] = [await sound(file), await samplesOf(['-i', file, '-vn'], 2)];
	const [left, right] = [0, 1].map((channel) => both.filter((_, i) => i % 2 === channel));
	const part = (samples: Float32Array, fromMs: number, lastsMs: number) =>
		samples.subarray(48 * (fromMs - 1000 * startsAt), 48 * (fromMs - 1000 * startsAt + lastsMs));
	const found = estimateDelay(part(left!, delayed, 6000), part(right!, delayed, 6000));
	expect(found).not.toHaveProperty('refused');
	expect(Math.abs(('delayMs' in found ? found.delayMs : 0) - 240)).toBeLessThan(0.5);
	const dips = Array.from({ length: 80 }, (_, i) => {
		const at = dipping + 100 * i;
		return decibels(part(right!, at, 100)) - decibels(part(left!, at, 100));
	});
	expect(Math.max(...dips), 'in a pause').toBeGreaterThan(-2);
	expect(Math.min(...dips), 'under speech').toBeLessThan(-9);
	expect(Math.min(...dips), 'under speech').toBeGreaterThan(-15);
});
