import { mkdir, readdir, rename } from 'node:fs/promises';
import { expect, test, type Browser, type BrowserContext, type Page } from '@playwright/test';
import { Secret, TOTP } from 'otpauth';
import { accessible } from '../support/accessible.ts';
import { startDemo, type Demo } from '../support/demo.ts';

const PASSWORD = 'kettle snow lantern walk';
let demo: Demo;
let url: string;
/** Opened by the name of this machine, as if somebody else could reach it: everybody signs in. */
test.beforeAll(async () => {
	demo = await startDemo(undefined, { BIVVO_ORIGIN: 'https://bivvo.example.org' });
	url = demo.url.replace('127.0.0.1', 'localhost');
});
test.afterAll(() => demo.close());

async function tablet(browser: Browser): Promise<{ context: BrowserContext; page: Page }> {
	const context = await browser.newContext({ viewport: { width: 1024, height: 768 } });
	return { context, page: await context.newPage() };
}
/** What opens the owner's account: the code that the terminal shows. */
async function becomeOwner(page: Page): Promise<void> {
	await page.goto(url);
	await expect(page.getByRole('heading', { name: 'Who owns this Bivvo?' })).toBeVisible();
	await accessible(page);
	await page.getByLabel('Code from the terminal').fill(await demo.setUpCode());
	await page.getByLabel('Your name').fill('Maren Oakshaw');
	await page.getByLabel('Name to sign in with').fill('maren');
	await page.getByLabel('New password').fill(PASSWORD);
	await page.getByRole('button', { name: 'Make me the owner' }).click();
	await expect(page.getByRole('heading', { name: 'Your account' })).toBeVisible();
}

/** An owner chooses a disk for recordings; it goes, and the desk says so. */
async function recordElsewhere(page: Page): Promise<void> {
	const folder = page.getByLabel('Folder for recordings on the server');
	const use = page.getByRole('button', { name: 'Use this folder' });
	await expect(use).toBeDisabled();
	await folder.fill('recordings');
	await use.click();
	await expect(page.getByText('“recordings” is no whole path of a folder.')).toBeVisible();
	await folder.fill('/no-such-disk/recordings');
	await use.click();
	await expect(page.getByText('The server cannot write to /no-such-disk/recordings.')).toBeVisible();
	const disk = `${demo.folder}/disk`;
	await mkdir(disk);
	await folder.fill(`${disk}/recordings`);
	await use.click();
	await expect(use).toBeDisabled();
	await page.reload();
	await expect(folder).toHaveValue(`${disk}/recordings`);
	expect(await readdir(disk)).toEqual(['recordings']);
	await rename(disk, `${disk}-pulled`);
	await page.goto(`${url}/events/lantern-night/mix`);
	const trouble = page.locator('[data-trouble="recordsElsewhere"]');
	await expect(trouble).toContainText('disk for recordings');
	await rename(`${disk}-pulled`, disk);
	await expect(trouble).toHaveCount(0);
}

