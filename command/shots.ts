/** Makes the pictures of docs/screenshots from the demo event, in a demo of its own. */
import path from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { formatISO, nextSaturday } from 'date-fns';
import { CHROMIUM } from '../playwright.config.ts';
import { until } from '../tests/support/app.ts';
import { showSetUp, startDemo, type Demo } from '../tests/support/demo.ts';
import { comeAsGuest, guestLink } from '../tests/support/guests.ts';

const folder = path.resolve('docs/screenshots');
const SIZE = { width: 1280, height: 800 };
/** Still to come, so that the first page has it first. */
const day = { BIVVO_DEMO_DAY: formatISO(nextSaturday(Date.now()), { representation: 'date' }) };
const demo = await startDemo(undefined, day);
const browser = await chromium.launch(CHROMIUM);
const context = await browser.newContext({ viewport: SIZE });

async function shot(page: Page, name: string): Promise<void> {
	// Dialogs take a moment to open.
	await page.waitForTimeout(500);
	await page.screenshot({ path: path.join(folder, `${name}.png`) });
	console.log(`  ${name}.png`);
}

/** Several small pages in one picture, some in a row. */
async function composed(pages: readonly Page[], name: string): Promise<void> {
	await compose(await Promise.all(pages.map((page) => page.screenshot())), name, { ...SIZE, height: 1280 }, 2);
}

async function compose(
	pictures: readonly Buffer[],
	name: string,
	viewport: typeof SIZE,
	across: number,
): Promise<void> {
	const images = pictures.map((png) => `<img src="data:image/png;base64,${png.toString('base64')}">`);
	const sheet = await browser.newPage({ viewport });
	await sheet.setContent(
		`<style>body { margin: 0; display: grid; grid-template-columns: repeat(${across}, 1fr) } img { display: block }</style>${images.join('')}`,
	);
	await shot(sheet, name);
	await sheet.close();
}

/** A camera of the network in its sheet, and the watch page on a phone, before and live. */
async function reach(desk: Page): Promise<void> {
	const watch = { slug: 'lantern-night', access: 'public', captions: true, messages: true, recording: true };
	await fetch(`${demo.url}/api/events/lantern-night/destinations/watch`, {
		method: 'PUT',
		headers: { 'Content-Type': 'application/json', Origin: demo.url },
		body: JSON.stringify({ id: 'own-page', name: 'Our own page', watch, password: null }),
	});
	const viewer = await browser.newPage({ viewport: { width: SIZE.width, height: SIZE.height } });
	await viewer.goto(`${demo.url}/watch/lantern-night`);
	await viewer.locator('[data-left]').filter({ hasText: 'in' }).waitFor();
	await desk.goto(`${demo.url}/events/lantern-night`);
	await desk.getByRole('button', { name: 'Add a source' }).click();
	await desk.getByRole('button', { name: 'Add a network camera' }).click();
	await desk.getByRole('button', { name: 'Let the stand-in send' }).click();
	await desk.getByLabel('The largest picture it could send').selectOption('1920x1080');
	await desk.getByText('It sends 640 × 480').waitFor();
	await desk.waitForTimeout(2000);
	await stacked([await desk.screenshot(), await viewer.screenshot()], 'reach');
	await viewer.close();
	await desk.getByRole('button', { name: 'Done' }).click();
	await desk.getByRole('button', { name: 'Remove Network camera' }).click();
}

