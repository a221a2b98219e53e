import { fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Broadcast } from '../src/server/broadcast/broadcast.ts';
import { makeMaterial, play } from '../tests/support/media.ts';
import { until } from '../tests/support/app.ts';
import { row, type Row } from './table.ts';
import { orderTo } from '../tests/support/order.ts';

const HOSTS = 200;
const DEAF = 50;
const KBPS = 4000;
const FPS = 30;
const MEASURED_S = 20;

/** One engine's stream to many hosts, some of which do not read: processor, memory, and how soon it is written. */
export async function benchDelivery(): Promise<Row[]> {
	const folder = await mkdtemp(path.join(tmpdir(), 'bivvo-delivery-'));
	const hosts = fork(new URL('./many-hosts.ts', import.meta.url), { execArgv: ['--import', 'tsx'] });
	try {
		const [{ port }] = (await once(hosts, 'message')) as [{ port: number }];
		return [...(await fanOut(folder, hosts, port, 0)), ...(await fanOut(folder, hosts, port, DEAF))];
	} finally {
		hosts.disconnect();
		await rm(folder, { recursive: true, force: true });
	}
}

async function fanOut(folder: string, hosts: ChildProcess, port: number, deaf: number): Promise<Row[]> {
	const material = await makeMaterial(folder, MEASURED_S + 5);
	// The form of real pictures, the weight of 4 Mbit/s.
	const bytes = Math.round((KBPS * 1000) / 8 / FPS);
	const packets = material.packets.map((packet) =>
		packet.kind === 'video' ? { ...packet, data: new Uint8Array(bytes).fill(1) } : packet,
	);
	const orders = Array.from({ length: HOSTS }, (_, i) =>
		orderTo(`rtmp://127.0.0.1:${port}/${i < deaf ? 'deaf' : 'hears'}`, 'key', { id: `${i}`, name: `Host ${i}` }),
	);
	const broadcast = new Broadcast({
		id: 'bench',
		renditions: [{ kbps: KBPS, orders }],
		recordingFile: path.join(folder, `${deaf}.mp4`),
		tracks: [],
		holdMs: 60_000,
		changed: () => {},
		heldTooLong: () => {},
	});
	broadcast.attach('bench', () => {});
	broadcast.receive(material.video);
	broadcast.receive(material.audio);
	await until('all live', () => broadcast.publishers.every(({ status }) => status.phase === 'live'));

	const tookMs: number[] = [];
	const queues: number[] = [];
	let most = 0;
	const rssBefore = process.memoryUsage().rss;
	const before = process.cpuUsage();
	const startedAt = performance.now();
	const measuring = setInterval(() => {
		broadcast.measure(Date.now());
		const hearing = broadcast.publishers.slice(deaf);
		queues.push(Math.max(...hearing.map(({ status }) => status.queueBytes)));
		most = Math.max(most, process.memoryUsage().rss);
	}, 1000);
	const playing = play(
		{ ...material, packets },
		(packet) => {
			const from = performance.now();
			broadcast.receive(packet);
			tookMs.push(performance.now() - from);
		},
		1,
	);
	await new Promise((resolve) => setTimeout(resolve, MEASURED_S * 1000));
	const { user, system } = process.cpuUsage(before);
	const cores = (user + system) / 1000 / (performance.now() - startedAt);
	playing.stop();
	clearInterval(measuring);
	const lost = broadcast.publishers.slice(deaf).reduce((sum, { status }) => sum + status.lostFrames, 0);
	const live = broadcast.publishers.slice(deaf).filter(({ status }) => status.phase === 'live').length;
	await broadcast.end();
	const what = deaf === 0 ? `${HOSTS} hosts at 4 Mbit/s` : `the same, ${deaf} of them not reading`;
	const sorted = tookMs.toSorted((a, b) => a - b);
	return [
		row(`${what}: server`, cores, 'cores', { limit: { most: 1 } }),
		row(`${what}: still connected of those that read`, live, 'hosts', { limit: { least: HOSTS - deaf } }),
		row(`${what}: pictures lost of those that read`, lost, 'frames', { limit: { most: 0 } }),
		row(`${what}: longest queue at the end`, (queues.at(-1) ?? NaN) / 1000, 'kB', { limit: { most: 500 } }),
		row(`${what}: packet to all sockets, median`, sorted[sorted.length >> 1]!, 'ms', { limit: { most: 5 } }),
		row(`${what}: memory added at most`, (most - rssBefore) / 1e6, 'MB', {
			limit: { most: deaf === 0 ? 200 : 200 + deaf * 10 },
		}),
	];
}
