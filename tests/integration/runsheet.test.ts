import { randomUUID } from 'node:crypto';
import { afterAll, afterEach, beforeAll, describe, expect, inject, it } from 'vitest';
import { plainCue } from '../../src/core/show/runsheet/cue.ts';
import { asRunOf } from '../../src/core/show/runsheet/as-run.ts';
import { createEvent } from '../../src/server/events.ts';
import { openApp, Page, testFolder, until } from '../support/app.ts';

let temporary: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
const pages: Page[] = [];

beforeAll(async () => {
	temporary = await testFolder();
	running = await openApp(inject('databaseUrl'), temporary.folder);
});
afterEach(() => {
	for (const page of pages.splice(0)) page.socket.terminate();
});
afterAll(async () => {
	await running.close();
	await temporary.remove();
});

const made = () => createEvent(running.app, `Lantern Night ${randomUUID()}`, '', { width: 1280, height: 720, fps: 30 });
const hubOf = async (eventId: string) => (await running.app.events.owner(eventId)).hub;
async function join(eventId: string): Promise<Page> {
	const page = new Page(running.port, eventId);
	pages.push(page);
	await page.welcome();
	return page;
}

it('what is done of the run sheet on air is noted with its plan, for chapters and the as-run log', async () => {
	const eventId = await made();
	const page = await join(eventId);
	const hub = await hubOf(eventId);
	await page.applied(page.do({ type: 'setStart', startsAt: '2026-11-28T19:00', timeZone: 'Europe/London' }));
	for (const [id, plannedAt] of [
		['greeting', '19:00'],
		['song', ''],
	] as const)
		await page.applied(page.do({ type: 'addCue', cue: { ...plainCue(id, id), plannedAt } }));
	await page.applied(page.do({ type: 'go' }));
	await page.applied(page.do({ type: 'startBroadcast', broadcastId: randomUUID() }));
	await until('the double press to be over', () => Date.now() - hub.state.live.progress.since > 300);
	await page.applied(page.do({ type: 'go' }));
	const { log } = await running.app.events.owner(eventId);
	const noted = async () => asRunOf(await log.between(0, Date.now()), Date.now());
	await until('both lines', async () => (await noted()).length === 2);
	expect(await noted()).toMatchObject([
		{ name: 'greeting', plannedAt: Date.parse('2026-11-28T19:00Z') },
		{ name: 'song', plannedAt: null },
	]);
	await page.applied(page.do({ type: 'endBroadcast' }));
});

describe('the next line of the run sheet, when it comes by itself', () => {
	/** An event whose first cue is over after a while, with a page that makes its program. */
	async function begun(ms: number) {
		const eventId = await made();
		const engine = await join(eventId);
		engine.send({ type: 'wantEngine', takeOver: false });
		await until('the lease', () => engine.status?.engine !== null);
		for (const [id, follow] of [
			['first', { by: 'after', ms }],
			['second', { by: 'go' }],
		] as const)
			await engine.applied(engine.do({ type: 'addCue', cue: { ...plainCue(id, id), follow } }));
		await engine.applied(engine.do({ type: 'go' }));
		const hub = await hubOf(eventId);
		return { eventId, engine, hub, current: () => hub.state.live.progress.current };
	}

	it('is done when the engine has done it, once, as if it had been in time', async () => {
		const { engine, hub, current } = await begun(500);
		const { at } = hub.state.live.due[0]!;
		await until('the time', () => Date.now() >= at);
		expect(current()).toBe('first');
		engine.send({ type: 'fell', id: 'fell', dueId: 'follow-1-0' });
		engine.send({ type: 'fell', id: 'fell', dueId: 'follow-1-0' });
		await until('the second cue', () => current() === 'second');
		expect(hub.state.live.progress).toMatchObject({ since: at, count: 2 });
	});

	it('is not done ahead of its time, nor by a page that does not make the program', async () => {
		const { eventId, engine, current } = await begun(60_000);
		engine.send({ type: 'fell', id: 'early', dueId: 'follow-1-0' });
		const other = await join(eventId);
		other.send({ type: 'fell', id: 'other', dueId: 'follow-1-0' });
		for (const page of [engine, other])
			await until('the answer', () => page.messages.some(({ type }) => type === 'done'));
		expect(current()).toBe('first');
	});

	it('is done by the hub when the engine is gone, at once', async () => {
		const { engine, hub, current } = await begun(500);
		const { at } = hub.state.live.due[0]!;
		engine.socket.terminate();
		await until('the second cue', () => current() === 'second');
		expect(hub.state.live.progress.since).toBe(at);
		expect(Date.now() - at).toBeLessThan(2500);
	});

	it('is done by the hub when the engine does nothing, a little later', async () => {
		const { hub, current } = await begun(100);
		const { at } = hub.state.live.due[0]!;
		await until('the second cue', () => current() === 'second');
		expect(hub.state.live.progress.since).toBe(at);
	});
});
