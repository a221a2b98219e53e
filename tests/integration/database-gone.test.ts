import net, { type AddressInfo, type Socket } from 'node:net';
import path from 'node:path';
import { asc, eq } from 'drizzle-orm';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { checkBackup, writeBackup } from '../../src/server/backup/backup-file.ts';
import { commands, logLines } from '../../src/server/db/schema.ts';
import { createEvent } from '../../src/server/events.ts';
import { openApp, Page, testFolder, until } from '../support/app.ts';

/** The way to the database, which can be cut: what a network or a restarting database does. */
class Way {
	#server: net.Server;
	#sockets = new Set<Socket>();
	#cut = false;
	/** Bytes that came from the database. */
	came = 0;
	/** Cuts when so many have come. */
	cutAt = Infinity;

	constructor(port: number) {
		this.#server = net.createServer((near) => {
			if (this.#cut) return near.destroy();
			const far = net.connect(port, '127.0.0.1');
			far.on('data', ({ length }) => {
				this.came += length;
				if (this.came >= this.cutAt) this.cut();
			});
			for (const [from, to] of [
				[near, far],
				[far, near],
			] as const) {
				this.#sockets.add(from);
				from.pipe(to);
				from.on('error', () => to.destroy());
				from.on('close', () => {
					this.#sockets.delete(from);
					to.destroy();
				});
			}
		});
	}

	async open(): Promise<number> {
		await new Promise<void>((resolve) => this.#server.listen(0, '127.0.0.1', resolve));
		return (this.#server.address() as AddressInfo).port;
	}

	cut(): void {
		this.#cut = true;
		for (const socket of this.#sockets) socket.destroy();
	}

	mend(): void {
		this.#cut = false;
		this.cutAt = Infinity;
	}

	close(): void {
		this.cut();
		this.#server.close();
	}
}

let way: Way;
let running: Awaited<ReturnType<typeof openApp>>;
let temporary: Awaited<ReturnType<typeof testFolder>>;

beforeAll(async () => {
	const url = new URL(inject('databaseUrl'));
	way = new Way(Number(url.port));
	url.port = String(await way.open());
	temporary = await testFolder();
	running = await openApp(url.href, temporary.folder);
});
afterAll(async () => {
	await running.close();
	way.close();
	await temporary.remove();
});

it('goes on while the database is gone, says so, and writes in order what was done when it is back', async () => {
	const eventId = await createEvent(running.app, 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
	const page = new Page(running.port, eventId);
	await page.welcome();
	await page.applied(page.do({ type: 'renameEvent', title: 'Before' }));

	way.cut();
	const names = ['One', 'Two', 'Three', 'Four'];
	for (const title of names) await page.applied(page.do({ type: 'renameEvent', title }));
	await until('the warning', () => page.status?.stored === false);
	expect((await running.app.health()).database).toBe('lost');

	way.mend();
	await until('the all-clear', () => page.status?.stored === true);
	const rows = await until('all rows', async () => {
		const all = await running.app.db
			.select()
			.from(commands)
			.where(eq(commands.eventId, eventId))
			.orderBy(asc(commands.seq));
		return all.length === 5 && all;
	});
	expect(rows.map(({ seq }) => seq)).toEqual([1, 2, 3, 4, 5]);
	expect(rows.map(({ command }) => (command as { title?: string }).title)).toEqual(['Before', ...names]);
	expect((await running.app.health()).database).toBe('ok');
	page.socket.terminate();
});

it('ends a backup of which the way is cut in the middle, and makes the next one', async () => {
	const file = path.join(temporary.folder, 'trial.jsonl.gz');
	// Rows that are more than a reader takes at once.
	const eventId = await createEvent(running.app, 'Wool Market', '', { width: 1280, height: 720, fps: 30 });
	const said = 'a lantern '.repeat(40);
	const lines = Array.from({ length: 500 }, (_, i) => ({ eventId, at: i, kind: 'marker' as const, text: said }));
	await running.app.db.insert(logLines).values(lines);
	const { databaseUrl } = running.app.config;
	const before = way.came;
	await writeBackup(databaseUrl, file, 1);
	const bytes = way.came - before;
	for (const part of [0.05, 0.3, 0.6, 0.9]) {
		way.cutAt = way.came + part * bytes;
		await expect(writeBackup(databaseUrl, file, 2), `cut at ${part}`).rejects.toThrow(/connection|ECONNRESET/i);
		way.mend();
	}
	expect((await checkBackup(file)).at).toBe(1);
	await writeBackup(databaseUrl, file, 3);
	expect((await checkBackup(file)).at).toBe(3);
});
