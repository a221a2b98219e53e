import { defineConfig } from '@playwright/test';

/** Flags that Debian's Chromium needs without a screen, a sound device or a network. */
const QUIET = [
	'--no-sandbox',
	'--disable-quic',
	'--no-first-run',
	'--disable-background-networking',
	'--disable-component-update',
	'--disable-sync',
	// Without a network a machine has no other address by which two pages could find each other.
	'--allow-loopback-in-peer-connection',
];
const MEDIA = [
	'--autoplay-policy=no-user-gesture-required',
	'--use-fake-device-for-media-stream=fps=30,device-count=2',
	'--use-fake-ui-for-media-stream',
];
export const CHROMIUM = { executablePath: '/usr/bin/chromium', args: [...QUIET, ...MEDIA] };

/** They show pages and make no program that is judged frame by frame, so they may run while other tests wait. */
const OF_PAGES = /\/(bytes|check|doors|pages|songs|surface)\.spec\.ts$/;

export default defineConfig({
	testDir: 'tests/e2e',
	// Each has a folder of its own, since a run empties it first.
	projects: [
		{ name: 'pages', testMatch: OF_PAGES, outputDir: 'test-results/e2e/pages' },
		{ name: 'evening', testIgnore: OF_PAGES, outputDir: 'test-results/e2e/evening' },
	],
	// The machine has two cores and an engine needs most of one.
	workers: 1,
	timeout: 180_000,
	expect: { timeout: 30_000 },
	reporter: [
		['list'],
		['json', { outputFile: process.env.PLAYWRIGHT_JSON_OUTPUT_FILE ?? 'test-results/playwright.json' }],
	],
	use: { viewport: { width: 1280, height: 800 }, launchOptions: CHROMIUM, trace: 'off', actionTimeout: 60_000 },
});
