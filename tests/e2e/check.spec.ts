import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { until } from '../support/app.ts';
import { startDemo, type Demo } from '../support/demo.ts';

let demo: Demo;
test.beforeEach(async () => void (demo = await startDemo()));
test.afterEach(async ({ context }) => {
	await context.close();
	await demo.close();
});

async function accessible(page: Page): Promise<void> {
	const found = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
	expect(found.violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)).toEqual([]);
}
/** Lines of the check whose text has these words. */
const line = (page: Page, words: string | RegExp) =>
	page.getByRole('main').getByRole('listitem').filter({ hasText: words });
const ready = (page: Page, words: string | RegExp) =>
	expect(line(page, words).filter({ hasText: 'Ready.' }).first()).toBeVisible();
/** Today at the venue, so late that the evening is still to come. */
const today = () => `${new Date().toISOString().slice(0, 10)}T23:50`;

test('a newcomer is led from nothing to a rehearsal, in a dozen presses and without a dead end', async ({
	page,
}, info) => {
	await page.goto(demo.url);
	const begun = Date.now();
	let presses = 0;
	const press = async (name: string | RegExp, within: Pick<Page, 'getByRole'> = page) => {
		presses++;
		await within
			.getByRole('button', { name, exact: typeof name === 'string' })
			.first()
			.click();
	};
	await page.getByLabel('Made from').selectOption({ label: 'Nothing: an empty event' });
	await page.getByRole('textbox', { name: 'Name' }).fill('Mending Day');
	await press('Make the event');
	const lead = (step: string) => expect(page.locator(`[data-lead="${step}"]`)).toBeVisible();
	await lead('camera');
	await press('Add a camera');
	await press('Chapel wide', page.getByRole('dialog'));
	await lead('sound');
	await press('Add the sound');
	await press('Console', page.getByRole('dialog'));
	await lead('destination');
	await press('Choose where it goes');
	presses++;
	await page.getByRole('checkbox', { name: 'Send to Ridge Channel' }).check();
	await lead('take');
	await press('Take it');
	await lead('rehearse');
	await press('Rehearse');
	await press('Rehearse instead', page.getByRole('dialog'));
	await expect(page.getByRole('banner')).toContainText('REHEARSAL');
	const seconds = Math.round((Date.now() - begun) / 1000);
	info.annotations.push({ type: 'walk', description: `${presses} presses, ${seconds} s` });
	console.log(`From nothing to a rehearsal: ${presses} presses, ${seconds} s.`);
	expect(presses).toBeLessThanOrEqual(12);
	await expect(page.getByRole('alert').getByRole('listitem')).toHaveCount(0);
	expect((await demo.place('ridge')).pictures).toBe(0);
});

test('an event made of a template goes from red to green by the check’s own buttons, is rehearsed, and goes on air', async ({
	page,
	context,
}) => {
	test.slow();
	await page.goto(demo.url);
	await page.getByLabel('Made from').selectOption({ label: 'The template Hut evening' });
	await page.getByRole('textbox', { name: 'Name' }).fill('Mending Day');
	await page.getByLabel('Starts').fill(today());
	await page.getByRole('textbox', { name: 'Speaker' }).fill('Bram Keld');
	await page.getByRole('button', { name: 'Make the event' }).click();
	await page.waitForURL(/\/events\/mending-day-[^/]+\/prepare$/);
	const event = page.url().replace(/\/prepare$/, '');
	await expect(page.getByRole('textbox', { name: 'Speaker' })).toHaveValue('Bram Keld');

	const check = await context.newPage();
	await check.goto(`${event}/check`);
	await expect(check.getByRole('heading', { name: 'Line check' })).toBeVisible();
	// What the page that makes the pictures sees.
	for (const camera of ['Lectern', 'Chapel wide', 'Choir left'])
		await ready(check, `${camera} has a picture that moves`);
	await ready(check, 'Changes are kept.');
	await ready(check, 'All clocks agree.');
	await accessible(check);

	await line(check, 'Nobody has asked Ridge Channel yet').getByRole('button', { name: 'Ask the host' }).click();
	await ready(check, 'Ridge Channel takes the stream.');
	await line(check, 'The line was not measured lately').getByRole('button', { name: 'Measure the line' }).click();
	await expect(line(check, /The line (carries|wavers)/)).toBeVisible({ timeout: 60_000 });
	// Names of last time are looked at, one by one.
	const stale = line(check, 'still right this time?');
	for (let left = await stale.count(); left > 0; left--) {
		await stale.first().getByRole('button', { name: 'It is right' }).click();
		await expect(stale).toHaveCount(left - 1);
	}
	// A cable that is pulled is said here as well, and no longer when it is back.
	await page.bringToFront();
	await expect(line(check, 'Nobody has rehearsed yet.')).toBeVisible();
	await check.getByRole('link', { name: 'Rehearse' }).click();
	await check.getByRole('dialog').getByRole('button', { name: 'Rehearse instead' }).click();
	await expect(check.getByRole('banner')).toContainText('REHEARSAL');
	await check.getByRole('button', { name: 'End the rehearsal' }).click();
	await check.getByRole('dialog').getByRole('button', { name: 'End the rehearsal' }).click();
	await expect(check.getByText('Off air')).toBeVisible();

	const again = await context.newPage();
	await again.goto(`${event}/check`);
	await ready(again, 'nothing was changed since');
	await check.bringToFront();
	await check.getByRole('button', { name: 'Go on air' }).click();
	await check.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await until('pictures at the host', async () => (await demo.place('ridge')).pictures > 30);
});

test('home has the next evening first, those after it by date, and puts away with a way back', async ({ page }) => {
	await page.goto(demo.url);
	const next = page
		.getByRole('region', { name: 'Mending Day' })
		.or(page.getByRole('region', { name: 'Lantern Night' }));
	await expect(next.first()).toContainText(/begins in|has begun/);
	await accessible(page);
	const row = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: 'Mending Day' }) });
	if ((await row.count()) > 0) {
		await row.getByRole('button', { name: 'Archive' }).click();
		await expect(page.getByText('Mending Day is archived.')).toBeVisible();
		await expect(row).toHaveCount(0);
		await page.getByRole('button', { name: 'Undo' }).click();
		await expect(row).toBeVisible();
	}
});
