import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { ACCOUNT_CODE } from '../../standins/host/places.ts';
import { accessible } from '../support/accessible.ts';
import { Page as HubPage, until } from '../support/app.ts';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';
import { decodeAll, probePackets, run } from '../support/media.ts';

const EVENT = 'lantern-night';
let demo: Demo;
test.beforeAll(async () => {
	demo = await startDemo();
});
test.afterAll(() => demo.close());

async function openDesk(page: Page): Promise<void> {
	await showSetUp(page);
	page.on('dialog', (dialog) => void dialog.accept());
	await page.goto(`${demo.url}/events/${EVENT}`);
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
}
const dialog = (page: Page) => page.getByRole('dialog');
async function end(page: Page, what: string): Promise<void> {
	await page.getByRole('button', { name: `End the ${what}` }).click();
	await dialog(page)
		.getByRole('button', { name: `End the ${what}` })
		.click();
	await expect(page.getByText('Off air')).toBeVisible();
}
const lengthOf = async (file: string) => {
	const { stdout } = await run('ffprobe', ['-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', file]);
	return Number(stdout);
};

test('cameras and microphones are recorded separately, an excerpt is cut exactly, and the evening has a report', async ({
	page,
}) => {
	test.slow();
	await openDesk(page);
	await page.getByRole('button', { name: 'How it is sent' }).click();
	const sheet = page.getByLabel('How it is sent', { exact: true });
	await sheet.getByText('Also recorded separately').click();
	await sheet.getByRole('group', { name: 'Pictures' }).getByLabel('Choir left').check();
	await sheet.getByRole('group', { name: 'Sounds' }).getByLabel('Lectern mic').check();
	await sheet.getByRole('group', { name: 'Sounds' }).getByLabel('Choir', { exact: true }).check();
	await page.keyboard.press('Shift+Digit1');
	await page.getByRole('button', { name: 'Go on air' }).click();
	await dialog(page).getByRole('button', { name: 'Go on air' }).click();
	await expect(page.getByRole('banner')).toContainText('3 separate');
	await until('ten seconds', async () => (await demo.place('ridge')).soundMs > 10_000);
	await page.keyboard.press('Shift+Digit2');
	await until('sixteen seconds', async () => (await demo.place('ridge')).soundMs > 16_000);
	await end(page, 'broadcast');
	await page.goto(`${demo.url}/events/${EVENT}/recordings`);
	await expect(page.getByText(/recording now|file being finished/)).toHaveCount(0);

	const all = page.getByRole('region', { name: 'All recordings' });
	await all.getByText('3 recorded separately').click();
	const fileOf = async (what: string) => {
		const name = await all.getByText(new RegExp(`${what}\\.(mp4|wav)$`)).textContent();
		return path.join(demo.folder, 'recordings', EVENT, name!);
	};
	const [program, camera, mic, choir] = await Promise.all(
		['program', 'choir-left', 'lectern-mic', 'choir'].map(fileOf),
	);
	for (const file of [camera!, mic!, choir!]) {
		expect(await decodeAll(file)).toBe('');
		expect(Math.abs((await lengthOf(file)) - (await lengthOf(program!))), file).toBeLessThan(1.5);
	}
	const pictures = async (file: string) => (await probePackets(file)).filter(({ kind }) => kind === 'video');
	const [first] = await pictures(camera!);
	// Both begin with the first frame of the broadcast.
	expect(first!.time).toBeLessThan(0.2);
	expect((await readFile(choir!)).readUInt16LE(58)).toBe(2);

	await expect(page.locator('[data-overview="read"]')).toBeVisible();
	expect(await page.locator('[data-overview] img').count()).toBeGreaterThan(7);
	// However early the page was opened, the whole file is played.
	const played = await page.locator('video').evaluate((video: HTMLVideoElement) => video.duration);
	expect(played).toBeCloseTo(await lengthOf(program!), 1);
	await page.locator('video').evaluate((video: HTMLVideoElement) => (video.currentTime = 5.5));
	await page.getByRole('button', { name: 'Excerpt from here' }).click();
	await page.locator('video').evaluate((video: HTMLVideoElement) => (video.currentTime = 8));
	await page.getByRole('button', { name: 'to here' }).click();
	// Begun and thought better of.
	await page.getByRole('button', { name: 'Cut exactly' }).click();
	await page.getByRole('button', { name: 'Cancel' }).click();
	await expect(page.getByRole('button', { name: 'Cut exactly' })).toBeEnabled();
	await expect(page.getByRole('alert')).toHaveCount(0);
	await page.getByRole('button', { name: 'Cut exactly' }).click();
	await expect(all.getByText('Excerpt, ')).toBeVisible({ timeout: 60_000 });
	const excerpt = await fileOf('-excerpt-6-8-\\w+');
	expect(await decodeAll(excerpt.replace('Excerpt, ', ''))).toBe('');
	const exact = await pictures(excerpt.replace('Excerpt, ', ''));
	expect(exact[0]!.time).toBeCloseTo(0, 2);
	expect(await lengthOf(excerpt.replace('Excerpt, ', ''))).toBeCloseTo(2.5, 1);

	const [download] = await Promise.all([
		page.waitForEvent('download'),
		page.getByRole('button', { name: 'Sound only (WAV)' }).click(),
	]);
	expect(download.suggestedFilename()).toMatch(/-program\.wav$/);
	expect(Math.abs((await lengthOf(await download.path())) - (await lengthOf(program!)))).toBeLessThan(1);
	await accessible(page);

	await page.getByRole('link', { name: 'Report of the broadcast' }).click();
	await expect(page.getByRole('row').filter({ hasText: 'Ridge Channel' })).toContainText(/0:\d\d.*[kM]bit\/s/);
	await expect(page.getByText('Viewers never had to be held')).toBeVisible();
	for (const title of ['Rate', 'Waiting to be sent', 'Frames dropped', 'Loudness', 'Processor load'])
		await expect(page.getByRole('figure').filter({ hasText: title }).locator('canvas')).toBeVisible();
	const happened = page.getByRole('region', { name: 'What happened' });
	await expect(happened).toContainText('Ridge Channel: live');
	await happened.getByLabel('Show only').selectOption('Takes');
	await expect(happened.getByRole('listitem')).toContainText(['Lectern', 'Chapel wide']);
	await accessible(page);
});

