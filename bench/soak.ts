/** An evening in long: hosts that are cut off, and a desk that is killed again and again. */
import { readFileSync, readdirSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import net, { type AddressInfo } from 'node:net';
import { chromium, type BrowserContext } from '@playwright/test';
import { CHROMIUM } from '../playwright.config.ts';
import { parseAudioTag, parseVideoTag } from '../src/core/delivery/flv.ts';
import { RtmpIngestSession } from '../src/core/delivery/rtmp/server.ts';
import type { Command } from '../src/core/show/command.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import { startDemo, type Demo } from '../tests/support/demo.ts';
import { residentMb } from './cores.ts';
import { EVENT } from './event.ts';
import { median, row, type Row } from './table.ts';

const SOAK_MIN = Number(process.env.BIVVO_SOAK_MINUTES ?? 30);
const KILLS = Number(process.env.BIVVO_SOAK_KILLS ?? 100);
const CUT_EVERY_MS = 60_000;
/** A tab that is killed is opened again after this long: viewers are held meanwhile. */
const AWAY_MS = 2000;

/** A host that counts: connections, and the largest step between time stamps of each kind. */
class CountingHost {
	connections = 0;
	pictures = 0;
	backSteps = 0;
	/** Milliseconds, within connections. */
	largestGap = { video: 0, audio: 0 };
	#socket: net.Socket | null = null;
	#server = net.createServer((socket) => this.#take(socket));

	async listen(): Promise<number> {
		await new Promise<void>((resolve) => this.#server.listen(0, '127.0.0.1', resolve));
		return (this.#server.address() as AddressInfo).port;
	}

	#take(socket: net.Socket): void {
		this.connections++;
		this.#socket = socket;
		const last = { video: -1, audio: -1 };
		const session: RtmpIngestSession = new RtmpIngestSession(
			randomBytes(1528),
			(bytes) => void socket.write(bytes),
			() => null,
			(event) => {
				if (event.kind === 'unpublished') return void socket.end();
				if (event.kind === 'metadata') return;
				const { kind, timestampMs, body } = event;
				const tag = kind === 'video' ? parseVideoTag(body).kind : parseAudioTag(body).kind;
				if (tag !== 'picture' && tag !== 'frame') return;
				if (kind === 'video') this.pictures++;
				const step = last[kind] < 0 ? 0 : timestampMs - last[kind];
				if (step < 0) this.backSteps++;
				this.largestGap[kind] = Math.max(this.largestGap[kind], step);
				last[kind] = timestampMs;
			},
		);
		socket.on('data', (bytes) => session.receive(bytes));
		socket.on('error', () => socket.destroy());
	}

	/** Hangs up in mid-stream. */
	cut(): void {
		this.#socket?.destroy();
	}

	close(): void {
		this.cut();
		this.#server.close();
	}
}

/** Memory of all of Chromium's processes that show a page: where an engine lives. */
function pagesMb(): number {
	return readdirSync('/proc')
		.filter((name) => /^\d+$/.test(name))
		.reduce((sum, name) => {
			try {
				const command = readFileSync(`/proc/${name}/cmdline`, 'utf8');
				return command.includes('--type=renderer') ? sum + residentMb(Number(name)) : sum;
			} catch {
				return sum;
			}
		}, 0);
}

interface Running {
	demo: Demo;
	/** One window, in which the desk is a tab. */
	context: BrowserContext;
	hub: HubPage;
	hosts: CountingHost[];
	tell(command: Command): Promise<unknown>;
}

/** The demo, sent to three hosts of the bench's own in two renditions. */
async function start(): Promise<Running> {
	const demo = await startDemo();
	const browser = await chromium.launch(CHROMIUM);
	const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
	await context.newPage();
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	await hub.welcome();
	const tell = (command: Command) => hub.applied(hub.do(command));
	for (const destinationId of ['ridge-channel', 'valley-relay', 'members-page'])
		await tell({ type: 'removeDestination', destinationId });
	const hosts = [new CountingHost(), new CountingHost(), new CountingHost()];
	for (const [i, host] of hosts.entries()) {
		const form = { id: `host-${i}`, name: `Host ${i}`, key: 'key', userName: '', password: null };
		const body = { ...form, address: `rtmp://127.0.0.1:${await host.listen()}/live`, maxHeight: i === 2 ? 540 : null };
		const response = await fetch(`${demo.url}/api/events/${EVENT}/destinations`, {
			method: 'PUT',
			headers: { 'Content-Type': 'application/json' },
			body: JSON.stringify(body),
		});
		if (!response.ok) throw new Error(`The destination was not saved: ${await response.text()}`);
	}
	return { demo, context, hub, hosts, tell };
}

async function stop({ demo, context, hub, hosts }: Running): Promise<void> {
	hub.socket.close();
	for (const host of hosts) host.close();
	await context.browser()!.close();
	await demo.close();
}

async function openDesk({ context, demo }: Running) {
	const page = await context.newPage();
	await page.goto(`${demo.url}/events/${EVENT}`);
	return page;
}

export async function benchSoak(): Promise<Row[]> {
	const soaked = await withRunning(soak);
	return [...soaked, ...(await withRunning(killAgainAndAgain))];
}

async function withRunning(run: (running: Running) => Promise<Row[]>): Promise<Row[]> {
	const running = await start();
	try {
		return await run(running);
	} finally {
		await stop(running);
	}
}

async function soak(running: Running): Promise<Row[]> {
	const { demo, hub, hosts, tell } = running;
	const page = await openDesk(running);
	await page.waitForTimeout(4000);
	await tell({ type: 'startBroadcast', broadcastId: 'soak' });
	await until('all hosts', () => hosts.every(({ pictures }) => pictures > 60));
	const lost = () => hub.status!.destinations.map(({ lostFrames }) => lostFrames);
	const endAt = Date.now() + SOAK_MIN * 60_000;
	const memory: { server: number; pages: number }[] = [];
	let [cuts, othersLost] = [0, 0];
	let nextCut = Date.now() + CUT_EVERY_MS / 2;
	while (Date.now() < endAt) {
		await new Promise((resolve) => setTimeout(resolve, 10_000));
		memory.push({ server: residentMb(demo.serverPid()), pages: pagesMb() });
		if (Date.now() < nextCut) continue;
		nextCut += CUT_EVERY_MS;
		const which = cuts++ % hosts.length;
		const before = lost();
		const connections = hosts.map((host) => host.connections);
		hosts[which]!.cut();
		await until('the host again', () => hosts[which]!.connections > connections[which]!);
		await new Promise((resolve) => setTimeout(resolve, 5000));
		const after = lost();
		hosts.forEach((host, i) => {
			if (i === which) return;
			othersLost += after[i]! - before[i]! + (host.connections - connections[i]!);
		});
	}
	await tell({ type: 'endBroadcast' });
	// Memory after the first minutes, in which caches fill, against that at the end.
	const mean = (list: typeof memory, of: 'server' | 'pages') =>
		list.reduce((sum, each) => sum + each[of], 0) / list.length;
	const settled = memory.slice(Math.floor(memory.length / 4), Math.floor(memory.length / 2));
	const last = memory.slice(-settled.length);
	const what = `${SOAK_MIN} min at 720p30, three hosts, two renditions`;
	return [
		row(`${what}: cut off`, cuts, 'times'),
		row('the same: pictures lost and connections broken of the other two', othersLost, '', { limit: { most: 0 } }),
		row(
			'the same: time stamps that step back',
			hosts.reduce((sum, each) => sum + each.backSteps, 0),
			'',
			{
				limit: { most: 0 },
			},
		),
		row('the same: server’s memory at the end, against its second quarter', mean(last, 'server'), 'MB', {
			yardstick: mean(settled, 'server'),
			limit: { most: 1.1 },
		}),
		row('the same: desk’s memory, likewise', mean(last, 'pages'), 'MB', {
			yardstick: mean(settled, 'pages'),
			limit: { most: 1.1 },
		}),
	];
}

async function killAgainAndAgain(running: Running): Promise<Row[]> {
	const { hub, hosts, tell } = running;
	let page = await openDesk(running);
	await page.waitForTimeout(4000);
	await tell({ type: 'startBroadcast', broadcastId: 'kills' });
	await until('all hosts', () => hosts.every(({ pictures }) => pictures > 60));
	const backS: number[] = [];
	for (let i = 0; i < KILLS; i++) {
		// The loop of the card takes a few seconds to be made anew.
		await page.waitForTimeout(6000);
		const killed = page;
		await killed.goto('chrome://crash').catch(() => {});
		await until('the card', () => hub.status?.holdingSince !== null);
		await new Promise((resolve) => setTimeout(resolve, AWAY_MS));
		const openedAt = performance.now();
		page = await openDesk(running);
		const opened = (performance.now() - openedAt) / 1000;
		await until('the program', () => hub.status?.holdingSince === null);
		backS.push((performance.now() - openedAt) / 1000 - opened);
		await killed.close();
	}
	await tell({ type: 'endBroadcast' });
	const most = (of: (host: CountingHost) => number) => Math.max(...hosts.map(of));
	const what = `the desk’s tab killed ${KILLS} times`;
	return [
		row(
			`${what}: disconnects`,
			hosts.reduce((sum, { connections }) => sum + connections - 1, 0),
			'',
			{
				limit: { most: 0 },
			},
		),
		row(
			`${what}: largest gap in time stamps, picture`,
			most(({ largestGap }) => largestGap.video),
			'ms',
			{
				limit: { most: 1000 },
			},
		),
		row(
			`${what}: largest gap in time stamps, sound`,
			most(({ largestGap }) => largestGap.audio),
			'ms',
			{
				limit: { most: 1000 },
			},
		),
		row(
			`${what}: time stamps that step back`,
			hosts.reduce((sum, each) => sum + each.backSteps, 0),
			'',
			{
				limit: { most: 0 },
			},
		),
		row(`${what}: program back after the page is open, median`, median(backS), 's', { limit: { most: 3 } }),
		row(`${what}: back within 3 s`, backS.filter((seconds) => seconds <= 3).length, 'times'),
		row(`${what}: the slowest`, Math.max(...backS), 's', { limit: { most: 3 } }),
	];
}
