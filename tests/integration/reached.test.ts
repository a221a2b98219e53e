/** The server as the start command runs it where others can reach it: by TLS, with an owner. */
import { X509Certificate } from 'node:crypto';
import { readFileSync } from 'node:fs';
import https from 'node:https';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startDatabase } from '../../command/database.mjs';
import { inviteOwner } from '../../command/owner-reset.mjs';
import { startServer } from '../../command/processes.mjs';
import { freePort } from '../../command/settings.mjs';
import { testFolder, until } from '../support/app.ts';

const PASSWORD = 'kettle snow lantern walk';

let folder: Awaited<ReturnType<typeof testFolder>>;
let database: Awaited<ReturnType<typeof startDatabase>>;
let server: Awaited<ReturnType<typeof startServer>>;
let port: number;

async function start(): Promise<void> {
	server = await startServer({
		host: '0.0.0.0',
		port,
		data: folder.folder,
		databaseUrl: database.url,
		quiet: true,
		secure: true,
	});
}
beforeAll(async () => {
	folder = await testFolder();
	port = await freePort();
	database = await startDatabase(path.join(folder.folder, 'database'));
	await start();
});
afterAll(async () => {
	await server.stop();
	await database.stop();
	await folder.remove();
});

interface Answer {
	status: number;
	cookie: string;
	text: string;
}

/** Asks as a browser that trusts just this server's own certificate. */
function ask(
	target: string,
	{ method = 'GET', body, cookie = '' }: { method?: string; body?: object; cookie?: string },
) {
	const ca = readFileSync(path.join(folder.folder, 'tls/certificate.pem'));
	const text = body && JSON.stringify(body);
	const headers = {
		Origin: `https://127.0.0.1:${port}`,
		...(cookie && { Cookie: cookie }),
		...(text && { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(text) }),
	};
	return new Promise<Answer>((resolve, reject) => {
		const asked = https.request({ host: '127.0.0.1', port, path: target, method, ca, headers }, (response) => {
			let said = '';
			response.on('data', (part: Buffer) => (said += String(part)));
			response.on('end', () =>
				resolve({ status: response.statusCode!, cookie: response.headers['set-cookie']?.[0] ?? '', text: said }),
			);
		});
		asked.on('error', reject);
		asked.end(text);
	});
}

it('speaks TLS with a certificate of its own, and gives a cookie that secure pages alone can have', async () => {
	expect((await ask('/', {})).status).toBe(303);
	const code = await until('the code', () => /type this code: (\w{8})/.exec(server.said())?.[1]);
	const form = { code, name: 'Maren Oakshaw', login: 'maren', password: PASSWORD };
	const made = await ask('/api/access/set-up', { method: 'POST', body: form });
	expect(made.status).toBe(200);
	expect(made.cookie).toMatch(/^__Host-bivvo=[\w-]{43};/);
	for (const part of ['Path=/', 'Secure', 'HttpOnly', 'SameSite=Lax']) expect(made.cookie).toContain(part);
	const cookie = made.cookie.split(';')[0]!;
	expect((await ask('/people', { cookie })).status).toBe(200);
	// What a tablet will ask: the fingerprint is on the page.
	const { fingerprint256 } = new X509Certificate(readFileSync(path.join(folder.folder, 'tls/certificate.pem')));
	const asked = await ask('/certificate', { cookie });
	expect(asked.text.replace(/<[^>]*>|\s/g, '')).toContain(fingerprint256);
	expect((await ask('/certificate', {})).status).toBe(303);
	expect(server.said()).not.toContain(PASSWORD);
	await expect(fetch(`http://127.0.0.1:${port}/health`)).rejects.toThrow('fetch failed');
});

it('has a new owner where nobody can sign in any more, made at the machine itself', async () => {
	await server.stop();
	const secret = await inviteOwner(database.url);
	await start();
	const form = { secret, name: 'Quin Fell', login: 'quin', password: PASSWORD };
	const joined = await ask('/api/access/join', { method: 'PUT', body: form });
	expect(joined.status).toBe(200);
	const cookie = joined.cookie.split(';')[0]!;
	expect((await ask('/people', { cookie })).text).toContain('Quin Fell');
	expect((await ask('/api/access/join', { method: 'PUT', body: form })).status).toBe(410);
});
