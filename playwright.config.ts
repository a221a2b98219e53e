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

export default defineConfig({
	testDir: 'tests/e2e',
	outputDir: 'test-results/e2e',
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