/** The doors of a Bivvo that others can reach. */
async function doors(): Promise<void> {
	const reached = await startDemo(undefined, { ...day, BIVVO_ORIGIN: 'https://bivvo.example.org' });
	const url = reached.url.replace('127.0.0.1', 'localhost');
	const small = { viewport: { width: SIZE.width / 2, height: 640 } };
	try {
		const setUp = await browser.newPage(small);
		await setUp.goto(url);
		const owner = await (await browser.newContext({ viewport: SIZE })).newPage();
		await owner.goto(url);
		await owner.getByLabel('Code from the terminal').fill(await reached.setUpCode());
		await owner.getByLabel('Your name').fill('Maren Oakshaw');
		await owner.getByLabel('Name to sign in with').fill('maren');
		await owner.getByLabel('New password').fill('kettle snow lantern walk');
		await owner.getByRole('button', { name: 'Make me the owner' }).click();
		await owner.getByRole('heading', { name: 'Your account' }).waitFor();
		await owner.goto(`${url}/people`);
		await owner.getByRole('button', { name: 'Pair a device' }).click();
		await owner.getByRole('button', { name: 'Show a code' }).click();
		const code = (await owner.locator('[data-code]').textContent())!;
		const tablet = await browser.newPage(small);
		await tablet.goto(`${url}/pair#${code.replace(' ', '')}`);
		await tablet.getByRole('button', { name: 'Pair', exact: true }).click();
		await owner.getByRole('heading', { name: 'Tablet at the sound desk' }).waitFor();
		await owner.getByLabel('Name', { exact: true }).fill('Sam Fell');
		await owner.getByRole('button', { name: 'Make the invitation' }).click();
		await owner.getByRole('button', { name: 'Show a code' }).click();
		await owner.locator('[data-code]').waitFor();
		// No picture shows a secret, not even of a server that is gone.
		await owner.locator('[data-invitation]').evaluate((input: HTMLInputElement) => {
			input.value = 'https://bivvo.example.org/join#…';
		});
		await owner.evaluate(() => window.scrollTo(0, 0));
		await shot(owner, 'people');
		const signIn = await browser.newPage(small);
		await signIn.goto(`${url}/sign-in`);
		await tablet.goto(`${url}/events/lantern-night`);
		const pair = await browser.newPage(small);
		await pair.goto(`${url}/pair`);
		await composed([setUp, signIn, pair, tablet], 'doors');
	} finally {
		await reached.close();
	}
}

/** Goes on air at a demo, on a desk of its own: nothing else is watched meanwhile. */
async function onAir(there: Demo): Promise<Page> {
	const desk = await (await browser.newContext({ viewport: SIZE })).newPage();
	desk.on('dialog', (dialog) => void dialog.accept());
	await showSetUp(desk);
	await desk.goto(`${there.url}/events/lantern-night`);
	await desk.locator('[data-source="choir-left"]').getByText('1280 × 720').waitFor();
	await desk.getByRole('button', { name: 'Go on air' }).click();
	await desk.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await desk
		.getByRole('banner')
		.filter({ hasText: /ON AIR/i })
		.waitFor();
	return desk;
}

/** Two guests come on phones; one of them goes on air, the other waits. */
async function guests(): Promise<void> {
	const there = await startDemo(undefined, day);
	try {
		const desk = await onAir(there);
		await guestsAt(there, desk);
		await desk.context().close();
	} finally {
		await there.close();
	}
}

/** Three nodes: one has an event on air, one is gone, one is idle. */
async function nodes(): Promise<void> {
	const there = await startDemo(undefined, day, 3);
	try {
		const desk = await onAir(there);
		const page = await desk.context().newPage();
		await page.goto(`${there.url}/nodes`);
		const busy = page.locator('[data-node]').filter({ hasText: '1 on air' });
		await busy.waitFor();
		const text = (await busy.textContent())!;
		there.nodes.find(({ url }) => !text.includes(new URL(url).host))!.kill('SIGKILL');
		await page.getByText('▲ Gone').waitFor();
		await shot(page, 'nodes');
		await desk.context().close();
	} finally {
		await there.close();
	}
}

async function guestsAt(there: Demo, desk: Page): Promise<void> {
	const phone = { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true };
	const [ysolde, pello] = [await guestLink(there, 'Ysolde Brann'), await guestLink(there, 'Pello Arrizun')];
	await desk.getByRole('button', { name: 'Guests', exact: true }).click();
	await desk.getByRole('button', { name: 'Add a seat', exact: true }).click();
	const invited = await (await browser.newContext(phone)).newPage();
	await invited.goto(ysolde.address.replace('#', '?standIn=cold-tarn#'));
	await invited.getByRole('button', { name: 'Get ready' }).waitFor();
	const pictures = [await invited.screenshot()];
	await invited.getByRole('button', { name: 'Get ready' }).click();
	await invited.getByRole('button', { name: 'Ask to be let in' }).waitFor();
	await invited.waitForTimeout(6000);
	pictures.push(await invited.screenshot());
	await invited.getByRole('button', { name: 'Ask to be let in' }).click();
	const other = await comeAsGuest(browser, pello.address, 'three-larches', { ...phone, colorScheme: 'dark' });
	await desk.locator(`[data-guest="${ysolde.id}"]`).getByRole('button', { name: 'To the first free seat' }).click();
	await desk.getByRole('button', { name: /: Seat 1$/ }).click();
	await desk.getByRole('button', { name: 'Take Seat 1' }).click();
	await invited.getByText('ON AIR: everybody sees and hears you').waitFor();
	await desk.waitForTimeout(5000);
	pictures.push(await other.screenshot(), await invited.screenshot());
	await compose(pictures, 'guests', { width: 4 * 390, height: 844 }, 4);
}

