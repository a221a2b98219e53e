import path from 'node:path';
import type { Browser, Page } from '@playwright/test';
import { judgeMachine, type Machine } from '../src/core/machine/machine.ts';
import { encodedPixels } from '../src/core/machine/weight.ts';
import { mostOfGuests } from '../src/core/show/guests/guest.ts';
import type { Picture } from '../src/core/show/state.ts';
import type { Demo } from '../tests/support/demo.ts';
import { shareOfDue, withDemo } from './event.ts';
import { HeavyEvening } from './heavy.ts';
import { row, type Row } from './table.ts';

const MEASURED_S = 30;
const PICTURES: Picture[] = [
	{ width: 1280, height: 720, fps: 30 },
	{ width: 1280, height: 720, fps: 60 },
	{ width: 1920, height: 1080, fps: 30 },
	{ width: 1920, height: 1080, fps: 60 },
];
/** Points by which what arrives may be off what was foretold. */
const MOST_OFF = 5;

/** Whether the test of a machine foretells what arrives: the share of frames, for pictures from easy to impossible. */
export async function benchMachine(): Promise<Row[]> {
	const rows: Row[] = [];
	for (const picture of PICTURES) rows.push(...(await withDemo((demo, browser) => run(demo, browser, picture))));
	return rows;
}

async function run(demo: Demo, browser: Browser, picture: Picture): Promise<Row[]> {
	const file = path.join(demo.folder, 'received.flv');
	const evening = await HeavyEvening.prepare(demo, browser, picture, file);
	const preparing = await evening.open('/prepare');
	const machine = await testOn(preparing);
	await preparing.close();
	const state = await evening.state();
	const foretold = judgeMachine(machine, picture, encodedPixels(state), mostOfGuests(state))!;
	const page = await evening.open();
	await evening.begin(page);
	const received = await evening.play(page, MEASURED_S);
	await evening.end(page);
	const arrived = shareOfDue(received, picture.fps);
	const what = `${picture.height}p${picture.fps}`;
	const made = machine.makes.find(({ height }) => height === picture.height)!;
	return [
		row(`${what}: made flat out`, made.fps, 'a second'),
		row(`${what}: to spare`, 100 * foretold.room, '%'),
		row(`${what}: foretold to arrive`, 100 * foretold.share, '%'),
		row(`${what}: arrived`, arrived, '%'),
		row(`${what}: off by`, Math.abs(arrived - 100 * foretold.share), 'points', { limit: { most: MOST_OFF } }),
	];
}

/** Presses the button, and waits for what it finds. */
async function testOn(page: Page): Promise<Machine> {
	// Cameras are to be there: what they show is what is tried.
	await page.waitForTimeout(5000);
	await page.getByRole('button', { name: 'Test this machine' }).click();
	await page.locator('[data-machine="tested"]').waitFor({ timeout: 60_000 });
	return JSON.parse((await page.evaluate('localStorage.getItem("bivvo-machine")')) as string) as Machine;
}
