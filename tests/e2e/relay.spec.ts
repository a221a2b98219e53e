/** A network that lets nothing through but a relay: both browsers use nothing else. */
import { expect, test, type Browser, type Page } from '@playwright/test';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';
import { comeAsGuest, guestLink, place } from '../support/guests.ts';
import { addCamera, cameraRow } from '../support/network-camera.ts';
import { onlyByRelay, startRelay, type TestRelay } from '../support/relay.ts';
import { openWeakLine } from '../support/weak-line.ts';
import { offerByWhip } from '../support/whip-camera.ts';

let relay: TestRelay;
let demo: Demo;
test.beforeAll(async () => {
	relay = await startRelay();
	demo = await startDemo(undefined, relay.env);
});
test.afterAll(async () => {
	await demo.close();
	await relay.close();
});

test.afterEach(async ({ browser }) => {
	for (const context of browser.contexts()) await context.close();
});

/** How a page reaches the other side. */
const way = (page: Page) =>
	page.evaluate<string>(`(async () => {
		for (const peer of window.peers) {
			const stats = [...(await peer.getStats()).values()];
			const pair = stats.find(({ type, nominated, state }) => type === 'candidate-pair' && nominated && state === 'succeeded');
			const local = stats.find(({ id }) => id === pair?.localCandidateId);
			if (local) return local.candidateType + ' ' + local.relayProtocol;
		}
		return 'none';
	})()`);

const card = (desk: Page, id: string) => desk.locator(`[data-guest="${id}"]`);
async function openDesk(browser: Browser): Promise<Page> {
	const context = await browser.newContext();
	await onlyByRelay(context, relay.port, 'udp');
	const desk = await context.newPage();
	await desk.addInitScript(() => localStorage.setItem('bivvo-left', 'guests'));
	await desk.goto(`${demo.url}/events/lantern-night`);
	return desk;
}

test('guests come by a relay, by UDP and by TCP', async ({ browser }) => {
	const desk = await openDesk(browser);
	for (const transport of ['udp', 'tcp'] as const) {
		const { id, address } = await guestLink(demo, 'Ysolde Brann');
		const guest = await comeAsGuest(browser, address, 'cold-tarn', {}, (own) =>
			onlyByRelay(own, relay.port, transport),
		);
		await expect(card(desk, id).locator('video')).toBeVisible();
		await expect.poll(() => way(guest)).toBe(`relay ${transport}`);
		await guest.close();
	}
	await desk.close();
});

test('a camera of the network that sends by WHIP comes by the desk’s relay', async ({ browser }) => {
	const desk = await openDesk(browser);
	await showSetUp(desk);
	await desk.reload();
	const { address, key } = await addCamera(desk, 'whip');
	await desk.getByRole('button', { name: 'Done' }).click();
	// It knows of no relay itself: the desk's own is what it sends to.
	const camera = await (await browser.newContext()).newPage();
	await camera.goto(demo.hostUrl);
	// As a camera does and a browser only with a permission, it tells its own address.
	await camera.evaluate('navigator.mediaDevices.getUserMedia({ audio: true }).then(() => {})');
	await offerByWhip(camera, address, key, '#00c000');
	await expect(cameraRow(desk)).toContainText('640 × 360');
	await expect.poll(() => way(desk)).toBe('relay udp');
	await camera.close();
	await expect(cameraRow(desk)).toContainText('lost');
});

test('a line that loses packets is named, its picture made smaller; a torn line comes back', async ({ browser }) => {
	const line = await openWeakLine(relay.port);
	const desk = await openDesk(browser);
	await desk.getByRole('button', { name: 'Add a seat', exact: true }).click();
	const { id, address } = await guestLink(demo, 'Pello Arrizun');
	const guest = await comeAsGuest(browser, address, 'three-larches', {}, (own) =>
		onlyByRelay(own, relay.port, 'udp', line.port),
	);
	await card(desk, id).getByRole('button', { name: 'To the first free seat' }).click();
	await expect(place(guest)).toHaveText(/You have your place/);
	await desk
		.getByRole('button', { name: 'Take Seat 1' })
		.or(desk.getByRole('button', { name: /: Seat 1$/ }))
		.first()
		.click();
	await expect(card(desk, id)).toContainText('good line');

	line.be({ loses: 0.08, unevenMs: 60 });
	await expect(
		desk.getByText(/Pello Arrizun’s line loses \d+ % of its packets; the picture was made smaller/),
		// A line is judged by reports, and one comes in five seconds.
	).toBeVisible({ timeout: 60_000 });

	line.be({ loses: 1, unevenMs: 0 });
	await expect(place(guest)).toHaveText(/Your line is interrupted/);
	line.be({ loses: 0, unevenMs: 0 });
	await expect(place(guest)).toHaveText(/You have your place/);
	await expect(card(desk, id).locator('video')).toBeVisible();
	await expect(card(desk, id)).toContainText('good line');
	await desk.close();
	line.close();
});