/** Two pages of one size, one above the other. */
async function stacked(pictures: readonly Buffer[], name: string): Promise<void> {
	await compose(pictures, name, { ...SIZE, height: SIZE.height * pictures.length }, 1);
}

/** Songs of the library, the page of whoever turns the words, the hall and the stage. */
async function words(desk: Page): Promise<void> {
	const songs = await context.newPage();
	await songs.goto(`${demo.url}/songs`);
	await songs.getByRole('button', { name: /^Lamp on the Col/ }).click();
	await songs.getByRole('group', { name: 'In the hall' }).first().waitFor();
	const turns = await context.newPage();
	turns.on('dialog', (dialog) => void dialog.accept());
	await turns.goto(`${demo.url}/events/lantern-night/words`);
	await turns.getByRole('button', { name: 'Add from the library' }).click();
	for (const title of ['Lamp on the Col', 'Carry the Water'])
		await turns.getByRole('button', { name: `+ ${title}` }).click();
	await turns.getByRole('button', { name: 'Done' }).click();
	for (let i = 0; i < 4; i++) await turns.keyboard.press('Space');
	const screen = { viewport: { width: 1920, height: 1080 } };
	const [hall, stage] = [await browser.newPage(screen), await browser.newPage(screen)];
	await hall.goto(`${demo.url}/events/lantern-night/hall`);
	await stage.goto(`${demo.url}/events/lantern-night/stage`);
	await stage.getByRole('region', { name: 'Now' }).getByText(/./).first().waitFor();
	await turns.waitForTimeout(4000);
	await stacked([await songs.screenshot(), await turns.screenshot()], 'words');
	await compose([await hall.screenshot(), await stage.screenshot()], 'hall', { width: 1920, height: 2160 }, 1);
	for (const page of [songs, turns, hall, stage]) await page.close();
	await desk.bringToFront();
}

/** The run sheet, a panel and a tally on phones; where panels are made, and one on a tablet. */
async function hands(sheet: Buffer): Promise<void> {
	const phone = { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true };
	const made = await context.newPage();
	await made.goto(`${demo.url}/events/lantern-night/panels`);
	await made.getByRole('button', { name: 'Make a copy to change' }).click();
	await made.locator('[data-button]').nth(1).click();
	const tablet = await browser.newPage({ viewport: { width: 1024, height: 768 } });
	await tablet.goto(`${demo.url}/events/lantern-night/panel/event`);
	const small = await browser.newContext(phone);
	const [panel, tally] = [await small.newPage(), await small.newPage()];
	await panel.goto(`${demo.url}/events/lantern-night/panel/event`);
	await panel.getByRole('button', { name: 'Sound', exact: true }).click();
	await tally.goto(`${demo.url}/events/lantern-night/tally`);
	await tally.getByRole('button', { name: 'Lectern' }).click();
	await tablet.waitForTimeout(5000);
	const phones = [sheet, await panel.screenshot(), await tally.screenshot()];
	await compose(phones, 'phones', { width: 3 * 390, height: 844 }, 3);
	await stacked([await made.screenshot(), await tablet.screenshot()], 'panels');
	await small.close();
	for (const page of [made, tablet]) await page.close();
}

