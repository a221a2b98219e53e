/** A viewer of a watch page: before, live with its words, after; embedded in a page of another origin; with a password. */
import { readFileSync } from 'node:fs';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test, type Page } from '@playwright/test';
import { readSong } from '../../src/core/words/formats/read-song.ts';
import { accessible } from '../support/accessible.ts';
import { Page as HubPage } from '../support/app.ts';
import { leaveOut } from '../support/clips.ts';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';

let demo: Demo;
test.beforeAll(async () => {
	demo = await startDemo();
	await leaveOut(demo, ['chapel-wide', 'choir-left']);
});
test.afterAll(() => demo.close());
test.afterEach(async ({ context }) => {
	for (const each of context.browser()?.contexts() ?? []) await each.close();
});

const dialog = (page: Page) => page.getByRole('dialog');

async function openDesk(page: Page): Promise<void> {
	await showSetUp(page);
	page.on('dialog', (each) => void each.accept());
	await page.goto(`${demo.url}/events/lantern-night`);
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
}

/** How far a page's picture has come, seconds; it plays when this grows. */
const plays = (page: Page | ReturnType<Page['frameLocator']>) =>
	page.locator('video').evaluate((video: HTMLVideoElement) => (video.videoWidth > 0 ? video.currentTime : 0));

test('from before to after, with words, messages and the recording, also within another site', async ({
	page,
	browser,
}) => {
	await openDesk(page);
	await page.getByRole('button', { name: 'Add a destination' }).click();
	await dialog(page).getByRole('button', { name: 'Add a watch page' }).click();
	await dialog(page).getByLabel('Viewers may write').check();
	const address = await dialog(page).getByLabel('Address', { exact: true }).inputValue();
	expect(address).toBe(`${demo.url}/watch/lantern-night`);
	const embed = await dialog(page).getByLabel('Line for a page of your own site', { exact: true }).inputValue();
	await dialog(page).getByRole('button', { name: 'Save' }).click();
	await expect(dialog(page)).toHaveCount(0);

	// Nobody of the organisation: another browser, in another zone.
	const context = await browser.newContext({ timezoneId: 'Asia/Tokyo', locale: 'en-GB' });
	const viewer = await context.newPage();
	await viewer.goto(address);
	await expect(viewer.getByRole('heading', { name: 'Lantern Night' })).toBeVisible();
	await expect(viewer.locator('[data-when]')).toContainText(/Begins .*GMT\+9/);
	await expect(viewer.locator('[data-left]')).toContainText(/in \d+ d/);
	await accessible(viewer);

	// Another site, with the line in it.
	const site = http.createServer((_, response) => {
		response.setHeader('Content-Type', 'text/html');
		response.end(`<!doctype html><title>Huts</title><h1>Our site</h1>${embed}`);
	});
	await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve));
	const elsewhere = await context.newPage();
	await elsewhere.goto(`http://localhost:${(site.address() as AddressInfo).port}/`);
	const framed = elsewhere.frameLocator('iframe');
	await expect(framed.getByText('Lantern Night').first()).toBeVisible();

	await page.getByLabel('Send to Ridge Channel').uncheck();
	await page.getByRole('button', { name: 'Go on air' }).click();
	await dialog(page).getByRole('button', { name: 'Go on air' }).click();
	await expect(viewer.locator('[data-status]')).toContainText(/Live, about \d+ seconds behind/);
	await expect.poll(() => plays(viewer)).toBeGreaterThan(1);
	await expect.poll(() => plays(framed)).toBeGreaterThan(1);
	// Browsers begin without sound, and that is said.
	await viewer.getByRole('button', { name: 'Turn the sound on' }).click();
	await expect(viewer.getByRole('button', { name: 'Turn the sound on' })).toHaveCount(0);
	await expect(page.locator('[data-light]').filter({ hasText: 'Our own page' })).toContainText(/[kM]bit\/s/);
	await expect(page.getByRole('region', { name: 'Where it goes' })).toContainText('2 watching');

	// Words stand beneath the picture for who wants them, when they are seen.
	const hub = new HubPage(Number(new URL(demo.url).port), 'lantern-night');
	await hub.welcome();
	const file = 'carry-the-water.txt';
	const song = readSong(readFileSync(`standins/words/${file}`, 'utf8'), file);
	await hub.applied(hub.do({ type: 'addWords', item: { id: 'song', songId: null, song } }));
	await hub.applied(hub.do({ type: 'nextLine' }));
	await viewer.getByRole('button', { name: 'Show words' }).click();
	await expect(viewer.locator('[data-captions]')).toContainText(/\w{3}/);
	hub.socket.close();

	await viewer.getByLabel('Your name').fill('Ines');
	await viewer.getByLabel('Message').fill('Good evening from Tokyo');
	await viewer.getByRole('button', { name: 'Write', exact: true }).click();
	await expect(page.getByText('Good evening from Tokyo').first()).toBeVisible();
	await expect(viewer.getByRole('listitem').filter({ hasText: 'Good evening from Tokyo' })).toBeVisible();

	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await dialog(page).getByRole('button', { name: 'End the broadcast' }).click();
	await expect(viewer.locator('[data-status]')).toContainText('Here is its recording.');
	await expect
		.poll(() => viewer.locator('video').evaluate((video: HTMLVideoElement) => video.duration))
		.toBeGreaterThan(5);
	await expect(page.getByText('Off air').first()).toBeVisible();
	site.close();
	site.closeAllConnections();
});

test('a page with a password asks for it first', async ({ page, browser }) => {
	const form = {
		...{ id: 'members', name: 'For members', password: 'carry the water' },
		watch: { slug: 'members-night', access: 'password', captions: false, messages: false, recording: false },
	};
	const saved = await fetch(`${demo.url}/api/events/lantern-night/destinations/watch`, {
		method: 'PUT',
		headers: { 'Content-Type': 'application/json', Origin: demo.url },
		body: JSON.stringify(form),
	});
	expect(saved.status).toBe(200);
	await page.close();
	const viewer = await (await browser.newContext()).newPage();
	await viewer.goto(`${demo.url}/watch/members-night`);
	await viewer.getByLabel('Password').fill('guessed');
	await viewer.getByRole('button', { name: 'Watch' }).click();
	await expect(viewer.getByRole('alert')).toHaveText('That is not the password.');
	await viewer.getByLabel('Password').fill('carry the water');
	await viewer.getByRole('button', { name: 'Watch' }).click();
	await expect(viewer.getByRole('heading', { name: 'Lantern Night' })).toBeVisible();
});
