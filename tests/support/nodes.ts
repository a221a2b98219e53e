/** Several nodes of a test: real processes with a Redis of their own, and pages that press on any of them. */
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { WebSocket } from 'ws';
import { startNode, type NodeOptions } from '../../command/nodes.mjs';
import { startRedis } from '../../command/redis.mjs';
import { freePort } from '../../command/settings.mjs';
import type { PageCommand } from '../../src/core/show/command.ts';
import { Together } from '../../src/core/delivery/together.ts';
import { encodeUplink, type Downlink, type MediaPacket, type UplinkPacket } from '../../src/core/delivery/uplink.ts';
import { ALIVE } from '../../src/core/show/reconnect.ts';
import { UplinkAddress } from '../../src/engine/uplink-address.ts';
import { Page, testFolder, until } from './app.ts';
import { play, type Material } from './media.ts';

export type TestNode = Awaited<ReturnType<typeof startNode>>;

export interface TestNodes {
	nodes: TestNode[];
	redis: Awaited<ReturnType<typeof startRedis>>;
	folder: string;
	/** Starts one more. */
	add: (part?: Partial<NodeOptions>) => Promise<TestNode>;
	/** Those that were not ended. */
	readonly there: TestNode[];
	close: () => Promise<void>;
}

/** @param part of the options of each */
export async function startTestNodes(
	databaseUrl: string,
	count: number,
	part: Partial<NodeOptions> = {},
): Promise<TestNodes> {
	const temporary = await testFolder();
	const redis = await startRedis(await freePort());
	const nodes: TestNode[] = [];
	const gone = new Set<TestNode>();
	let started = 0;
	async function add(own: Partial<NodeOptions> = {}): Promise<TestNode> {
		const node = await startNode({
			host: '127.0.0.1',
			port: await freePort(),
			cameraPort: null,
			databaseUrl,
			redisUrl: redis.url,
			data: path.join(temporary.folder, `node-${++started}`),
			shared: path.join(temporary.folder, 'shared'),
			quiet: process.env.SAY === undefined,
			...part,
			...own,
			env: { BIVVO_LOG: 'info', BIVVO_REACH_LOOPBACK: '1', ...part.env, ...own.env },
		});
		nodes.push(node);
		void node.gone.then(() => gone.add(node));
		return node;
	}
	for (let i = 0; i < count; i++) await add();
	return {
		nodes,
		redis,
		folder: temporary.folder,
		add,
		get there() {
			return nodes.filter((node) => !gone.has(node));
		},
		async close() {
			// One that a test has stopped hears nothing else.
			for (const node of nodes) node.kill('SIGCONT');
			await Promise.all(nodes.map((node) => node.stop()));
			await redis.stop();
			await temporary.remove();
		},
	};
}

export const portOf = ({ url }: { url: string }): number => Number(new URL(url).port);

/** Asks a node for something, as a page at the machine does. @throws with what was answered */
export async function ask<T = unknown>(
	{ url }: { url: string },
	to: string,
	method = 'GET',
	body?: object,
): Promise<T> {
	const response = await fetch(url + to, {
		method,
		headers: { Origin: url, 'Content-Type': 'application/json' },
		...(body && { body: JSON.stringify(body) }),
	});
	const text = await response.text();
	if (!response.ok) throw new Error(`${method} ${to}: ${response.status} ${text.slice(0, 200)}`);
	return JSON.parse(text) as T;
}

/** The server's close code for an event that is another node's now: a browser's page comes again. */
const MOVED = 1012;

/**
 * Pages at an event, welcomed all at once. On a busy machine an event may change its node at any time: a page that is told so
 * comes again, as a browser's does.
 * @param open makes one
 */
export async function welcomed(...open: readonly (() => Page)[]): Promise<Page[]> {
	const pages = open.map((each) => each());
	await until('the welcomes', () => {
		for (const [i, { closed }] of pages.entries()) {
			if (closed?.code === MOVED) pages[i] = open[i]!();
			else if (closed) throw new Error(`Closed: ${closed.code} ${closed.reason}`);
		}
		return pages.every(({ messages }) => messages.some(({ type }) => type === 'welcome'));
	});
	return pages;
}

/** Waits until pages are closed; those that were told to come again have come again, and were refused. @returns why */
export async function turnedOut(
	pages: readonly Page[],
	open: readonly (() => Page)[],
): Promise<(number | 'refused')[]> {
	const now = [...pages];
	const cameAgain = new Set<number>();
	await until('the close', () => {
		for (const [i, { closed }] of now.entries()) {
			if (closed?.code !== MOVED) continue;
			now[i] = open[i]!();
			cameAgain.add(i);
		}
		return now.every(({ closed }) => closed);
	});
	return now.map(({ closed }, i) => (cameAgain.has(i) && closed!.code === 1006 ? 'refused' : closed!.code));
}

