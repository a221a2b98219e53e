/** An evening of guests in long: one of them falls out each minute, and comes again. */
import { chromium, type Browser, type Page } from '@playwright/test';
import { CHROMIUM } from '../playwright.config.ts';
import { addingSeat } from '../src/core/show/guests/adding.ts';
import type { Command } from '../src/core/show/command.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import type { Demo } from '../tests/support/demo.ts';
import { comeAsGuest, guestLink, place } from '../tests/support/guests.ts';
import { residentMb } from './cores.ts';
import { EVENT, newContext, pidOf, withDemo } from './event.ts';
import { row, type Row } from './table.ts';

const MINUTES = Number(process.env.BIVVO_SOAK_MINUTES ?? 60);
const GUESTS = ['cold-tarn', 'three-larches'] as const;
/** Memory is held against that of the first minutes, when all has been made that is made once. */
const SETTLES_MIN = Math.min(5, MINUTES / 4);
const BACK_MS = 30_000;

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

export async function benchGuestsSoak(): Promise<Row[]> {
	return withDemo(run);
}

/** What a page's script and its documents hold after they were tidied, megabytes. */
async function heapMb(page: Page): Promise<number> {
	const session = await page.context().newCDPSession(page);
	await session.send('HeapProfiler.collectGarbage');
	const { usedSize } = await session.send('Runtime.getHeapUsage');
	await session.detach();
	return usedSize / 1e6;
}

async function run(demo: Demo, browser: Browser): Promise<Row[]> {
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	const { state } = await hub.welcome();
	const tell = (command: Command) => hub.applied(hub.do(command));
	for (const i of [1, 2]) await tell(addingSeat(state, `seat-${i}`, `Seat ${i}`, 'camera'));
	const desk = await (await newContext(browser)).newPage();
	// Where guests are seen.
	await desk.addInitScript(() => localStorage.setItem('bivvo-left', 'guests'));
	await desk.goto(`${demo.url}/events/${EVENT}`);
	const others = await chromium.launch(CHROMIUM);
	try {
		const guests: { page: Page; id: string }[] = [];
		for (const [i, standIn] of GUESTS.entries()) {
			const { id, address } = await guestLink(demo, `Guest ${i + 1}`, { uses: 5 });
			guests.push({ id, page: await comeAsGuest(others, address, standIn) });
			await tell({ type: 'placeGuest', guestId: id, seatId: `seat-${i + 1}` });
		}
		await tell({ type: 'take', sceneId: 'seat-1-scene' });
		const isSeated = async ({ page }: { page: Page }) => {
			const line = await place(page).textContent({ timeout: 1000 });
			return /You have your place|ON AIR/.test(line ?? '');
		};
		const isShown = (id: string) => desk.locator(`[data-guest="${id}"] video`).isVisible();
		let [stuck, fell] = [0, 0];
		const heaps: number[] = [];
		const serverMb: number[] = [];
		const begun = performance.now();
		for (let minute = 1; minute <= MINUTES; minute++) {
			const guest = guests[minute % 2]!;
			fell++;
			// By turns the page dies and is opened again, and its network goes for longer than a line is waited for.
			if (minute % 4 < 2) {
				await guest.page.reload();
				await guest.page.getByRole('button', { name: 'Ask to be let in' }).click();
			} else {
				await guest.page.context().setOffline(true);
				await wait(8000);
				await guest.page.context().setOffline(false);
			}
			const isBack = async () => (await isSeated(guest)) && (await isShown(guest.id));
			await until('the guest', () => isBack().catch(() => false), BACK_MS).catch(() => stuck++);
			if (minute >= SETTLES_MIN) {
				heaps.push(await heapMb(desk));
				serverMb.push(residentMb(demo.serverPid()));
			}
			await wait(Math.max(0, minute * 60_000 - (performance.now() - begun)));
		}
		const grew = (values: readonly number[]) => (100 * (values.at(-1)! - values[0]!)) / values[0]!;
		console.log(
			`The desk’s browser is process ${await pidOf(browser)}; its heaps by the minute, MB:`,
			heaps.map(Math.round),
		);
		return [
			row(`seats that stay empty, of ${fell} times that a guest fell out`, stuck, 'seats', { limit: { most: 0 } }),
			row('the desk’s script: more memory at the end', grew(heaps), '%', { limit: { most: 10 } }),
			row('server: more memory at the end', grew(serverMb), '%', { limit: { most: 20 } }),
		];
	} finally {
		await others.close();
		hub.socket.close();
	}
}
