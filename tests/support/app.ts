/** A server of its own for a test: real database, real sockets, a data folder that goes away. */
import { mkdtemp, rm } from 'node:fs/promises';
import http, { type RequestListener } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { WebSocket } from 'ws';
import type { Command } from '../../src/core/show/command.ts';
import type { HubMessage, LiveStatus, PageMessage } from '../../src/core/show/messages.ts';
import { openBivvo } from '../../src/server/app.ts';
import type { Bivvo } from '../../src/server/bivvo.ts';
import type { Config } from '../../src/server/config.ts';

export async function testFolder(): Promise<{ folder: string; remove: () => Promise<void> }> {
	const folder = await mkdtemp(path.join(tmpdir(), 'bivvo-test-'));
	return { folder, remove: () => rm(folder, { recursive: true, force: true }) };
}

interface OpenOptions {
	idleMs?: number;
	config?: Partial<Config>;
}

export async function openApp(
	databaseUrl: string,
	dataFolder: string,
	options: OpenOptions = {},
): Promise<{ app: Bivvo; port: number; close: () => Promise<void> }> {
	const config: Config = {
		host: '127.0.0.1',
		port: 0,
		dataFolder,
		databaseUrl,
		migrationsFolder: path.resolve('src/server/db/migrations'),
		standInRtmpPort: null,
		lineTestUrl: null,
		standInsFolder: path.resolve('standins'),
		minutesToStart: null,
		demoDay: '2026-11-28',
		origins: [],
		proxies: [],
		relay: { urls: [], secret: '' },
		reachesLoopback: true,
		...options.config,
	};
	const app = await openBivvo(config, options);
	return { app, ...(await listenTo(app, (_, response) => void response.writeHead(404).end())) };
}

/** @param handler what lies behind the door */
export async function listenTo(
	app: Bivvo,
	handler: RequestListener,
): Promise<{ port: number; close: () => Promise<void> }> {
	const server = http.createServer(app.access.listener(handler));
	server.on('upgrade', (request, socket, head) => app.upgrade(request, socket, head));
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	const close = async () => {
		server.close();
		server.closeAllConnections();
		await app.close();
	};
	return { port: (server.address() as AddressInfo).port, close };
}

/** Waits until `check` gives something true; throws with `what` when it never does. */
export async function until<T>(
	what: string,
	check: () => T | Promise<T>,
	limitMs = 60_000,
): Promise<Exclude<T, false | null | undefined>> {
	const deadline = Date.now() + limitMs;
	for (;;) {
		const value = await check();
		if (value) return value as Exclude<T, false | null | undefined>;
		if (Date.now() > deadline) throw new Error(`Waited ${limitMs} ms in vain for: ${what}`);
		await new Promise((resolve) => setTimeout(resolve, 25));
	}
}

/** A page at an event, as far as the hub sees one. */
export class Page {
	readonly messages: HubMessage[] = [];
	readonly socket: WebSocket;
	closed: { code: number; reason: string } | null = null;
	#count = 0;

	constructor(port: number, eventId: string, options = {}) {
		this.socket = new WebSocket(`ws://127.0.0.1:${port}/live/${eventId}`, options);
		this.socket.on('message', (data) => this.messages.push(JSON.parse(String(data)) as HubMessage));
		this.socket.on('close', (code, reason) => (this.closed = { code, reason: String(reason) }));
		this.socket.on('error', () => {});
	}

	welcome(): Promise<Extract<HubMessage, { type: 'welcome' }>> {
		return until('the welcome', () => this.messages.find((message) => message.type === 'welcome'));
	}

	send(message: PageMessage): void {
		this.socket.send(JSON.stringify(message));
	}

	/** Sends a command under a name of its own; returns the name. */
	do(command: Command, id = `${Date.now()}-${this.#count++}`): string {
		this.send({ type: 'command', id, command });
		return id;
	}

	applied(id: string) {
		return until(`command ${id}`, () =>
			this.messages.find((message) => message.type === 'applied' && message.id === id),
		);
	}

	/** What shows the uplink that this page makes the program. */
	lease(): Promise<string> {
		return until('the lease', () => {
			const told = this.messages.findLast(({ type }) => type === 'lease' || type === 'welcome');
			return told?.type === 'lease' ? told.secret : told?.type === 'welcome' ? told.lease : null;
		});
	}

	get status(): LiveStatus | undefined {
		const newest = this.messages.findLast(({ type }) => type === 'status' || type === 'welcome');
		return newest?.type === 'welcome' ? newest.status : (newest as LiveStatus | undefined);
	}
}
