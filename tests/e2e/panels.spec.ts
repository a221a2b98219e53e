/** Pages in the hands of the crew: panels, macros, tally, messages. */
import { expect, test, type Browser, type BrowserContextOptions, type Page } from '@playwright/test';
import { accessible } from '../support/accessible.ts';
import { until } from '../support/app.ts';
import { startDemo, type Demo } from '../support/demo.ts';
import { heardOn } from '../support/guests.ts';

const EVENT = 'lantern-night';
const PHONE = { viewport: { width: 390, height: 844 }, hasTouch: true };
const TABLET = { viewport: { width: 1024, height: 768 } };

let demo: Demo;
test.beforeEach(async () => void (demo = await startDemo()));
test.afterEach(async ({ browser }) => {
	for (const context of browser.contexts()) await context.close();
	await demo.close();
});

async function open(browser: Browser, path: string, options: BrowserContextOptions = {}): Promise<Page> {
	const page = await (await browser.newContext(options)).newPage();
	await page.goto(`${demo.url}/events/${EVENT}${path}`);
	return page;
}
const button = (page: Page, name: string | RegExp) => page.getByRole('main').getByRole('button', { name });
const toPage = (page: Page, name: string) =>
	page.getByRole('navigation', { name: 'Pages of this panel' }).getByRole('button', { name, exact: true }).click();

test('the event’s own panel on a phone and on a tablet at once, and through a torn connection', async ({ browser }) => {
	const [phone, tablet] = [await open(browser, '/panel/event', PHONE), await open(browser, '/panel/event', TABLET)];
	await button(phone, /^Harmonium/).tap();
	await expect(button(tablet, 'Harmonium, NEXT')).toBeVisible();
	await button(tablet, 'Take Harmonium').click();
	await expect(button(phone, 'Harmonium, PROGRAM')).toHaveAttribute('aria-pressed', 'true');
	await toPage(phone, 'Sound');
	await button(phone, 'Hush').tap();
	await expect(button(phone, 'Hush, HUSHED')).toBeVisible();
	await toPage(phone, 'Names');
	await button(phone, /^Maren Oakshaw/).tap();
	await expect(button(phone, 'Maren Oakshaw, ON')).toBeVisible();
	await accessible(phone);
	await accessible(tablet);

	// What was set up since is on a button by itself.
	const prepare = await open(browser, '/panels');
	await prepare.getByRole('button', { name: '+ New macro' }).click();
	await expect(prepare.getByRole('region', { name: 'Macro 1' })).toBeVisible();
	await toPage(tablet, 'Macros');
	await expect(button(tablet, 'Macro 1')).toBeVisible();

	await demo.crashServer();
	await expect(phone.getByText('No connection. Nothing you press here is done.')).toHaveCount(0);
	await button(phone, 'Lantern draw').tap();
	await expect(button(phone, 'Lantern draw, ON')).toBeVisible();
	// Nobody hangs up: the server only says nothing more, as out of reach of the radio.
	process.kill(demo.serverPid(), 'SIGSTOP');
	await expect(phone.getByText('No connection. Nothing you press here is done.')).toBeVisible();
	await expect(button(phone, /^Maren Oakshaw/)).toBeDisabled();
	process.kill(demo.serverPid(), 'SIGCONT');
	await expect(button(phone, /^Maren Oakshaw/)).toBeEnabled();
});