test('an owner is made, invites a sound person, who moves a fader and is refused the broadcast; a tablet is paired and revoked; a link expires', async ({
	page,
	browser,
}) => {
	test.slow();
	await becomeOwner(page);

	// A second factor, and a passkey that a device keeps.
	await page.getByRole('button', { name: 'Set it up' }).click();
	const secret = (await page.locator('[data-secret]').textContent())!;
	const totp = new TOTP({ secret: Secret.fromBase32(secret) });
	await page.getByLabel('Code of your authenticator').fill(totp.generate());
	await page.getByRole('button', { name: 'Turn it on' }).click();
	await expect(page.getByText('A code of your authenticator is asked for')).toBeVisible();
	const devices = await page.context().newCDPSession(page);
	await devices.send('WebAuthn.enable');
	await devices.send('WebAuthn.addVirtualAuthenticator', {
		options: {
			protocol: 'ctap2',
			transport: 'internal',
			hasResidentKey: true,
			hasUserVerification: true,
			isUserVerified: true,
			automaticPresenceSimulation: true,
		},
	});
	await page.getByLabel('Name of the device').fill('Laptop in the vestry');
	await page.getByRole('button', { name: 'Add a passkey' }).click();
	await expect(page.getByText('Laptop in the vestry, since')).toBeVisible();
	await accessible(page);
	await page.getByRole('button', { name: 'Sign out', exact: true }).click();
	await page.getByRole('button', { name: 'Use a passkey' }).click();
	await expect(page.getByRole('heading', { name: 'Bivvo' })).toBeVisible();

	await page.goto(`${url}/people`);
	await recordElsewhere(page);

	await page.goto(`${url}/people`);
	await page.getByLabel('Name', { exact: true }).fill('Sam Fell');
	await page.getByRole('button', { name: 'Make the invitation' }).click();
	const invitation = await page.locator('[data-invitation]').inputValue();
	await accessible(page);

	const sound = await tablet(browser);
	await sound.page.goto(invitation);
	await expect(sound.page.getByText('You join as Sound.')).toBeVisible();
	await sound.page.getByLabel('Name to sign in with').fill('sam');
	await sound.page.getByLabel('New password').fill(PASSWORD);
	await sound.page.getByRole('button', { name: 'Join' }).click();
	await expect(sound.page.getByRole('heading', { name: 'Bivvo' })).toBeVisible();
	await sound.page.goto(`${url}/events/lantern-night/mix`);
	const fader = sound.page.getByRole('slider', { name: 'Fader of Lectern mic' });
	await fader.fill('-12');
	await page.goto(`${url}/events/lantern-night/mix`);
	await expect(page.getByRole('slider', { name: 'Fader of Lectern mic' })).toHaveValue('-12');
	await page.goto(`${url}/people`);
	await sound.page.goto(`${url}/events/lantern-night`);
	await expect(sound.page.getByText('Only the technical director may open this.')).toBeVisible();
	await accessible(sound.page);
	const asked = await sound.context.request.post(`${url}/api/events/lantern-night/line`, { data: {} });
	expect(asked.status()).toBe(403);

	// A tablet: read the code, revoke it while its page is open.
	await page.getByRole('button', { name: 'Pair a device' }).click();
	await page.getByRole('button', { name: 'Show a code' }).click();
	const code = (await page.locator('[data-code]').textContent())!;
	const paired = await tablet(browser);
	await paired.page.goto(`${url}/pair#${code.replace(' ', '')}`);
	await expect(paired.page.getByLabel('Code')).toHaveValue(code.replace(' ', ''));
	await paired.page.getByRole('button', { name: 'Pair', exact: true }).click();
	await paired.page.waitForURL((at) => at.pathname !== '/pair');
	await paired.page.goto(`${url}/events/lantern-night/mix`);
	await expect(paired.page.getByRole('slider', { name: 'Fader of Lectern mic' })).toHaveValue('-12');
	await expect(page.getByRole('heading', { name: 'Tablet at the sound desk' })).toBeVisible();
	await page.getByRole('button', { name: 'Take away' }).click();
	await expect(paired.page.getByRole('heading', { name: 'Sign in' })).toBeVisible();

	// A link of which the time is over.
	const made = await page.evaluate(async () => {
		const order = { name: 'Speakers', role: 'viewer', expiresAt: Date.now() - 1, uses: 5 };
		const response = await fetch('/api/events/lantern-night/links', {
			method: 'POST',
			headers: { 'Content-Type': 'application/json' },
			body: JSON.stringify(order),
		});
		return (await response.json()) as { secret: string };
	});
	const guest = await tablet(browser);
	await guest.page.goto(`${url}/link#${made.secret}`);
	await expect(guest.page.getByText('The time of this link is over.')).toBeVisible();
	await page.goto(`${url}/audit`);
	await expect(page.getByText('joined by invitation')).toBeVisible();
	await accessible(page);
	for (const each of [sound, paired, guest]) await each.context.close();
});
