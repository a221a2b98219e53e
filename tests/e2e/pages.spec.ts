import { expect, test } from '@playwright/test';
import { ROUTE_RULES } from '../../src/core/access/policy.ts';
import { GUIDE_PAGES } from '../../src/lib/guide/list.ts';
import { objections } from '../support/accessible.ts';
import { startDemo, type Demo } from '../support/demo.ts';

let demo: Demo;
test.beforeAll(async () => void (demo = await startDemo()));
test.afterAll(() => demo.close());
test.afterEach(({ context }) => context.close());

/** The desk's machine, a tablet, a phone. */
const SIZES = [
	{ width: 1280, height: 800 },
	{ width: 820, height: 1180 },
	{ width: 390, height: 844 },
];
/** The desk is for a machine with room for it; elsewhere a panel is opened. */
const DESK = '/events/lantern-night';
/** What is no page, or needs an evening of its own: looked at where that is tested. */
const NOT_HERE = /^\/(api|health|certificate)|\[guest\]|\[destination\]|\[broadcast\]/;

test('every page is accessible on a desk, a tablet and a phone, and needs no scrolling sideways', async ({ page }) => {
	test.slow();
	const routes = Object.entries(ROUTE_RULES).filter(([route, rules]) => 'GET' in rules && !NOT_HERE.test(route));
	const pages = routes.flatMap(([route]) =>
		route === '/guide/[page]'
			? GUIDE_PAGES.map((each) => `/guide/${each}`)
			: route.replace('[id]', 'lantern-night').replace('[panel]', 'event'),
	);
	expect(pages.length).toBeGreaterThan(25);
	const found: string[] = [];
	for (const path of pages) {
		await page.goto(demo.url + path);
		await expect(page.getByRole('heading').or(page.getByRole('main')).first()).toBeAttached();
		for (const size of path === DESK ? SIZES.slice(0, 1) : SIZES) {
			await page.setViewportSize(size);
			found.push(...(await objections(page)).map((each) => `${path} at ${size.width}: ${each}`));
			const wide = await page.evaluate('document.documentElement.scrollWidth - innerWidth');
			if (Number(wide) > 0) found.push(`${path} at ${size.width}: ${String(wide)} pixels too wide`);
		}
	}
	expect(found).toEqual([]);
});
