/** How much script a page fetches before it can be used. */
import { expect, test, type Page } from '@playwright/test';
import { startDemo, type Demo } from '../support/demo.ts';
import { guestLink } from '../support/guests.ts';

let demo: Demo;
test.beforeAll(async () => void (demo = await startDemo()));
test.afterAll(() => demo.close());

/** Kilobytes of all scripts of a page, compressed as they came, once it has opened. */
async function scriptKb(page: Page, path: string): Promise<number> {
	await page.goto(demo.url + path, { waitUntil: 'networkidle' });
	const sizes = await page.evaluate(() =>
		performance
			.getEntriesByType('resource')
			.filter(({ name }) => new URL(name).pathname.endsWith('.js'))
			.map((each) => (each as PerformanceResourceTiming).encodedBodySize),
	);
	expect(sizes.length).toBeGreaterThan(3);
	return Math.round(sizes.reduce((sum, bytes) => sum + bytes, 0) / 1000);
}

/**
 * What each may load, kilobytes: a tenth more than it does. Pages in hands are small, for phones on a weak line: half of each is
 * the framework and what checks and applies commands; what a desk loads is nearly all for reading films and encoding sound.
 */
const MOST_KB = {
	'/sign-in': 124,
	'/join': 122,
	'/pair': 121,
	'/events/lantern-night/sheet': 165,
	'/events/lantern-night/mix': 247,
	'/events/lantern-night/hall': 161,
	'/events/lantern-night/stage': 162,
	'/events/lantern-night/tally': 168,
	'/events/lantern-night/panel/event': 186,
	'/events/lantern-night/words': 208,
	'/events/lantern-night': 1200,
};
const MOST_OF_A_GUEST_KB = 152;

test('pages load no more script than was agreed', async ({ page }) => {
	const loaded: Record<string, number> = {};
	for (const path of Object.keys(MOST_KB)) loaded[path] = await scriptKb(page, path);
	const { id, address } = await guestLink(demo, 'Ysolde Brann');
	await page.goto(address);
	await page.getByRole('button', { name: 'Get ready' }).click();
	await page.getByRole('button', { name: 'Ask to be let in' }).waitFor();
	const guest = await scriptKb(page, `/events/lantern-night/guest/${id}`);
	console.log(loaded, guest);
	expect(guest).toBeLessThan(MOST_OF_A_GUEST_KB);
	for (const [path, most] of Object.entries(MOST_KB)) expect(loaded[path], path).toBeLessThan(most);
});
