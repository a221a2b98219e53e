import { readFile } from 'node:fs/promises';
import { expect, test, type Page } from '@playwright/test';
import mysql from 'mysql2/promise';
import { isClip } from '../../src/core/show/clips/source.ts';
import { plainSource } from '../../src/core/show/sources/source.ts';
import { accessible } from '../support/accessible.ts';
import { Page as Hub, until } from '../support/app.ts';
import { startDemo, type Demo } from '../support/demo.ts';

const EVENT = 'lantern-night';
const OLD_BROWSER =
	'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/90.0.4430.93 Safari/537.36';
let demo: Demo;
test.beforeEach(async () => void (demo = await startDemo()));
test.afterEach(async ({ context }) => {
	await context.close();
	await demo.close();
});

/** Lines of the check whose text has these words. */
const line = (page: Page, words: string | RegExp) =>
	page.getByRole('main').getByRole('listitem').filter({ hasText: words });
const ready = (page: Page, words: string | RegExp) =>
	expect(line(page, words).filter({ hasText: 'Ready.' }).first()).toBeVisible();
/** In half a day, whatever the time is now: shortly before the start, and after it, the check shows only what is open. */
const inHalfADay = () => new Date(Date.now() + 12 * 3_600_000).toISOString().slice(0, 16);

/** Asks the server as a page does. */
async function askDemo(path: string, method: string, body: unknown): Promise<void> {
	const headers = { 'Content-Type': 'application/json', Origin: demo.url };
	const answer = await fetch(demo.url + path, { method, headers, body: JSON.stringify(body) });
	expect(answer.status, path).toBeLessThan(300);
}
/**
 * Keeps a page busy for so long when it first hears from the server, as a small machine is that opens many pages. What
 * the page then says of its clock is written down.
 */
function holdUpFirstMessage(forMs: number): void {
	globalThis.WebSocket = class extends WebSocket {
		constructor(url: string | URL, protocols?: string | string[]) {
			super(url, protocols);
			const hold = () => {
				for (const until = performance.now() + forMs; performance.now() < until;);
			};
			if (String(url).includes('/live/')) this.addEventListener('message', hold, { once: true });
		}
		override send(data: string): void {
			const { type, station } = JSON.parse(data);
			if (type === 'station') document.documentElement.dataset.aheadMs = station.aheadMs;
			super.send(data);
		}
	};
}
/** A script that breaks the first input of the stand-in console, or mends it. */
const breakInput = (fault: string) => `{
	const switches = new BroadcastChannel('bivvo-stand-in-console');
	switches.postMessage({ input: 0, fault: '${fault}' });
	switches.close();
}`;

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