try {
	await doors();
	const desk = await context.newPage();
	desk.on('dialog', (dialog) => void dialog.accept());
	await desk.goto(demo.url);
	await desk.waitForTimeout(500);
	const home = await desk.screenshot();
	await desk.goto(`${demo.url}/media`);
	await desk.locator('[data-media]').filter({ hasText: 'LUFS' }).nth(2).waitFor();
	await stacked([home, await desk.screenshot()], 'home');
	await desk.goto(`${demo.url}/events/lantern-night/prepare`);
	await desk.locator('[data-source="choir-left"]').getByText('1280 × 720').waitFor();
	await desk.waitForTimeout(2000);
	const prepared = await desk.screenshot();
	await desk.getByRole('button', { name: 'Dry run' }).click();
	for (let i = 0; i < 3; i++) await desk.getByRole('button', { name: 'Step on' }).click();
	await desk.waitForTimeout(500);
	await stacked([prepared, await desk.screenshot()], 'prepare');
	const check = await context.newPage();
	await check.goto(`${demo.url}/events/lantern-night/check`);
	await check.getByText('Lectern has a picture that moves').waitFor();
	await check.getByRole('button', { name: 'Ask the host' }).click();
	await check.getByText('Ridge Channel takes the stream.').waitFor();
	await check.evaluate(() => window.scrollTo(0, 0));
	await shot(check, 'check');
	await check.close();
	await desk.bringToFront();
	await showSetUp(desk);
	await desk.goto(`${demo.url}/events/lantern-night`);
	await desk.locator('[data-source="choir-left"]').getByText('1280 × 720').waitFor();
	await desk.waitForTimeout(2000);
	const left = (name: string) => desk.getByRole('button', { name, exact: true }).click();
	await left('Run sheet');
	const offAir = await desk.screenshot();
	await left('Sources, destinations');

	await desk.getByRole('button', { name: 'Change Valley Relay' }).click();
	await stacked([offAir, await desk.screenshot()], 'desk-off-air');
	await desk.getByRole('button', { name: 'Cancel' }).click();

	await reach(desk);
	await desk.getByRole('button', { name: 'Edit Talk and chapel' }).click();
	await desk.waitForTimeout(1000);
	const scene = await desk.screenshot();
	await desk.getByRole('button', { name: 'Done' }).click();
	await desk.getByRole('button', { name: 'Chapel wide', exact: true }).click();
	await desk.getByRole('button', { name: 'Add a patch' }).click();
	await desk.waitForTimeout(1000);
	await stacked([scene, await desk.screenshot()], 'scene');
	await desk.getByRole('button', { name: /^Remove the patch/ }).click();
	await desk.getByRole('button', { name: 'Done' }).click();
	await desk.getByRole('button', { name: 'Season on the fell', exact: true }).click();
	await desk.getByRole('button', { name: 'Play', exact: true }).click();
	await desk.waitForTimeout(6000);
	const clip = await desk.screenshot();
	await desk.getByRole('button', { name: 'From the start' }).click();
	await desk.getByRole('button', { name: 'Done' }).click();
	await desk.getByRole('button', { name: 'Names and overlays…' }).click();
	await desk.keyboard.press('l');
	await desk.getByRole('button', { name: 'Show Lantern draw' }).click();
	await desk.waitForTimeout(1000);
	await stacked([clip, await desk.screenshot()], 'overlays');
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
	// Its hint would cover the line above.
	await desk.mouse.move(640, 300);
	await desk.evaluate('document.activeElement.blur()');
	await desk.waitForTimeout(1500);
	await desk.keyboard.press('Space');
	await desk.waitForTimeout(7000);
	await shot(desk, 'desk-on-air');

	const phone = await browser.newPage({ viewport: { width: 390, height: 844 } });
	await phone.goto(`${demo.url}/events/lantern-night/sheet`);
	await phone.getByRole('button', { name: 'This is my line: Talk with Cold Tarn' }).click();
	await phone.evaluate(() => window.scrollTo(0, 0));
	await phone.waitForTimeout(1000);
	const sheet = await phone.screenshot();
	await phone.close();
	await desk.waitForTimeout(6000);

	const mixer = await context.newPage();
	await mixer.goto(`${demo.url}/events/lantern-night/mix`);
	await mixer.waitForTimeout(15_000);
	await shot(mixer, 'mix');
	await mixer.close();
	await hands(sheet);
	await words(desk);

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
	const recorded = await desk.screenshot();
	for (const [chapter, press] of [
		['Welcome', 'Excerpt from here'],
		['Greeting at the lectern', 'to here'],
	] as const) {
		await desk.getByRole('button', { name: chapter }).click();
		await desk.waitForTimeout(500);
		await desk.getByRole('button', { name: press, exact: true }).click();
	}
	await desk.getByRole('button', { name: 'A clip for phones' }).click();
	await desk.getByRole('button', { name: 'Follow what was on air' }).click();
	await desk.getByLabel('Text upon it').selectOption('own');
	await desk.getByLabel('Text', { exact: true }).fill('Lantern Night');
	await desk.evaluate('window.scrollTo(0, document.body.scrollHeight)');
	await desk.waitForTimeout(500);
	const maker = await desk.screenshot();
	await desk.getByRole('link', { name: 'Report of the broadcast' }).click();
	await desk.getByRole('heading', { name: 'What happened' }).waitFor();
	await desk.waitForTimeout(1000);
	await stacked([recorded, maker, await desk.screenshot()], 'report');
	await desk.close();
	await guests();
	await nodes();
} finally {
	await browser.close();
	await demo.close();
}