const AGAIN_MS = 100;
/** An event says how it stands each second: a page that hears nothing for so long comes again, as a browser's does. */
const SILENT_MS = 4000;

/**
 * A page at an event that comes to any node, comes again to another one when its connection ends, and says again what it
 * has not been told to be done, as a browser's does.
 */
export class Bot {
	/** Ids of commands that were said to be done, in that order. */
	readonly done: string[] = [];
	/** Of those that were said to be kept: each is said again to the next owner, until it is done. */
	readonly kept = new Set<string>();
	/** Why any was refused. */
	readonly refused: string[] = [];
	page!: Page;
	readonly #waiting = new Map<string, PageCommand>();
	readonly #eventId: string;
	readonly #nodes: () => readonly TestNode[];
	readonly #name: string;
	#count = 0;
	#comings = 0;
	#read = 0;
	#heardAt = performance.now();
	#hasLeft = false;
	readonly #timer: NodeJS.Timeout;
	#comingAgain: NodeJS.Timeout | undefined;

	/** @param name of the page, with a question mark and what else it says of itself @param nodes that it may come to */
	constructor(nodes: () => readonly TestNode[], eventId: string, name: string) {
		this.#nodes = nodes;
		this.#eventId = eventId;
		this.#name = name;
		this.#come();
		this.#timer = setInterval(() => this.#look(), 20);
	}

