import path from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { batchOf, type Command } from '../src/core/show/command.ts';
import { plainChannel } from '../src/core/show/mix/mix.ts';
import { Page as HubPage } from '../tests/support/app.ts';
import type { Demo } from '../tests/support/demo.ts';
import { printThreads, threadSeconds } from './cores.ts';
import { EVENT, withDemo } from './event.ts';
import { row, type Row } from './table.ts';
import { Tabs } from './tabs.ts';

const MEASURED_S = 15;
const SETTLES_S = 5;
const MOST_CHANNELS = 32;

/** What looking at a desk costs, off air with the wall on: its threads in parts of a core. */
export async function benchDesk(): Promise<Row[]> {
	return withDemo(async (demo) => {
		const tabs = await Tabs.open(path.join(demo.folder, 'profile'));
		try {
			return await run(demo, tabs);
		} finally {
			await tabs.close();
		}
	});
}

async function run(demo: Demo, tabs: Tabs): Promise<Row[]> {
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	const { state } = await hub.welcome();
	const tell = (command: Command) => hub.applied(hub.do(command));
	const desk = await tabs.add(`${demo.url}/events/${EVENT}`);
	const usual = await measure(tabs.pid);
	await tabs.add('about:blank');
	const hidden = await measure(tabs.pid);
	await tabs.show(desk);
	const { length } = state.setup.channels;
	const more = Array.from({ length: MOST_CHANNELS - length }, (_, i) =>
		plainChannel(`more-${i}`, 'console', `More ${i + 1}`, [i % 12]),
	);
	await tell(batchOf(more.map((channel) => ({ type: 'addChannel', channel }))));
	const many = await measure(tabs.pid);
	hub.socket.close();
	printThreads(new Map(), usual, 1);
	return [
		row(`Web Audio thread, ${length} channels`, sound(usual), 'cores', { limit: { most: 0.08 } }),
		row(`Web Audio thread, ${MOST_CHANNELS} channels`, sound(many), 'cores', { limit: { most: 0.15 } }),
		row('main thread and compositor, wall on', looks(usual), 'cores', { limit: { most: 0.08 } }),
		row('the same, another tab in front', looks(hidden), 'cores', { limit: { most: 0.01 } }),
	];
}

type Threads = Map<string, number>;

async function measure(pid: number): Promise<Threads> {
	await setTimeout(SETTLES_S * 1000);
	const [before, startedAt] = [threadSeconds(pid), performance.now()];
	await setTimeout(MEASURED_S * 1000);
	const elapsedS = (performance.now() - startedAt) / 1000;
	return new Map([...threadSeconds(pid)].map(([name, s]) => [name, (s - (before.get(name) ?? 0)) / elapsedS]));
}

const sumOf = (threads: Threads, is: RegExp) =>
	[...threads].reduce((sum, [name, cores]) => sum + (is.test(name) ? cores : 0), 0);
const sound = (threads: Threads) => sumOf(threads, /audio/i);
const looks = (threads: Threads) => sumOf(threads, /^renderer (main|Compositor)|^gpu-process/);
