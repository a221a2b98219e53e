/** A server of its own for a test: real database, real sockets, a data folder that goes away. */
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import http, { type RequestListener } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import mysql from 'mysql2/promise';
import { WebSocket } from 'ws';
import type { Command } from '../../src/core/show/command.ts';
import type { HubMessage, LiveStatus, PageMessage } from '../../src/core/show/messages.ts';
import { openBivvo } from '../../src/server/app.ts';
import type { Bivvo } from '../../src/server/bivvo.ts';
import type { Config } from '../../src/server/config.ts';
import type { Organisations } from '../../src/server/organisations.ts';

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
		node: null,
		objects: null,
		organisation: '',
		host: '127.0.0.1',
		port: 0,
		dataFolder,
		sharedFolder: dataFolder,
		databaseUrl,
		migrationsFolder: path.resolve('src/server/db/migrations'),
		builtFolder: path.resolve('build/client'),
		cameraPort: 0,
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
	const { access, upgrade, close } = app;
	const door: Door = {
		listener: (handler) => access.listener(handler),
		upgrade: upgrade.bind(app),
		close: close.bind(app),
	};
	return { app, ...(await listenTo(door, (_, response) => void response.writeHead(404).end())) };
}

/** What stands before all routes. */
type Door = Pick<Organisations, 'listener' | 'upgrade' | 'close'>;

/** @param handler what lies behind the door */
export async function listenTo(
	door: Door,
	handler: RequestListener,
): Promise<{ port: number; close: () => Promise<void> }> {
	const server = http.createServer({ keepAliveTimeout: 75_000 }, door.listener(handler));
	server.on('upgrade', (request, socket, head) => door.upgrade(request, socket, head));
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	const close = async () => {
		server.close();
		server.closeAllConnections();
		await door.close();
	};
	return { port: (server.address() as AddressInfo).port, close };
}

/** A database beside that of the other tests, for those that empty it. @returns its address */
export async function ownDatabase(databaseUrl: string, name: string): Promise<string> {
	const connection = await mysql.createConnection({ uri: databaseUrl });
	await connection.query('drop database if exists ??', [`bivvo_${name}`]);
	await connection.query('create database ?? character set utf8mb4 collate utf8mb4_unicode_ci', [`bivvo_${name}`]);
	await connection.end();
	const url = new URL(databaseUrl);
	url.pathname = `/bivvo_${name}`;
	return url.href;
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

	constructor(port: number, eventId: string, options = {}) {
		this.socket = new WebSocket(`ws://127.0.0.1:${port}/live/${eventId}`, options);
		this.socket.on('message', (data) => this.messages.push(JSON.parse(String(data)) as HubMessage));
		this.socket.on('close', (code, reason) => (this.closed = { code, reason: String(reason) }));
		this.socket.on('error', () => {});
	}

	welcome(): Promise<Extract<HubMessage, { type: 'welcome' }>> {
		return until('the welcome', () => {
			const welcome = this.messages.find((message) => message.type === 'welcome');
			if (!welcome && this.closed) throw new Error(`Closed: ${this.closed.code} ${this.closed.reason}`);
			return welcome;
		});
	}

	send(message: PageMessage): void {
		this.socket.send(JSON.stringify(message));
	}

	/** Sends a command under a name of its own; returns the name. */
	do(command: Command, id: string = randomUUID()): string {
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
		return until('the lease', () => this.leaseNow);
	}

	get leaseNow(): string | null {
		const told = this.messages.findLast(({ type }) => type === 'lease' || type === 'welcome');
		return told?.type === 'lease' ? told.secret : told?.type === 'welcome' ? told.lease : null;
	}

	get status(): LiveStatus | undefined {
		const newest = this.messages.findLast(({ type }) => type === 'status' || type === 'welcome');
		return newest?.type === 'welcome' ? newest.status : (newest as LiveStatus | undefined);
	}
}