test('a macro is made, runs on the server with nobody there, is stopped half way, and asks first where it should', async ({
	browser,
}) => {
	const prepare = await open(browser, '/panels');
	await prepare.getByRole('button', { name: '+ New macro' }).click();
	const editor = prepare.getByRole('region', { name: 'Macro 1' });
	await editor.getByRole('button', { name: 'Action', exact: true }).click();
	const step = (at: number) => editor.locator(`[data-step="${at}"]`);
	await step(0).getByLabel('Step 1').last().selectOption('hush');
	await step(0).getByLabel('Which way').selectOption('on');
	await editor.getByRole('button', { name: 'Pause', exact: true }).click();
	await step(1).getByLabel('Pause').fill('3');
	await step(1).getByLabel('Pause').press('Tab');
	await editor.getByRole('button', { name: 'Action', exact: true }).click();
	await step(2).getByLabel('Step 3').last().selectOption('take-scene');
	await step(2).getByLabel('Scene').selectOption({ label: 'Thank you' });
	const phone = await open(browser, '/panel/event', PHONE);
	await toPage(phone, 'Macros');
	await button(phone, 'Macro 1').tap();
	await expect(button(phone, 'Macro 1, RUNNING')).toBeVisible();
	await phone.getByRole('button', { name: 'Stop Macro 1' }).tap();
	await expect(phone.getByRole('button', { name: 'Stop Macro 1' })).toHaveCount(0);
	await toPage(phone, 'Sound');
	await expect(button(phone, 'Hush, HUSHED')).toBeVisible();

	await editor.getByText('Ask once more before it runs').click();
	await toPage(phone, 'Macros');
	await button(phone, 'Macro 1 …').tap();
	// The finger that has brought the question up is let go beside it: that is no answer.
	await expect(phone.getByRole('dialog')).toBeVisible();
	await phone.touchscreen.tap(10, 10);
	await expect(phone.getByRole('dialog')).toBeVisible();
	await phone.getByRole('dialog').getByRole('button', { name: 'Yes' }).tap();
	await expect(button(phone, 'Macro 1 …, RUNNING')).toBeVisible();
	await phone.close();
	await prepare.close();
	// Nobody is there while it waits.
	const after = await open(browser, '/panel/event', PHONE);
	await expect(button(after, 'Thank you, PROGRAM')).toBeVisible();

	await toPage(after, 'Macros');
	await button(after, 'Everything off').tap();
	await expect(button(after, 'Everything off, DONE, press to undo')).toBeVisible();
	await toPage(after, 'Scenes');
	await expect(button(after, 'Back shortly, PROGRAM')).toBeVisible();
	await toPage(after, 'Macros');
	await button(after, /^Everything off/).tap();
	await toPage(after, 'Scenes');
	await expect(button(after, 'Thank you, PROGRAM')).toBeVisible();
});

test('a panel is composed by hand: buttons, gestures, order by dragging, undo', async ({ browser }) => {
	const prepare = await open(browser, '/panels');
	await prepare.getByRole('button', { name: '+ New panel' }).click();
	const editor = prepare.getByRole('region', { name: 'Panel 1' });
	await editor.getByRole('button', { name: '+ New button' }).click();
	const chosen = editor.getByRole('region', { name: 'Button' });
	await chosen.getByLabel('A press').last().selectOption('next-scene');
	await chosen.getByLabel('Scene').first().selectOption({ label: 'Choir left' });
	await chosen.getByLabel('Held').last().selectOption('take-scene');
	await chosen.getByLabel('Scene').nth(1).selectOption({ label: 'Choir left' });
	await editor.getByRole('button', { name: '+ New button' }).click();
	await chosen.getByLabel('A press').last().selectOption('black');
	const buttons = editor.locator('[data-button]');
	await expect(buttons).toHaveText(['Choir left', 'Black']);
	await buttons.nth(1).dragTo(buttons.nth(0));
	await expect(buttons).toHaveText(['Black', 'Choir left']);
	await prepare.getByRole('button', { name: 'Undo', exact: true }).click();
	await expect(buttons).toHaveText(['Choir left', 'Black']);
	await accessible(prepare);

	const [panel] = await Promise.all([
		prepare.context().waitForEvent('page'),
		editor.getByRole('link', { name: 'Open' }).click(),
	]);
	await button(panel, /^Choir left/).click();
	await expect(button(panel, 'Choir left, NEXT')).toBeVisible();
	await button(panel, /^Choir left/).click({ delay: 700 });
	await expect(button(panel, 'Choir left, PROGRAM')).toBeVisible();
	await prepare.getByRole('region', { name: 'Panel 1' }).getByRole('button', { name: 'Remove' }).first().click();
	await expect(panel.getByText('This panel is not there any more.')).toBeVisible();
});

