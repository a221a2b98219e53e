/** A watch page with five hundred viewers: what they cost the server, and whether desk and hosts notice. */
import { fork } from 'node:child_process';
import { once } from 'node:events';
import path from 'node:path';
import { setTimeout } from 'node:timers/promises';
import type { Browser } from '@playwright/test';
import type { Command } from '../src/core/show/command.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import { leaveOut } from '../tests/support/clips.ts';
import type { Demo } from '../tests/support/demo.ts';
import { processorSeconds } from './cores.ts';
import { EVENT, newContext, prepare, shareOfDue, withDemo } from './event.ts';
import { Receiver } from './receiver.ts';
import { row, type Row } from './table.ts';

const VIEWERS = 500;
const MEASURED_S = 30;
const SETTLES_S = 8;

interface Counts {
	bytes: number;
	pieces: number;
	failed: number;
	missed: number;
}

export function benchWatch(): Promise<Row[]> {
	return withDemo(run);
}

async function run(demo: Demo, browser: Browser): Promise<Row[]> {
	await leaveOut(demo, ['chapel-wide', 'choir-left']);
	const receiver = new Receiver(path.join(demo.folder, 'received.flv'));
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	await hub.welcome();
	const tell = (command: Command) => hub.applied(hub.do(command));
	await prepare(demo, tell, 720, await receiver.listen());
	const watch = { slug: 'bench', access: 'public', captions: false, messages: false, recording: false };
	const put = (what: string, body: object) =>
		fetch(`${demo.url}/api/events/${EVENT}/destinations${what}`, {
			method: 'PUT',
			headers: { 'Content-Type': 'application/json', Origin: demo.url },
			body: JSON.stringify(body),
		});
	const saved = await put('/watch', { id: 'page', name: 'Our own page', watch, password: null });
	if (!saved.ok) throw new Error(`The page was not saved: ${await saved.text()}`);
	const desk = await (await newContext(browser)).newPage();
	await desk.goto(`${demo.url}/events/${EVENT}`);
	await setTimeout(3000);
	await tell({ type: 'startBroadcast', broadcastId: 'bench-watch' });
	await until('pictures', () => receiver.pictures.length > 60, 60_000);
	const page = `${demo.url}/watch/bench`;
	await until('the stream', async () => {
		const told = (await (await fetch(`${page}/now.json`)).json()) as { stream: string | null };
		return told.stream;
	});
	const alone = await measure(demo, receiver);

	const viewers = fork(path.resolve('bench/viewers.ts'), [], { execArgv: ['--import', 'tsx'] });
	const counts = async () => {
		viewers.send('counts');
		return (await once(viewers, 'message'))[0] as Counts;
	};
	viewers.send({ page, count: VIEWERS });
	await setTimeout(SETTLES_S * 1000);
	const before = await counts();
	const watched = await measure(demo, receiver);
	const after = await counts();
	const { viewers: counted } = hub.status!.destinations.find(({ id }) => id === 'page')!.audience!;
	viewers.kill();
	hub.socket.close();
	await receiver.close();
	const mbit = (8 * (after.bytes - before.bytes)) / MEASURED_S / 1e6;
	return [
		row(`${VIEWERS} viewers: the server, beyond what it takes without`, watched.cores - alone.cores, 'cores', {
			limit: { most: 0.5 },
		}),
		row('the server without viewers', alone.cores, 'cores'),
		row('sent to viewers', mbit, 'Mbit/s'),
		row(
			'pieces that a viewer got of those there were',
			(after.pieces - before.pieces) / VIEWERS / (MEASURED_S / 2),
			'',
			{
				limit: { least: 0.9 },
			},
		),
		row('requests that failed, and pieces that were missed', after.failed + after.missed, '', { limit: { most: 0 } }),
		row('viewers that the desk counts', counted, '', { limit: { least: VIEWERS } }),
		row('frames at the host of frames due, with viewers', watched.share, '%', { limit: { least: 99.5 } }),
		row('the same without', alone.share, '%'),
	];
}

async function measure(demo: Demo, receiver: Receiver): Promise<{ cores: number; share: number }> {
	const [before, first, startedAt] = [processorSeconds(demo.serverPid()), receiver.pictures.length, performance.now()];
	await setTimeout(MEASURED_S * 1000);
	const elapsedS = (performance.now() - startedAt) / 1000;
	const cores = (processorSeconds(demo.serverPid()) - before) / elapsedS;
	return { cores, share: shareOfDue(receiver.pictures.slice(first), 30) };
}