test('a report tells of two destinations that have one name', async ({ page }) => {
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	const { state } = await hub.welcome();
	const valley = state.setup.destinations.find(({ name }) => name === 'Valley Relay')!;
	const { id } = valley;
	const call = async (name: string) => {
		const answer = await fetch(`${demo.url}/api/events/${EVENT}/destinations`, {
			method: 'PUT',
			headers: { 'Content-Type': 'application/json', Origin: demo.url },
			body: JSON.stringify({ ...valley, name, key: null, password: null }),
		});
		expect(await answer.json()).toEqual({ ok: true });
	};
	await call('Ridge Channel');
	await hub.applied(hub.do({ type: 'tickDestination', destinationId: id, ticked: true }));
	await openDesk(page);
	await page.getByRole('button', { name: 'Go on air' }).click();
	await dialog(page).getByRole('button', { name: 'Go on air' }).click();
	await until('seconds of it', async () => (await demo.place('valley')).pictures > 150, 60_000);
	await end(page, 'broadcast');
	await hub.applied(hub.do({ type: 'tickDestination', destinationId: id, ticked: false }));
	hub.socket.close();
	await page.getByRole('link', { name: 'Report', exact: true }).click();
	await expect(page.getByRole('heading', { name: 'What happened' })).toBeVisible();
	await expect(page.getByRole('row').filter({ hasText: 'Ridge Channel' })).toHaveCount(2);
	await call('Valley Relay');
});

