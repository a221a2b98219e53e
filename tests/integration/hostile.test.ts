import { existsSync, renameSync } from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import net from 'node:net';
import { hostname } from 'node:os';
import path from 'node:path';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { startDatabase } from '../../command/database.mjs';
import { freePort } from '../../command/settings.mjs';
import { createEvent } from '../../src/server/events.ts';
import { openApp, Page, testFolder, until } from '../support/app.ts';
import { openHost, type TestHost } from '../support/host.ts';

let temporary: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
let host: TestHost;
let eventId: string;

beforeAll(async () => {
	temporary = await testFolder();
	running = await openApp(inject('databaseUrl'), temporary.folder);
	host = await openHost();
	eventId = await createEvent(running.app, 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
});
afterAll(async () => {
	await host.close();
	await running.close();
	await temporary.remove();
});

/** Sends bytes to a port; resolves with all that comes back once the other side is done, or with what came before a reset. */
async function send(port: number, text: string, resets = false): Promise<string> {
	const socket = net.connect(port, '127.0.0.1');
	let answer = '';
	socket.on('data', (bytes) => (answer += bytes));
	socket.on('error', () => {});
	await new Promise((resolve) => socket.once('connect', resolve));
	socket.write(text);
	if (resets) socket.resetAndDestroy();
	else socket.setTimeout(2000, () => socket.destroy());
	await new Promise((resolve) => socket.once('close', resolve));
	return answer;
}
const upgrade = (target: string) =>
	[
		`GET ${target} HTTP/1.1`,
		'Host: 127.0.0.1',
		'Connection: Upgrade',
		'Upgrade: websocket',
		'Sec-WebSocket-Version: 13',
		'Sec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==',
		'\r\n',
	].join('\r\n');
async function stillOpen(): Promise<void> {
	const page = new Page(running.port, eventId);
	await page.welcome();
	page.socket.terminate();
}

describe('the server', () => {
	it('refuses a WebSocket to a target that is none, also when its peer is gone before', async () => {
		for (const target of ['//', '///live/x', '/live/', 'http://', '*', `/live/${eventId}/more`, '/live/%ff'])
			expect(await send(running.port, upgrade(target)), target).toMatch(/^HTTP\/1\.1 4\d\d /);
		for (let i = 0; i < 20; i++) await send(running.port, upgrade('//'), true);
		await stillOpen();
	});

	it('closes on bytes that are no message, with a reason that fits into a close frame', async () => {
		const page = new Page(running.port, `${eventId}?engine&page=desk`);
		await page.welcome();
		page.socket.send(Buffer.from([0xff, 0xfe, 0x00]));
		const closed = await until('the close', () => page.closed);
		expect(closed.code).toBe(1008);
		expect(Buffer.byteLength(closed.reason)).toBeLessThanOrEqual(123);
		await stillOpen();
	});
});

describe('the stand-in host', () => {
	it('answers a target that is none, and outlives a body that breaks off', async () => {
		const port = Number(new URL(host.url).port);
		for (const target of ['//', '///', '/account/members/broadcast?after=//'])
			expect(await send(port, `GET ${target} HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n`)).toMatch(
				/^HTTP\/1\.1 \d{3} /,
			);
		const head = (target: string, method: string) =>
			`${method} ${target} HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer hollin-account\r\nContent-Length: 999\r\n\r\n{"title":`;
		for (let i = 0; i < 10; i++) {
			await send(port, head('/account/members/broadcast', 'PUT'), true);
			await send(port, head('/messages/members', 'POST'), true);
		}
		expect((await fetch(`${host.url}/api/places`)).ok).toBe(true);
	});
});

describe('the private database', () => {
	const without = (port: number, user: string) =>
		mysql.createConnection({ host: '127.0.0.1', port, user, password: '' }).then(
			async (connection) => {
				await connection.end();
				return 'let in';
			},
			({ code }: { code: string }) => code,
		);

	it('lets nobody in without a password, also one that a former version had made', async () => {
		const { folder, remove } = await testFolder();
		const files = path.join(folder, 'database');
		const port = await freePort();
		const first = await startDatabase(files, port);
		expect(await without(port, 'root')).not.toBe('let in');
		const connection = await mysql.createConnection({ uri: first.url });
		const [users] = await connection.query<mysql.RowDataPacket[]>('select current_user() as name');
		expect(users[0]!.name).toBe('bivvo@127.0.0.1');
		await connection.end();
		first.sql(`create user 'root'@'127.0.0.1'; grant all on *.* to 'root'@'127.0.0.1';
			create user 'root'@'${hostname()}';`);
		expect(await without(port, 'root')).toBe('let in');
		await first.stop();
		const second = await startDatabase(files, port);
		expect(await without(port, 'root')).not.toBe('let in');
		await second.stop();
		await remove();
	});

	it('is not deleted when its password file is missing, and is made anew when it was never finished', async () => {
		const { folder, remove } = await testFolder();
		const files = path.join(folder, 'database');
		const port = await freePort();
		await (await startDatabase(files, port)).stop();
		renameSync(path.join(files, 'password'), path.join(folder, 'password'));
		await expect(startDatabase(files, port)).rejects.toThrow('but not its password file');
		expect(existsSync(path.join(files, 'files', 'bivvo'))).toBe(true);
		await rename(path.join(folder, 'password'), path.join(files, 'password'));
		await (await startDatabase(files, port)).stop();

		await rm(files, { recursive: true });
		await mkdir(path.join(files, 'files'), { recursive: true });
		await writeFile(path.join(files, 'unfinished'), '');
		await (await startDatabase(files, port)).stop();
		expect(existsSync(path.join(files, 'unfinished'))).toBe(false);
		await remove();
	});
});
