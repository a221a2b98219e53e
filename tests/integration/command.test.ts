import { spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { freePort } from '../../command/settings.mjs';
import { testFolder, until } from '../support/app.ts';

let temporary: Awaited<ReturnType<typeof testFolder>>;
let env: NodeJS.ProcessEnv;

beforeAll(async () => {
	temporary = await testFolder();
	const names = ['BIVVO_PORT', 'BIVVO_DB_PORT', 'BIVVO_STANDIN_RTMP_PORT', 'BIVVO_STANDIN_HTTP_PORT'];
	const ports = Object.fromEntries(await Promise.all(names.map(async (name) => [name, String(await freePort())])));
	env = { ...process.env, ...ports, BIVVO_DATA: path.join(temporary.folder, 'with a blank') };
});
afterAll(() => temporary.remove());

/** Runs ./bivvo demo until it is ready, hands over its address, then presses Ctrl-C. */
async function demo(look: (url: string) => Promise<void>): Promise<{ code: number | null; said: string }> {
	const child = spawn('./bivvo', ['demo'], { env });
	let said = '';
	for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += text));
	const gone = new Promise<number | null>((resolve) => child.once('exit', resolve));
	try {
		const [, url] = await until('the address', () => /Bivvo is ready: (\S+)\//.exec(said), 120_000);
		await look(url!);
	} finally {
		child.kill('SIGINT');
	}
	return { code: await gone, said };
}

/** Runs ./bivvo to its end. */
async function run(...args: string[]): Promise<{ code: number | null; said: string }> {
	const child = spawn('./bivvo', args, { env });
	let said = '';
	for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += text));
	return { code: await new Promise((resolve) => child.once('exit', resolve)), said };
}

it(
	'starts the demo, says what it does, stops cleanly, and keeps the data for the next time',
	{ timeout: 180_000 },
	async () => {
		const first = await demo(async (url) => {
			expect(await (await fetch(`${url}/health`)).json()).toMatchObject({ database: 'ok', broadcasts: [] });
			expect(await (await fetch(url)).text()).toContain('Lantern Night');
			const made = await fetch(`${url}/api/events`, {
				method: 'POST',
				body: JSON.stringify({
					from: { is: 'nothing', picture: { width: 1280, height: 720, fps: 25 } },
					answers: { title: 'A second evening', startsAt: '', timeZone: '', fields: {} },
				}),
				headers: { Origin: url, 'Content-Type': 'application/json' },
			});
			expect(made.status).toBe(200);
		});
		expect(first.code).toBe(0);
		for (const words of ['Starting the database', 'Starting the stand-in host', 'Starting the server', 'Stopping'])
			expect(first.said).toContain(words);

		// Backups are of a day; what is restored is kept as well, so that one can go back.
		const listed = await run('restore');
		const [newest] = /\S+\.backup\.gz/.exec(listed.said)!;
		expect(listed.said).toContain(`./bivvo restore ${newest}`);
		const restored = await run('restore', 'latest');
		expect([restored.code, restored.said]).toEqual([0, expect.stringMatching(/Restored: \d+ rows/)]);
		const [before] = /before-restore-\d+\.backup\.gz/.exec(restored.said)!;
		expect((await run('restore', before)).said).toMatch(/Restored: [1-9]\d+ rows/);
		const none = await run('restore', 'nothing.backup.gz');
		expect([none.code, none.said]).toEqual([1, expect.stringContaining('There is no such backup.')]);

		const startedAt = performance.now();
		await demo(async (url) => {
			expect(performance.now() - startedAt).toBeLessThan(60_000);
			expect(await (await fetch(url)).text()).toContain('A second evening');
			const pid = Number(readFileSync(path.join(temporary.folder, 'with a blank/database/pid'), 'utf8'));
			expect(readFileSync(`/proc/${pid}/cmdline`, 'utf8')).toContain('--bind-address=127.0.0.1');
			// A second copy on the same ports says which one is taken.
			const second = spawn('./bivvo', ['demo'], { env: { ...env, BIVVO_DATA: path.join(temporary.folder, 'other') } });
			let complaint = '';
			second.stderr.on('data', (text) => (complaint += text));
			expect(await new Promise((resolve) => second.once('exit', resolve))).toBe(1);
			expect(complaint.trim()).toBe(
				`Port ${env.BIVVO_PORT} is in use by another program. Close it, or choose another port with BIVVO_PORT=…`,
			);
		});
	},
);

it('told to end while it is still starting, leaves nothing running', { timeout: 120_000 }, async () => {
	const child = spawn('./bivvo', ['demo'], { env });
	let said = '';
	child.stdout.on('data', (text) => (said += text));
	const gone = new Promise<number | null>((resolve) => child.once('exit', resolve));
	await until('the start of the server', () => said.includes('Starting the server'), 60_000);
	const host = `http://127.0.0.1:${env.BIVVO_STANDIN_HTTP_PORT}/api/places`;
	expect((await fetch(host)).ok).toBe(true);
	const database = Number(readFileSync(path.join(temporary.folder, 'with a blank/database/pid'), 'utf8'));
	child.kill('SIGTERM');
	expect(await gone).toBe(0);
	await expect(fetch(host)).rejects.toThrow();
	await expect(fetch(`http://127.0.0.1:${env.BIVVO_PORT}/health`)).rejects.toThrow();
	expect(existsSync(`/proc/${database}`)).toBe(false);
});