test('the lead can be left at any step, and is not met again on this machine', async ({ page }) => {
	await page.goto(demo.url);
	await page.getByLabel('Made from').selectOption({ label: 'Nothing: an empty event' });
	await page.getByRole('textbox', { name: 'Name' }).fill('Mending Day');
	await page.getByRole('button', { name: 'Make the event' }).click();
	await page.getByRole('button', { name: 'Add a camera' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Chapel wide' }).click();
	await expect(page.locator('[data-lead="sound"]')).toBeVisible();
	await page.getByRole('button', { name: 'I know my way' }).click();
	await expect(page.locator('[data-lead]')).toHaveCount(0);
	await page.reload();
	await expect(page.getByRole('link', { name: /^Open the line check: \d/ })).toBeVisible();
	await expect(page.locator('[data-lead]')).toHaveCount(0);
});

test('an event made of a template goes from red to green by the check’s own buttons, is rehearsed, and goes on air', async ({
	page,
	context,
}) => {
	test.slow();
	await page.goto(demo.url);
	await page.getByLabel('Made from').selectOption({ label: 'The template Hut evening' });
	await page.getByRole('textbox', { name: 'Name' }).fill('Mending Day');
	await page.getByLabel('Starts').fill(inHalfADay());
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
	// Who is busy while it is told the time does not have a wrong clock.
	const busy = await context.newPage();
	await busy.addInitScript(holdUpFirstMessage, 2000);
	await busy.goto(`${event}/sheet`);
	const told = () => busy.evaluate(() => Math.abs(Number(document.documentElement.dataset.aheadMs ?? 'none')));
	await expect.poll(told, { timeout: 20_000 }).toBeLessThan(200);
	await ready(check, 'All clocks agree.');
	await busy.close();

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

test('home has the next evening first, those after it by date, finds them, and puts away with a way back', async ({
	page,
}) => {
	await page.goto(demo.url);
	const next = page.getByRole('region', { name: 'Lantern Night' });
	await expect(next).toContainText(/begins in \d months/);
	await expect(next).toContainText('not looked at yet');
	await accessible(page);
	// Like the next one, every second Saturday of a month, and one more like it without a day.
	await next.getByRole('button', { name: 'Make one like it' }).click();
	await expect(page.getByLabel('Made from')).toHaveValue(`event ${EVENT}`);
	await page.getByRole('textbox', { name: 'Name' }).fill('Frost Fair');
	await page.getByLabel('Starts').fill('2031-01-11T19:00');
	await page.getByLabel('How often').selectOption({ label: 'Each month, second such weekday' });
	await page.getByRole('textbox', { name: 'How many' }).or(page.getByLabel('How many')).fill('3');
	await page.keyboard.press('Tab');
	await expect(page.getByText('Sat 11 Jan · Sat 8 Feb · Sat 8 Mar')).toBeVisible();
	await page.getByRole('button', { name: 'Make 3 events' }).click();
	await page.waitForURL(/\/events\/frost-fair-[^/]+\/prepare$/);
	await page.goto(demo.url);
	const frost = page.getByRole('listitem').filter({ has: page.getByRole('heading', { name: 'Frost Fair' }) });
	await expect(frost.getByText(/January|February|March/)).toHaveText([
		'Saturday 11 January 2031, 19:00',
		'Saturday 8 February 2031, 19:00',
		'Saturday 8 March 2031, 19:00',
	]);
	await frost.first().getByRole('button', { name: 'Change title, date, picture' }).click();
	await page.getByRole('listitem').getByRole('textbox', { name: 'Name' }).fill('Frost Fair and Supper');
	await page.getByRole('listitem').getByLabel('Picture').selectOption({ label: '1920 × 1080, needs a fast line' });
	await page.getByRole('button', { name: 'Save' }).click();
	await page.getByRole('searchbox', { name: 'Search titles' }).fill('supper');
	await expect(frost).toHaveCount(1);
	await expect(next).toHaveCount(0);
	for (const [press, said] of [
		['Archive', 'Frost Fair and Supper is archived.'],
		['Delete', 'Frost Fair and Supper is deleted. Its recordings stay.'],
	] as const) {
		await frost.getByRole('button', { name: press, exact: true }).click();
		await expect(page.getByText(said)).toBeVisible();
		await expect(frost.filter({ visible: true })).toHaveCount(0);
		await page.getByRole('button', { name: 'Undo' }).click();
		await expect(frost.filter({ visible: true })).toHaveCount(1);
	}
});

test('what is changed in a template is offered to events of it, and taken by a press', async ({ page, context }) => {
	await page.goto(demo.url);
	// The speaker is asked for no more.
	await page.getByRole('button', { name: 'Templates' }).click();
	await page.getByRole('button', { name: 'What it asks' }).click();
	const [speaker, start] = [
		page.getByRole('checkbox', { name: 'Speaker' }),
		page.getByRole('checkbox', { name: 'When it starts' }),
	];
	// One that cannot be kept is said, and stands as it was.
	await page.route('**/api/templates/*', (route) => route.abort());
	await start.click();
	await expect(page.getByRole('alert')).toBeVisible();
	await expect(start).toBeChecked();
	await page.unroute('**/api/templates/*');
	// On a slow line the second tick comes before the first is kept.
	let letGo = () => {};
	const held = new Promise<void>((resolve) => (letGo = resolve));
	await page.route('**/api/templates/*', async (route) => {
		await held;
		await route.continue();
	});
	await speaker.uncheck();
	await page.getByRole('checkbox', { name: 'Title and description at hosts' }).check();
	letGo();
	await expect(page.getByRole('textbox', { name: 'Speaker' })).toHaveCount(0);
	await expect(page.getByRole('textbox', { name: 'Title at hosts' })).toBeVisible();
	for (const name of ['Frost Fair', 'Mending Day in May']) {
		await page.goto(demo.url);
		await page.getByLabel('Made from').selectOption({ label: 'The template Hut evening' });
		await page.getByRole('textbox', { name: 'Name' }).fill(name);
		await page.getByRole('button', { name: 'Make the event' }).click();
		await page.waitForURL(/\/prepare$/);
	}
	const hub = new Hub(Number(new URL(demo.url).port), page.url().split('/').at(-2)!);
	await hub.welcome();
	await hub.applied(hub.do({ type: 'renameSource', sourceId: 'lectern', name: 'Lectern, near' }));
	hub.socket.close();
	const template = (on: Page) => on.getByRole('region', { name: 'Template' });
	await template(page).getByRole('button', { name: 'Change Hut evening to what this event has now' }).click();
	await expect(page.getByText('Hut evening is as this event.')).toBeVisible();
	const other = await context.newPage();
	await other.goto(demo.url);
	await other
		.getByRole('listitem')
		.filter({ has: other.getByRole('heading', { name: 'Frost Fair' }) })
		.getByRole('link', { name: 'Prepare' })
		.click();
	await expect(template(other).getByRole('listitem')).toContainText(['Lectern, near']);
	await accessible(other);
	await template(other).getByRole('button', { name: /^Take/ }).click();
	await expect(other.locator('[data-source="lectern"]').getByText('Lectern, near').first()).toBeVisible();
	await expect(template(other).getByRole('listitem')).toHaveCount(0);
});

test('what is done on a page before its scripts have come is done once they are there', async ({ page }) => {
	let letGo = () => {};
	const held = new Promise<void>((resolve) => (letGo = resolve));
	await page.route('**/_app/immutable/**/*.js', async (route) => {
		await held;
		await route.continue();
	});
	await page.goto(demo.url, { waitUntil: 'domcontentloaded' });
	await page.getByRole('button', { name: 'Export and import' }).click();
	await page.getByLabel('Made from').selectOption({ label: 'Nothing: an empty event' });
	await page.getByRole('textbox', { name: 'Name' }).fill('Bridge Supper');
	// Twice, since nothing happens.
	for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'Make the event' }).click();
	await expect(page.getByRole('button', { name: 'Export everything' })).toBeHidden();
	letGo();
	await page.waitForURL(/\/events\/bridge-supper-[^/]+\/prepare$/);
	await page.goto(demo.url);
	await expect(page.getByRole('heading', { name: 'Bridge Supper' })).toHaveCount(1);
});

test('everything is exported to a file, and taken in by another server', async ({ page, browser }) => {
	await page.goto(demo.url);
	await page.getByRole('button', { name: 'Export and import' }).click();
	const coming = page.waitForEvent('download');
	await page.getByRole('button', { name: 'Export everything' }).click();
	const file = await (await coming).path();
	const other = await startDemo();
	try {
		const there = await browser.newPage();
		await there.goto(other.url);
		await there.getByRole('button', { name: 'Export and import' }).click();
		await there.getByLabel('Import a file').setInputFiles({
			...{ name: 'torn.zip', mimeType: 'application/zip', buffer: (await readFile(file)).subarray(0, -200) },
		});
		await expect(there.getByRole('alert')).toContainText('torn');
		await there.getByLabel('Import a file').setInputFiles(file);
		await expect(there.getByText(/In it: .*Lantern Night/)).toBeVisible();
		await there.getByRole('button', { name: 'Take it in' }).click();
		await expect(there.getByText(/events? (was|were) taken in/)).toBeVisible();
		const lantern = there.getByRole('heading', { name: 'Lantern Night' });
		await expect(lantern).toHaveCount(2);
		await there.close();
	} finally {
		await other.close();
	}
});

/** Says for a page what its machine would say: how its battery is, what time it has, who presses on it. */
const UNREADY = `
	Object.defineProperty(navigator, 'getBattery', { value: () => Promise.resolve(
		Object.assign(new EventTarget(), { level: 0.34, charging: false }),
	) });
	const now = Date.now.bind(Date);
	Date.now = () => now() + 1500;
	globalThis.PressureObserver = class {
		constructor(tell) { this.tell = tell; }
		observe() { this.tell([{ state: 'critical' }]); return Promise.resolve(); }
		disconnect() {}
	};
`;

test('faults of cameras, console, host, line, database, disk and machines are each said in words while they last', async ({
	browser,
	page: check,
}) => {
	test.slow();
	const context = await browser.newContext({ userAgent: OLD_BROWSER });
	const desk = await context.newPage();
	await desk.addInitScript(UNREADY);
	const port = Number(new URL(demo.url).port);
	const hub = new Hub(port, EVENT);
	const { state } = await hub.welcome();
	await desk.goto(`${demo.url}/events/${EVENT}`);
	await check.goto(`${demo.url}/events/${EVENT}/check`);
	await ready(check, 'Lectern has a picture that moves');

	// Of the machine itself.
	for (const words of [
		'runs on its battery, 34 %. Plug it in.',
		// What the server's time takes on its way to a busy page comes on top of the second and a half.
		/The clock of .* is (1\.[4-9]|[23]\.\d) s fast/,
		'Other programs take much of this machine.',
		'is too old (Chromium 90). Update it.',
	])
		await expect(line(check, words)).toBeVisible();

	// Cameras.
	const lectern = state.setup.sources.find(({ id }) => id === 'lectern')!;
	for (const [standIn, words] of [
		['black-camera', 'Lectern is black.'],
		['frozen-camera', 'Lectern stands still.'],
		['nobody', 'Lectern has no picture.'],
	] as const) {
		await hub.applied(hub.do({ type: 'changeSource', source: { ...lectern, standIn } as never }));
		await expect(line(check, words).filter({ hasText: 'Not ready.' })).toBeVisible();
	}
	await hub.applied(hub.do({ type: 'changeSource', source: lectern }));
	await ready(check, 'Lectern has a picture that moves');

	// The console.
	await desk.evaluate(breakInput('hum'));
	await expect(line(check, /hum/i).first()).toBeVisible();
	await desk.evaluate(breakInput('none'));
	await expect(line(check, /hum/i)).toHaveCount(0);

	// The host.
	const ask = () => check.getByRole('button', { name: 'Ask the host' }).first().click();
	await demo.killHost();
	await ask();
	await expect(line(check, 'Nothing listens at').or(line(check, 'Ridge Channel: ')).first()).toBeVisible();
	await demo.startHost();
	await ask();
	await ready(check, 'Ridge Channel takes the stream.');

	// What was there, and is gone.
	const { mediaId } = state.setup.sources.find(isClip)!.items[0]!;
	const forget = (deleted: boolean) => askDemo(`/api/media/${mediaId}`, 'PATCH', { deleted });
	await forget(true);
	await expect(line(check, 'is not in the media library any more.')).toBeVisible();
	await forget(false);
	await expect(line(check, 'is not in the media library any more.')).toHaveCount(0);
	const seat = { kind: 'seat', shows: 'camera', empty: 'nothing', reservedFor: null } as const;
	await hub.applied(hub.do({ type: 'addSource', source: plainSource('seat', 'Seat 1', seat) }));
	await askDemo(`/api/events/${EVENT}/links`, 'POST', {
		...{ name: 'Ysolde Brann', role: 'guest', expiresAt: Date.now() + 8000, uses: 1 },
	});
	await expect(line(check, 'Ysolde Brann is not here yet.')).toBeVisible();
	await expect(line(check, 'The link of Ysolde Brann is over. Send a new one.')).toBeVisible();

	// The database.
	const connection = await mysql.createConnection({ uri: demo.databaseUrl });
	await connection.query('rename table commands to commands_away');
	hub.do({ type: 'renameEvent', title: 'Lantern Night, kept' });
	await expect(line(check, 'Changes cannot be written to the database.')).toBeVisible();
	await connection.query('rename table commands_away to commands');
	await connection.end();
	await ready(check, 'Changes are kept.');
	hub.socket.close();
	await context.close();
});
