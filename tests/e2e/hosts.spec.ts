/** Hosts that are signed in to, at a desk: from signing in to public to the end, at two hosts of different manners. */
import { expect, test, type Page } from '@playwright/test';
import { startStandInHost } from '../../command/processes.mjs';
import { freePort } from '../../command/settings.mjs';
import type { PlaceState } from '../../standins/host/ingest.ts';
import { until } from '../support/app.ts';
import { leaveOut } from '../support/clips.ts';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';

let demo: Demo;
let other: Awaited<ReturnType<typeof startStandInHost>>;
test.beforeEach(async () => {
	demo = await startDemo();
	const env = { BIVVO_STANDIN_MANNER: 'nested' };
	other = await startStandInHost({ rtmpPort: await freePort(), httpPort: await freePort(), env });
	await leaveOut(demo, ['chapel-wide', 'choir-left']);
});
test.afterEach(async ({ context }) => {
	for (const each of context.browser()?.contexts() ?? []) await each.close();
	await other.stop();
	await demo.close();
});

const dialog = (page: Page) => page.getByRole('dialog');
const placeOf = async (url: string, app: string) =>
	((await (await fetch(`${url}/api/places`)).json()) as PlaceState[]).find((each) => each.app === app)!;

/** Signs in in the tab that the desk opens. */
async function signIn(page: Page, name: string): Promise<void> {
	const opened = page.context().waitForEvent('page');
	await dialog(page)
		.getByRole('button', { name: `Sign in to ${name}` })
		.click();
	const tab = await opened;
	await tab.getByRole('button', { name: 'Allow' }).click();
	await expect(tab.getByRole('heading', { name: `Signed in to ${name}` })).toBeVisible();
	await tab.close();
	await dialog(page)
		.getByRole('button', { name: `Choose places at ${name}` })
		.click();
}

test('two hosts are signed in to, this evening is planned at three places, made public and ended', async ({ page }) => {
	await showSetUp(page);
	page.on('dialog', (each) => void each.accept());
	await page.goto(`${demo.url}/events/lantern-night`);
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
	await page.getByLabel('Send to Ridge Channel').uncheck();
	await page.getByRole('button', { name: 'Add a destination' }).click();
	await signIn(page, 'Fell Stream');
	await dialog(page).getByLabel('Ridge Channel').check();
	await dialog(page).getByLabel('Members’ Page').check();
	await dialog(page).getByLabel('Title', { exact: true }).fill('Lantern Night in the chapel');
	const svg =
		'<svg xmlns="http://www.w3.org/2000/svg" width="64" height="36"><rect width="64" height="36" fill="red"/></svg>';
	await dialog(page)
		.getByLabel('Choose a picture')
		.setInputFiles({ name: 'poster.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
	await expect(dialog(page).getByRole('img', { name: 'Picture for the host' })).toBeVisible();
	await dialog(page).getByRole('button', { name: 'Plan it at 2 places' }).click();
	await expect(dialog(page).getByText('Members’ Page: planned. It is a destination now.')).toBeVisible();
	expect((await placeOf(demo.hostUrl, 'ridge')).title).toBe('Lantern Night in the chapel');
	const pictures = (await (await fetch(`${demo.hostUrl}/programs/pictures`)).json()) as { type: string }[];
	expect(pictures.map(({ type }) => type)).toEqual(['image/png', 'image/png']);

	// The other host is not known yet: it has given its profile.
	await dialog(page).getByRole('button', { name: 'Another host…' }).click();
	const profile = await (await fetch(`${other.url}/oauth/profile`)).text();
	await dialog(page).getByLabel('Profile, as JSON').fill(profile);
	await dialog(page).getByRole('button', { name: 'Add this host' }).click();
	await signIn(page, 'Col Broadcasts');
	await dialog(page).getByRole('group', { name: 'Places' }).getByLabel('Members’ Page').check();
	await dialog(page).getByRole('button', { name: 'Plan it at one place' }).click();
	await expect(dialog(page).getByText('Members’ Page: planned. It is a destination now.')).toBeVisible();
	await page.keyboard.press('Escape');

	await page.getByRole('button', { name: 'Go on air' }).click();
	await dialog(page).getByRole('button', { name: 'Go on air' }).click();
	for (const [url, app] of [
		[demo.hostUrl, 'ridge'],
		[demo.hostUrl, 'members'],
		[other.url, 'members'],
	] as const)
		await until(`${app} at ${url}`, async () => (await placeOf(url, app)).pictures > 30, 60_000);
	// Nobody sees it there before somebody says so.
	const destinations = page.getByRole('region', { name: 'Where it goes' });
	await expect(destinations.getByText('not public yet')).toHaveCount(2);
	for (let left = 2; left > 0; left--) {
		await page.getByRole('button', { name: 'Make it public' }).first().click();
		await expect(destinations.getByText('not public yet')).toHaveCount(left - 1);
	}
	expect((await placeOf(other.url, 'members')).public).toBe(true);

	// A viewer writes, and the organisation answers at each host.
	await fetch(`${other.url}/messages/members`, {
		method: 'POST',
		body: '{"from":"Ines","text":"Good evening to you all"}',
	});
	await expect(page.getByText('Good evening to you all').first()).toBeVisible();

	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await dialog(page).getByRole('button', { name: 'End the broadcast' }).click();
	await until('the end at both', async () => {
		const states = await Promise.all([placeOf(demo.hostUrl, 'members'), placeOf(other.url, 'members')]);
		return states.every(({ state }) => state === 'ended');
	});
});

test('a host that takes back what it allowed is signed in to again, with a code', async ({ page }) => {
	await showSetUp(page);
	await page.goto(`${demo.url}/events/lantern-night`);
	await page.getByRole('button', { name: 'Add a destination' }).click();
	await signIn(page, 'Fell Stream');
	await expect(dialog(page).getByLabel('Ridge Channel')).toBeVisible();
	await fetch(`${demo.hostUrl}/oauth/mood`, { method: 'POST', body: new URLSearchParams({ do: 'takeBack' }) });
	await dialog(page).getByRole('button', { name: 'Choose places at Fell Stream' }).click();
	await expect(dialog(page).getByText('Sign in to Fell Stream again')).toBeVisible();
	await dialog(page).getByRole('button', { name: 'With a code' }).click();
	const told = await dialog(page)
		.getByText(/^Type this code at the host: /)
		.textContent();
	const code = told!.split(': ')[1]!;
	await fetch(`${demo.hostUrl}/oauth/type`, { method: 'POST', body: new URLSearchParams({ code, decision: 'allow' }) });
	await expect(dialog(page).getByRole('button', { name: 'Choose places at Fell Stream' })).toBeVisible();
});
