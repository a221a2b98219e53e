import path from 'node:path';
import { dequal } from 'dequal/lite';
import { asc, eq } from 'drizzle-orm';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { checkBackup, writeBackup } from '../../src/server/backup/backup-file.ts';
import { commands, logLines } from '../../src/server/db/schema.ts';
import { createEvent } from '../../src/server/events.ts';
import { openApp, Page, testFolder, until } from '../support/app.ts';
import { Way } from '../support/way.ts';

let way: Way;
let running: Awaited<ReturnType<typeof openApp>>;
let temporary: Awaited<ReturnType<typeof testFolder>>;

beforeAll(async () => {
	way = new Way(inject('databaseUrl'));
	temporary = await testFolder();
	running = await openApp(await way.open(), temporary.folder);
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
	const ids: string[] = [];
	for (const title of names) {
		const id = page.do({ type: 'renameEvent', title });
		expect(await page.applied(id)).toMatchObject({ kept: true });
		ids.push(id);
	}
	// Sent again, it is not said to be written either.
	const toldOf = (id: string) => page.messages.findLast((message) => message.type === 'done' && message.id === id);
	page.do({ type: 'renameEvent', title: 'Four' }, ids[3]);
	expect(await until('the answer', () => toldOf(ids[3]!))).toEqual({ type: 'done', id: ids[3], kept: true });
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
	for (const id of ids) await until(`that ${id} is written`, () => dequal(toldOf(id), { type: 'done', id }));
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
