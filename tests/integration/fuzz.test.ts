/** The short form of ./bivvo fuzz: the same kinds of rubbish, always the same, while a broadcast goes on. */
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { createEvent } from '../../src/server/events.ts';
import { testFolder } from '../support/app.ts';
import { fuzz, KINDS, openedPage } from '../support/fuzz.ts';
import { openHost, type TestHost } from '../support/host.ts';
import { openSite, type Site } from '../support/site.ts';

const RUNS = 120;
const SEED = 1845;
let folder: Awaited<ReturnType<typeof testFolder>>;
let site: Site;
let host: TestHost;
let eventId: string;
let faults: unknown[];
const caught = (error: unknown) => void faults.push(error);

beforeAll(async () => {
	folder = await testFolder();
	site = await openSite(inject('databaseUrl'), folder.folder);
	host = await openHost();
	eventId = await createEvent(site.app, 'Rubbish', '', { width: 1280, height: 720, fps: 30 });
	faults = [];
	process.on('uncaughtException', caught).on('unhandledRejection', caught);
});
afterAll(async () => {
	process.off('uncaughtException', caught).off('unhandledRejection', caught);
	await host.close();
	await site.close();
	await folder.remove();
});

it.each(KINDS)('%s: whatever comes, nothing is thrown that nobody catches, and others are served', async (kind) => {
	await fuzz(kind, { port: site.port, rtmpPort: host.rtmpPort, eventId, cookie: '' }, RUNS, SEED);
	expect(faults).toEqual([]);
	expect((await fetch(`${site.url}/health`)).status).toBe(200);
	const page = await openedPage(site.port, eventId);
	await page.welcome();
	page.socket.terminate();
	expect((await fetch(`${host.url}/api/places`)).ok).toBe(true);
});