	#come(): void {
		const nodes = this.#nodes();
		if (nodes.length === 0) throw new Error('No node is there any more');
		this.#read = 0;
		this.#heardAt = performance.now();
		this.page = new Page(portOf(nodes[this.#comings++ % nodes.length]!), `${this.#eventId}?page=${this.#name}`);
	}

	#look(): void {
		const { messages, closed, socket } = this.page;
		if (messages.length > this.#read) this.#heardAt = performance.now();
		if (performance.now() - this.#heardAt > SILENT_MS) socket.terminate();
		for (; this.#read < messages.length; this.#read++) {
			const message = messages[this.#read]!;
			if (message.type === 'welcome')
				for (const [id, command] of this.#waiting) this.page.send({ type: 'command', id, command });
			else if (message.type === 'applied' || message.type === 'done')
				if (message.kept) this.kept.add(message.id);
				else this.#settle(message.id, this.done);
			else if (message.type === 'refused') this.#settle(message.id, this.refused);
		}
		if ((!closed && socket.readyState !== socket.CLOSED) || this.#hasLeft || this.#comingAgain) return;
		this.#comingAgain = setTimeout(() => {
			this.#comingAgain = undefined;
			if (!this.#hasLeft && this.#nodes().length > 0) this.#come();
		}, AGAIN_MS);
	}

	#settle(id: string, to: string[]): void {
		if (this.#waiting.delete(id)) to.push(id);
	}

	/** True when all that was pressed is done. */
	get isSettled(): boolean {
		return this.#waiting.size === 0;
	}

	/** @returns the command's id */
	press(command: PageCommand): string {
		const id = `${this.#name.replace(/\W.*/, '')}-${this.#count++}`;
		this.#waiting.set(id, command);
		if (this.page.socket.readyState === this.page.socket.OPEN && this.#read > 0)
			this.page.send({ type: 'command', id, command });
		return id;
	}

	/** Comes to another node, as if this connection were torn. */
	comeAgain(): void {
		this.page.socket.terminate();
	}

	leave(): void {
		this.#hasLeft = true;
		clearInterval(this.#timer);
		this.page.socket.terminate();
	}
}

interface Line {
	page: Page;
	uplink: WebSocket | null;
	stop: () => void;
}

/** A desk on air: its page, and what it makes of the program, sent to whichever node its page is at. */
export class StubDesk {
	readonly eventId: string;
	readonly bot: Bot;
	readonly #material: Material;
	readonly #timer: NodeJS.Timeout;
	#at: Line | null = null;
	readonly #isStraight: boolean;

	/** @param isStraight whether it asks for the address of the node that has its event, as a browser's does */
	constructor(nodes: () => readonly TestNode[], eventId: string, material: Material, isStraight = false) {
		this.eventId = eventId;
		this.#isStraight = isStraight;
		this.bot = new Bot(nodes, eventId, 'desk&engine');
		this.#material = material;
		this.#timer = setInterval(() => this.#look(eventId), 20);
	}

	#look(eventId: string): void {
		const { page } = this.bot;
		const isClosed = this.#at?.uplink?.readyState === WebSocket.CLOSED;
		if (this.#at?.page === page && !isClosed) return;
		this.#hangUp();
		const lease = page.closed ? null : page.leaseNow;
		if (lease === null) return;
		const { origin, host } = new URL(page.socket.url);
		const usual = `${origin}/uplink/${eventId}?lease=${lease}&session=${randomUUID()}`;
		const address = new UplinkAddress(usual, async () => {
			if (!this.#isStraight) return null;
			const asked = ask<{ address: string | null }>({ url: `http://${host}` }, `/api/events/${eventId}/uplink`, 'POST');
			return (await asked.catch(() => undefined))?.address;
		});
		const at: Line = { page, uplink: null, stop: () => {} };
		this.#at = at;
		void address.next().then((url) => this.#at === at && this.#open(at, url));
	}

	#open(at: Line, url: string): void {
		const uplink = new WebSocket(url);
		at.uplink = uplink;
		uplink.on('error', () => {});
		uplink.once('open', () => {
			const { video, audio, packets } = this.#material;
			const send = (packet: UplinkPacket) => uplink.send(encodeUplink(packet));
			for (const config of [video, audio]) send(config);
			for (const { data, key } of packets.filter(({ kind }) => kind === 'video').slice(0, 60))
				send({ kind: 'hold', rendition: 0, key, data });
			const together = new Together(send);
			const playing = playOn(this.#material, (packet) =>
				packet.kind === 'audio' ? together.sound(packet) : together.picture(packet),
			);
			at.stop = playing.stop;
			uplink.on('message', (data: Buffer) => {
				const text = data.toString();
				if (text !== ALIVE && 'needKey' in (JSON.parse(text) as Downlink)) playing.beginAnew();
			});
		});
	}

	/** Where it sends. */
	get uplinkUrl(): string {
		return this.#at?.uplink?.url ?? '';
	}

	#hangUp(): void {
		this.#at?.stop();
		this.#at?.uplink?.terminate();
		this.#at = null;
	}

	leave(): void {
		clearInterval(this.#timer);
		this.#hangUp();
		this.bot.leave();
	}
}

/** Plays material over and over, at its own pace, and from its first key frame again where one is asked for. */
function playOn(material: Material, send: (packet: MediaPacket) => void): { stop(): void; beginAnew(): void } {
	let ended = false;
	let stop = () => {};
	let newestUs = 0;
	void (async () => {
		for (let fromUs = 0; !ended; fromUs = newestUs + 33_333) {
			const onLine = (packet: MediaPacket) => {
				const timeUs = packet.timeUs + fromUs;
				newestUs = Math.max(newestUs, timeUs);
				send({ ...packet, timeUs });
			};
			const playing = play(material, onLine, 1);
			({ stop } = playing);
			await playing.done;
		}
	})();
	return {
		beginAnew: () => stop(),
		stop: () => {
			ended = true;
			stop();
		},
	};
}

const PICTURE = { width: 1280, height: 720, fps: 30 };

/** Makes events. @returns their ids */
export async function newEvents(node: TestNode, count: number): Promise<string[]> {
	const answers = { title: 'Lantern Night', startsAt: '', timeZone: '', fields: {} };
	const ids: string[] = [];
	// One press makes fifty at most.
	for (let left = count; left > 0; left -= 50) {
		const repeats = Array.from({ length: Math.min(50, left) - 1 }, () => '');
		const order = { from: { is: 'nothing', picture: PICTURE }, answers, repeats };
		ids.push(...(await ask<{ ids: string[] }>(node, '/api/events', 'POST', order)).ids);
	}
	return ids;
}

/** A destination as a page stores it. @param address of a place at a host */
export function destinationAt(address: string) {
	return {
		...{ id: 'members-of-nodes', name: 'Members’ Page', address, key: 'members-lantern-1845' },
		...{ userName: '', password: null, keyLasts: true, accountUrl: null },
		...{ maxHeight: null, maxKbps: null, maxFps: null },
	};
}

/** Makes events, each with a desk, and sends them to one place. @param to address of a place at a host */
export async function eventsOnAir(
	nodes: () => readonly TestNode[],
	count: number,
	to: string,
	material: Material,
	isStraight = false,
): Promise<StubDesk[]> {
	const [first] = nodes();
	const desks: StubDesk[] = [];
	for (const eventId of await newEvents(first!, count)) {
		await ask(first!, `/api/events/${eventId}/destinations`, 'PUT', destinationAt(to));
		const desk = new StubDesk(nodes, eventId, material, isStraight);
		desks.push(desk);
		desk.bot.press({ type: 'tickDestination', destinationId: 'members-of-nodes', ticked: true });
		desk.bot.press({ type: 'startBroadcast', broadcastId: `evening-${eventId.slice(-6)}` });
	}
	await until('all to be on air', () => desks.every(({ bot }) => bot.isSettled));
	return desks;
}