test('tally: a camera person sees whether viewers see them, also of a framing, never wrongly; messages go both ways', async ({
	browser,
}) => {
	const tally = await open(browser, '/tally', PHONE);
	await tally.getByRole('button', { name: 'Chapel wide' }).tap();
	const stands = tally.getByRole('main');
	const director = await open(browser, '/panel/event', TABLET);
	await button(director, /^Harmonium/).click();
	await expect(stands).toHaveAttribute('data-tally', 'next');
	await button(director, 'Take Harmonium').click();
	await expect(stands).toHaveAttribute('data-tally', 'program');
	await expect(tally.getByRole('status')).toHaveText('IN THE PICTURE');
	await accessible(tally);
	process.kill(demo.serverPid(), 'SIGSTOP');
	await expect(stands).toHaveAttribute('data-tally', 'unknown');
	process.kill(demo.serverPid(), 'SIGCONT');
	await expect(stands).toHaveAttribute('data-tally', 'program');
	await tally.reload();
	await expect(stands).toHaveAttribute('data-tally', 'program');

	await director.getByRole('button', { name: 'Crew' }).click();
	await director.getByLabel('To', { exact: true }).selectOption({ label: 'Chapel wide' });
	await director.getByRole('button', { name: 'Closer' }).click();
	const message = tally.locator('[data-crew]');
	await expect(message).toContainText('Closer');
	await message.getByRole('button', { name: 'Seen' }).tap();
	await expect(message).toHaveCount(0);
	await expect(director.getByText('seen by Chapel wide')).toBeVisible();
	await tally.getByRole('button', { name: 'Write to the crew' }).tap();
	await tally.getByPlaceholder('Write to the crew').fill('Battery is low');
	await tally.getByRole('button', { name: 'Send' }).tap();
	await expect(director.locator('[data-crew]')).toContainText('Battery is low');
});

test('an action writes to viewers through the hosts’ accounts', async ({ browser }) => {
	const prepare = await open(browser, '/panels');
	await prepare.getByRole('button', { name: '+ New macro' }).click();
	const editor = prepare.getByRole('region', { name: 'Macro 1' });
	await editor.getByRole('button', { name: 'Action', exact: true }).click();
	await editor.getByLabel('Step 1').last().selectOption('viewer-chat');
	await editor.getByLabel('What is said').fill('The draw begins in five minutes.');
	await editor.getByLabel('What is said').press('Tab');
	await expect(editor.getByRole('button', { name: 'Try it' })).toBeVisible();

	const desk = await open(browser, '');
	await desk.getByRole('button', { name: 'Go on air' }).click();
	await desk.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await until('pictures at the host', async () => (await demo.place('ridge')).pictures > 0);
	await editor.getByRole('button', { name: 'Try it' }).click();
	const said = async () => {
		const answer = await fetch(`${demo.hostUrl}/messages/ridge`);
		return answer.ok ? await answer.text() : '';
	};
	await expect.poll(said).toContain('The draw begins in five minutes.');
});

test('a phone of the crew hears the desk while somebody holds the button, and nothing otherwise', async ({
	browser,
}) => {
	const context = await browser.newContext({ permissions: ['microphone'] });
	const desk = await context.newPage();
	await desk.goto(`${demo.url}/events/${EVENT}`);
	await desk.getByRole('button', { name: 'Crew', exact: true }).click();
	const talk = desk.getByRole('button', { name: 'Speak to the crew (hold)' });
	await expect(talk).toBeVisible();
	const phone = await open(browser, '/panel/event', PHONE);
	await phone.getByRole('button', { name: 'Crew', exact: true }).tap();
	await phone.getByRole('button', { name: 'Hear the desk' }).tap();
	await expect(phone.getByRole('button', { name: 'Hears the desk' })).toBeVisible();
	const loudness = async () => {
		const sound = await heardOn(phone, `document.querySelector('[data-talkback]').srcObject.getAudioTracks()[0]`, 1);
		return Math.sqrt(sound.reduce((sum, sample) => sum + sample * sample, 0) / sound.length);
	};
	expect(await loudness()).toBeLessThan(1e-3);
	await talk.hover();
	await desk.mouse.down();
	await expect.poll(loudness).toBeGreaterThan(1e-2);
	await desk.mouse.up();
	await expect.poll(loudness).toBeLessThan(1e-3);
});
