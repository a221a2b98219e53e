/** Behind Debian's nginx with TLS, as docs/deploy.md says. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import https from 'node:https';
import path from 'node:path';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { generate } from 'selfsigned';
import { WebSocket } from 'ws';
import { freePort } from '../../command/settings.mjs';
import { createEvent } from '../../src/server/events.ts';
import { testFolder, until } from '../support/app.ts';
import { openSite, type Site } from '../support/site.ts';

const NAME = 'bivvo.example.org';
let folder: Awaited<ReturnType<typeof testFolder>>;
let site: Site;
let nginx: ChildProcess;
let port: number;

beforeAll(async () => {
	folder = await testFolder();
	port = await freePort();
	site = await openSite(inject('databaseUrl'), path.join(folder.folder, 'data'), {
		BIVVO_ORIGIN: `https://${NAME}`,
		BIVVO_TRUST_PROXY: '127.0.0.1',
	});
	const { cert, private: key } = await generate([{ name: 'commonName', value: NAME }], {
		keyType: 'ec',
		algorithm: 'sha256',
	});
	// The block of the documentation, at another port and with files of this test.
	const [, documented] = /```nginx\n([^]*?)```/.exec(readFileSync('docs/deploy.md', 'utf8'))!;
	const block = documented!
		.replace('listen 443 ssl', `listen 127.0.0.1:${port} ssl`)
		.replace('/etc/ssl/bivvo.pem', path.join(folder.folder, 'cert.pem'))
		.replace('/etc/ssl/bivvo.key', path.join(folder.folder, 'key.pem'))
		.replace('127.0.0.1:5310', `127.0.0.1:${site.port}`);
	const temporary = path.join(folder.folder, 'nginx');
	await mkdir(temporary);
	const paths = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
		(what) => `${what}_temp_path ${temporary}/${what};`,
	);
	await Promise.all([
		writeFile(path.join(folder.folder, 'cert.pem'), cert),
		writeFile(path.join(folder.folder, 'key.pem'), key),
		writeFile(
			path.join(folder.folder, 'nginx.conf'),
			`pid ${temporary}/pid; error_log stderr; daemon off; user root;
			events {}
			http { access_log off; ${paths.join(' ')} ${block} }`,
		),
	]);
	nginx = spawn('/usr/sbin/nginx', ['-c', path.join(folder.folder, 'nginx.conf')], {
		stdio: ['ignore', 'ignore', 'inherit'],
	});
	await until(
		'nginx',
		() =>
			ask('/health').then(
				({ status }) => status === 200,
				() => false,
			),
		20_000,
	);
});
afterAll(async () => {
	nginx.kill('SIGTERM');
	await new Promise((resolve) => nginx.once('exit', resolve));
	await site.close();
	await folder.remove();
});

interface Answer {
	status: number;
	headers: NodeJS.Dict<string | string[]>;
	body: string;
}
function ask(target: string, method = 'GET', body = '', headers: Record<string, string> = {}): Promise<Answer> {
	return new Promise((resolve, reject) => {
		const options = { host: '127.0.0.1', port, path: target, method, rejectUnauthorized: false, servername: NAME };
		const all = {
			Host: NAME,
			...(body ? { 'Content-Type': 'application/json', Origin: `https://${NAME}` } : {}),
			...headers,
		};
		const request = https.request({ ...options, headers: all }, (response) => {
			let text = '';
			response.setEncoding('utf8').on('data', (part: string) => (text += part));
			response.on('end', () => resolve({ status: response.statusCode!, headers: response.headers, body: text }));
		});
		request.on('error', reject);
		request.end(body || undefined);
	});
}

it('pages, cookies bound to the host, WebSockets and the visitor’s own address come through', async () => {
	expect(existsSync('/usr/sbin/nginx')).toBe(true);
	expect(spawnSync('/usr/sbin/nginx', ['-v'], { encoding: 'utf8' }).stderr).toContain('nginx');
	expect((await ask('/')).headers.location).toMatch(/^\/(set-up|sign-in)/);
	// Whoever sits at the proxy's machine is nobody special any more, and a forged address does not help.
	expect((await ask('/people', 'GET', '', { 'X-Forwarded-For': '127.0.0.1' })).status).toBe(303);
	const { secret } = await site.app.access.people.invite('Quin', { role: 'director', roleAt: {} });
	const form = { secret, name: 'Quin', login: `quin.${Date.now()}`, password: 'kettle snow lantern walk' };
	const joined = await ask('/api/access/join', 'PUT', JSON.stringify(form));
	expect(joined.status).toBe(200);
	const [cookie] = joined.headers['set-cookie'] as string[];
	expect(cookie).toMatch(/^__Host-bivvo=[\w-]{43}; .*Path=\/; HttpOnly; Secure; SameSite=Lax/i);
	const foreign = await ask('/api/access/sign-out', 'POST', '{}', { Origin: 'https://evil.example' });
	expect(foreign.status).toBe(403);

	const eventId = await createEvent(site.app, 'Behind a proxy', '', { width: 1280, height: 720, fps: 30 });
	const socket = new WebSocket(`wss://127.0.0.1:${port}/live/${eventId}`, {
		headers: { Host: NAME, Origin: `https://${NAME}`, Cookie: cookie!.split(';')[0]! },
		rejectUnauthorized: false,
	});
	const said = await new Promise<string>((resolve, reject) => {
		socket.once('message', (data) => resolve(String(data)));
		socket.once('error', reject);
	});
	expect(JSON.parse(said)).toMatchObject({ type: 'welcome', role: 'director' });
	socket.terminate();
	const [line] = await until('the line', async () => {
		const list = await site.app.access.audit.list();
		return list.some(({ code, actorName }) => code === 'joined' && actorName === 'Quin') && list;
	});
	expect(line!.address).toBe('127.0.0.1');
});
