/** Makes the pictures of docs/screenshots from the demo event, in a demo of its own. */
import path from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../playwright.config.ts';
import { until } from '../tests/support/app.ts';
import { showSetUp, startDemo } from '../tests/support/demo.ts';

const folder = path.resolve('docs/screenshots');
const demo = await startDemo();
const browser = await chromium.launch(CHROMIUM);
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });

async function shot(page: Page, name: string): Promise<void> {
	// Dialogs take a moment to open.
	await page.waitForTimeout(500);
	await page.screenshot({ path: path.join(folder, `${name}.png`) });
	console.log(`  ${name}.png`);
}

try {
	const desk = await context.newPage();
	desk.on('dialog', (dialog) => void dialog.accept());
	await desk.goto(demo.url);
	await shot(desk, 'home');
	await desk.goto(`${demo.url}/media`);
	await desk.locator('[data-media]').filter({ hasText: 'LUFS' }).nth(2).waitFor();
	await shot(desk, 'media');
	await desk.goto(`${demo.url}/events/lantern-night/prepare`);
	await desk.locator('[data-source="choir-left"]').getByText('1280 × 720').waitFor();
	await desk.waitForTimeout(2000);
	await shot(desk, 'prepare');
	await desk.getByRole('button', { name: 'Dry run' }).click();
	for (let i = 0; i < 3; i++) await desk.getByRole('button', { name: 'Step on' }).click();
	await desk.waitForTimeout(500);
	await shot(desk, 'dry-run');
	await showSetUp(desk);
	await desk.goto(`${demo.url}/events/lantern-night`);
	await desk.locator('[data-source="choir-left"]').getByText('1280 × 720').waitFor();
	await desk.waitForTimeout(2000);
	const left = (name: string) => desk.getByRole('button', { name, exact: true }).click();
	await left('Run sheet');
	await shot(desk, 'desk-off-air');
	await left('Sources, destinations');

	await desk.getByRole('button', { name: 'Change Valley Relay' }).click();
	await shot(desk, 'destination');
	await desk.getByRole('button', { name: 'Cancel' }).click();
	await desk.getByRole('button', { name: 'Add a source' }).click();
	await desk.getByRole('dialog').getByText('fake_device_0').first().waitFor();
	await shot(desk, 'add-source');
	await desk.keyboard.press('Escape');

	await desk.getByRole('button', { name: 'Edit Talk and chapel' }).click();
	await desk.waitForTimeout(1000);
	await shot(desk, 'scene');
	await desk.getByRole('button', { name: 'Done' }).click();
	await desk.getByRole('button', { name: 'Chapel wide', exact: true }).click();
	await desk.getByRole('button', { name: 'Add a patch' }).click();
	await desk.waitForTimeout(1000);
	await shot(desk, 'source');
	await desk.getByRole('button', { name: /^Remove the patch/ }).click();
	await desk.getByRole('button', { name: 'Done' }).click();
	await desk.getByRole('button', { name: 'Season on the fell', exact: true }).click();
	await desk.getByRole('button', { name: 'Play', exact: true }).click();
	await desk.waitForTimeout(6000);
	await shot(desk, 'clip');
	await desk.getByRole('button', { name: 'From the start' }).click();
	await desk.getByRole('button', { name: 'Done' }).click();
	await desk.getByRole('button', { name: 'Names and overlays…' }).click();
	await desk.keyboard.press('l');
	await desk.getByRole('button', { name: 'Show Lantern draw' }).click();
	await desk.waitForTimeout(1000);
	await shot(desk, 'overlays');
	await desk.getByRole('button', { name: 'Hide Lantern draw' }).click();
	await desk.getByRole('button', { name: 'Done' }).click();
	await desk.waitForTimeout(8500);

	await desk.getByRole('checkbox', { name: 'Send to Valley Relay' }).check();
	await desk.getByRole('button', { name: 'How it is sent…' }).click();
	await desk.getByText('Also recorded separately').click();
	for (const name of ['Lectern', 'Choir left', 'Lectern mic'])
		await desk.getByLabel('How it is sent', { exact: true }).getByLabel(name, { exact: true }).check();
	await desk.getByRole('button', { name: 'Done' }).click();
	await desk.getByRole('button', { name: 'Go on air' }).click();
	await desk.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await desk.waitForTimeout(6000);
	await left('Run sheet');
	await desk.getByRole('button', { name: 'Do “Welcome” next' }).click();
	await desk.waitForTimeout(1500);
	await desk.keyboard.press('Space');
	await desk.waitForTimeout(7000);
	await shot(desk, 'desk-on-air');

	const phone = await browser.newPage({ viewport: { width: 390, height: 844 } });
	await phone.goto(`${demo.url}/events/lantern-night/sheet`);
	await phone.getByRole('button', { name: 'This is my line: Talk with Cold Tarn' }).click();
	await phone.evaluate(() => window.scrollTo(0, 0));
	await phone.waitForTimeout(1000);
	await shot(phone, 'sheet');
	await phone.close();
	await desk.waitForTimeout(6000);

	const mixer = await context.newPage();
	await mixer.goto(`${demo.url}/events/lantern-night/mix`);
	await mixer.waitForTimeout(15_000);
	await shot(mixer, 'mix');
	await mixer.getByRole('button', { name: 'Set up Lectern mic' }).click();
	await mixer.waitForTimeout(1000);
	await shot(mixer, 'channel');
	await mixer.close();

	const viewer = await context.newPage();
	await viewer.goto(`${demo.hostUrl}/watch/ridge`);
	await viewer.getByText('Live now.').waitFor();
	await viewer.waitForTimeout(6000);
	await shot(viewer, 'watch');
	await viewer.close();

	await demo.killHost();
	await until('the loss', () => desk.getByRole('alert').getByText('Ridge Channel is lost').isVisible());
	await desk.waitForTimeout(2000);
	await shot(desk, 'desk-trouble');

	await demo.startHost();
	await desk.keyboard.press('m');
	await desk.getByRole('button', { name: 'End the broadcast' }).click();
	await desk.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await desk.waitForTimeout(6000);
	await desk.goto(`${demo.url}/events/lantern-night/recordings`);
	await desk.locator('[data-overview="read"]').waitFor();
	await desk
		.getByRole('button', { name: /Lectern/ })
		.first()
		.click();
	await desk.waitForTimeout(1500);
	await shot(desk, 'recordings');
	await desk.getByRole('link', { name: 'Report of the broadcast' }).click();
	await desk.getByRole('heading', { name: 'What happened' }).waitFor();
	await desk.waitForTimeout(1000);
	await shot(desk, 'report');
} finally {
	await browser.close();
	await demo.close();
}
