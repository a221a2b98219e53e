/**
 * Several nodes behind a proxy, with a real desk: the node that has its event stands still on air, which nobody is told, and
 * another one is emptied.
 */
import { expect, test } from '@playwright/test';
import { eq } from 'drizzle-orm';
import { openDatabase } from '../../src/server/db/database.ts';
import { eventLeases, events, nodes as nodeRows } from '../../src/server/db/schema.ts';
import { Page as HubPage, until } from '../support/app.ts';
import { accessible } from '../support/accessible.ts';
import { leaveOut } from '../support/clips.ts';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';

const EVENT = 'lantern-night';
let demo: Demo;
test.beforeAll(async () => {
	demo = await startDemo(undefined, {}, 3);
	await leaveOut(demo, ['choir-left']);
});
test.afterAll(() => demo.close());

/** Address of the node that has the event now; null for none. */
async function owner(): Promise<string | null> {
	const database = await openDatabase(demo.databaseUrl, null);
	try {
		const [leases, nodes] = [await database.db.select().from(eventLeases), await database.db.select().from(nodeRows)];
		const lease = leases.find(({ eventId }) => eventId === EVENT);
		return nodes.find(({ id }) => id === lease?.node)?.url ?? null;
	} finally {
		await database.close();
	}
}

/** The host gets more, from the desk and not from the holding card. */
async function moreProgram(): Promise<void> {
	await until('the program', async () => {
		const page = new HubPage(Number(new URL(demo.url).port), EVENT);
		const { status } = await page.welcome();
		page.socket.close();
		return status.receiving && status.holdingSince === null;
	});
	const { pictures } = await demo.place('ridge');
	await until('more pictures', async () => (await demo.place('ridge')).pictures > pictures + 90);
}

test('the desk goes on when its node stands still on air, and when the next one is emptied; all of it is one recording', async ({
	page,
}) => {
	await showSetUp(page);
	page.on('dialog', (each) => void each.accept());
	await page.goto(`${demo.url}/events/${EVENT}`);
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await until('pictures', async () => (await demo.place('ridge')).pictures > 120);

	const first = await until('the owner', owner);
	const received = await demo.received('ridge');
	const stopped = demo.nodes.find(({ url }) => url === first)!;
	stopped.kill('SIGSTOP');
	const second = await until('another owner', async () => {
		const now = await owner();
		return now !== first && now;
	});
	await until('the host', async () => (await demo.received('ridge')) !== received);
	await moreProgram();

	const nodes = await page.context().newPage();
	await nodes.goto(`${demo.url}/nodes`);
	await expect(nodes.getByText('▲ Gone')).toHaveCount(1);
	await accessible(nodes);
	const card = nodes.locator('[data-node]', { hasText: new URL(second).host });
	await expect(card).toContainText('on air');
	await card.getByRole('button', { name: 'Empty it now' }).click();
	await card.getByRole('button', { name: 'Really?' }).click();
	await until('the third owner', async () => ![first, second].includes((await owner())!));
	await expect(card).toContainText('it can be ended and replaced');
	await moreProgram();
	stopped.kill('SIGCONT');
	await expect(nodes.getByText('▲ Gone')).toHaveCount(0);
	await moreProgram();
	// The page keeps what it shows, whichever node it has asked.
	demo.nodes.find(({ url }) => url === second)!.kill('SIGKILL');
	await expect(nodes.getByText('▲ Gone')).toHaveCount(1);
	await moreProgram();
	await nodes.close();

	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await expect(page.getByText('Off air').first()).toBeVisible();
	await page.goto(`${demo.url}/events/${EVENT}/recordings`);
	// One more for each time that a machine without a moment for its nodes has given the event to another one.
	await expect(page.getByText(/one broadcast in [3-9] files/)).toBeVisible();
	await expect(page.getByText(/one broadcast in/)).toHaveCount(1);
});

test('a node with an event on air is not emptied at the first press, even before it has said so itself', async ({
	page,
}) => {
	await showSetUp(page);
	await page.goto(`${demo.url}/events/${EVENT}`);
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
	const url = await until('the owner', owner);
	const database = await openDatabase(demo.databaseUrl, null);
	const setOnAir = (onAir: boolean) => database.db.update(events).set({ onAir }).where(eq(events.id, EVENT));
	const nodes = await page.context().newPage();
	try {
		await setOnAir(true);
		await nodes.goto(`${demo.url}/nodes`);
		const card = nodes.locator('[data-node]', { hasText: new URL(url).host });
		await expect(card).toContainText('1 on air');
		await card.getByRole('button', { name: 'Empty it now' }).click();
		await expect(card.getByRole('button', { name: 'Really?' })).toBeVisible();
		// Whoever goes elsewhere has not agreed.
		await nodes.keyboard.press('Tab');
		await expect(card.getByRole('button', { name: 'Empty it now' })).toBeVisible();
		expect(await owner()).toBe(url);
	} finally {
		await setOnAir(false);
		await database.close();
	}
});