test('a rehearsal is marked as one everywhere and reaches a private page only', async ({ page }) => {
	await openDesk(page);
	await page.getByRole('button', { name: 'Go on air' }).click();
	await dialog(page).getByRole('button', { name: 'Rehearse instead' }).click();
	await expect(page.getByRole('banner')).toContainText('REHEARSAL');
	await expect(page.getByLabel('On air', { exact: true })).toContainText('REHEARSAL');
	const [watch] = await Promise.all([
		page.waitForEvent('popup'),
		page.getByRole('link', { name: 'watch the rehearsal' }).click(),
	]);
	await expect(watch.getByText('Live now.')).toBeVisible();
	await watch.close();
	expect((await demo.place('ridge')).state).not.toBe('receiving');
	await expect(page.getByText('ON AIR', { exact: true })).toHaveCount(0);
	const mix = await page.context().newPage();
	await mix.goto(`${demo.url}/events/${EVENT}/mix`);
	await expect(mix.getByText('REHEARSAL', { exact: true })).toBeVisible();
	await mix.close();
	await end(page, 'rehearsal');
});

test('a host’s account is connected, told of the event, and what its viewers write is read and hidden', async ({
	page,
}) => {
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	await hub.welcome();
	// The organisation still knows it.
	await hub.applied(hub.do({ type: 'removeDestination', destinationId: 'valley-relay' }));
	await openDesk(page);
	await page.getByRole('button', { name: 'Add a destination' }).click();
	await dialog(page)
		.getByRole('button', { name: /^Valley Relay/ })
		.click();
	await expect(page.getByLabel('Send to Valley Relay')).toBeChecked();
	await page.getByLabel('Send to Valley Relay').uncheck();

	await page.getByRole('button', { name: 'Add a destination' }).click();
	await page.getByLabel('Address of the account').fill(`${demo.hostUrl}/account`);
	await page.getByLabel('Access code').fill('guessed');
	await dialog(page).getByRole('button', { name: 'Connect' }).click();
	await expect(dialog(page).getByRole('alert')).toContainText('does not know that access code');
	await page.getByLabel('Access code').fill(ACCOUNT_CODE);
	await dialog(page).getByRole('button', { name: 'Connect' }).click();
	await dialog(page).getByRole('button', { name: 'Add Members’ Page' }).click();
	await expect(page.getByLabel('Send to Members’ Page')).toBeChecked();

	await page.getByRole('button', { name: 'Details for viewers at Members’ Page' }).click();
	await page.getByLabel('Title').fill('Lantern Night, live from Nether Hollin');
	await page.getByLabel('Description').fill('A choir, a talk and a film.');
	await accessible(page);
	await page.getByRole('button', { name: 'Send to the host again' }).click();
	await expect(page.getByText('It gave address and key for it.')).toBeVisible();
	const viewer = await page.context().newPage();
	await viewer.goto(`${demo.hostUrl}/watch/members`);
	await expect(viewer.getByRole('heading')).toContainText('Lantern Night, live from Nether Hollin');

	await page.getByRole('button', { name: 'Go on air' }).click();
	await dialog(page).getByRole('button', { name: 'Go on air' }).click();
	await expect(page.locator('[data-light="members-page"]')).toContainText('bit/s');
	await viewer.getByLabel('Your name').fill('Ysolde');
	await viewer.getByLabel('Write something').fill('The lamp is lit at Cold Tarn too.');
	await viewer.getByRole('button', { name: 'Send' }).click();
	const written = page.getByRole('region', { name: 'Viewers write' });
	await expect(written).toContainText('The lamp is lit at Cold Tarn too.');
	await written.getByRole('button', { name: 'Hide what Ysolde wrote' }).click();
	await expect(written).toBeHidden();
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(written).toBeVisible();
	await end(page, 'broadcast');
	await until('the end at the host', async () => (await demo.place('members')).state === 'ended');
	// What opens the account is in no page and in no log.
	expect(JSON.stringify(hub.messages)).not.toContain(ACCOUNT_CODE);
	hub.socket.close();
});
