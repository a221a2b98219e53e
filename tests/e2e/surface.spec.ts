/** Control surfaces: a fake port where the browser would have a device, and the drawn one. */
import { expect, test, type Page } from '@playwright/test';
import { startDemo, type Demo } from '../support/demo.ts';

const EVENT = 'lantern-night';

let demo: Demo;
test.beforeEach(async () => void (demo = await startDemo()));
test.afterEach(async ({ browser }) => {
	for (const context of browser.contexts()) await context.close();
	await demo.close();
});

/** Web MIDI (W3C) with one device, whose messages the test sends and reads. */
const FAKE_MIDI = `{
	const sent = (window.midiSent = []);
	const port = (type) => Object.assign(new EventTarget(), {
		id: type, name: 'Fader box', manufacturer: '', version: '1', type, state: 'connected', connection: 'open',
		open() { return Promise.resolve(this); }, close() { return Promise.resolve(this); }, onmidimessage: null,
	});
	const input = port('input');
	const output = Object.assign(port('output'), { send: (bytes) => sent.push([...bytes].join(' ')), clear() {} });
	window.midiTouch = (...bytes) => {
		const event = Object.assign(new Event('midimessage'), { data: Uint8Array.from(bytes) });
		input.onmidimessage?.(event);
		input.dispatchEvent(event);
	};
	const access = Object.assign(new EventTarget(), {
		inputs: new Map([['input', input]]), outputs: new Map([['output', output]]), sysexEnabled: false, onstatechange: null,
	});
	navigator.requestMIDIAccess = () => Promise.resolve(access);
}`;
const touch = (page: Page, ...bytes: number[]) => page.evaluate(`window.midiTouch(${bytes.join(', ')})`);

test('a surface learns by touch, takes scenes with lights, moves a fader by pick-up, and its profile goes out and comes in', async ({
	browser,
}) => {
	const context = await browser.newContext();
	await context.addInitScript(FAKE_MIDI);
	const page = await context.newPage();
	await page.goto(`${demo.url}/events/${EVENT}/panels`);
	await page.getByRole('button', { name: 'Control surface' }).click();
	await page.getByRole('button', { name: 'Connect surfaces of this machine' }).click();
	await expect(page.getByText(/In use here: .*Fader box/)).toBeVisible();
	await touch(page, 0x90, 36, 127);
	await expect(page.getByText('You touched pad 36, channel 1.').first()).toBeVisible();
	await page.getByLabel('Does an action').last().selectOption('take-scene');
	await page.getByLabel('Scene').selectOption({ label: 'Lectern' });
	await page.getByRole('button', { name: 'Give it this' }).click();
	const box = page.getByRole('region', { name: 'Fader box' });
	await expect(box.getByText('Lectern')).toBeVisible();
	await touch(page, 0x90, 36, 127);
	await expect.poll(() => page.evaluate<string[]>('window.midiSent')).toContain('144 36 127');

	await touch(page, 0xb0, 7, 10);
	await page.getByLabel('What its controls do').selectOption('fader');
	await page.getByRole('button', { name: 'Give it this' }).click();
	await expect(box.getByText('Fader of Lectern mic')).toBeVisible();
	const mix = await context.newPage();
	await mix.goto(`${demo.url}/events/${EVENT}/mix`);
	const fader = mix.getByRole('slider', { name: /Lectern mic/ }).first();
	await expect(fader).toHaveValue('0');
	// Far below, it waits; when it has passed where the channel is, it takes hold.
	await touch(page, 0xb0, 7, 20);
	await expect(page.getByText('Move the fader up until it takes hold.')).toBeVisible();
	await expect(fader).toHaveValue('0');
	for (const value of [60, 90, 110]) await touch(page, 0xb0, 7, value);
	await expect(page.getByText('Move the fader up until it takes hold.')).toHaveCount(0);
	await expect.poll(async () => Number(await fader.inputValue())).toBeCloseTo((110 / 127) * 72 - 60, 0);

	const [file] = await Promise.all([
		page.waitForEvent('download'),
		box.getByRole('button', { name: 'Save as a file' }).click(),
	]);
	await box.getByRole('button', { name: 'Remove', exact: true }).first().click();
	await expect(box).toHaveCount(0);
	await page.locator('input[type=file]').setInputFiles(await file.path());
	await expect(box.getByText('Fader of Lectern mic')).toBeVisible();
	await page
		.locator('input[type=file]')
		.setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('{}') });
	await expect(page.getByText('This is no file of a control surface.')).toBeVisible();
});

test('the drawn surface stands in for a device', async ({ browser }) => {
	const context = await browser.newContext();
	const page = await context.newPage();
	await page.goto(`${demo.url}/events/${EVENT}/panels`);
	await page.getByRole('button', { name: 'Control surface' }).click();
	await expect(page.getByText('In use here: Drawn surface.')).toBeVisible();
	const drawn = await context.newPage();
	await drawn.goto(`${demo.url}/events/${EVENT}/surface`);
	const pad = drawn.getByRole('button', { name: 'Pad 1', exact: true });
	await pad.click();
	await page.bringToFront();
	await page.getByLabel('Does an action').last().selectOption('black');
	await page.getByRole('button', { name: 'Give it this' }).click();
	await drawn.bringToFront();
	await pad.click();
	await expect(pad).toHaveAttribute('aria-pressed', 'true');
	await pad.click();
	await expect(pad).toHaveAttribute('aria-pressed', 'false');
});
