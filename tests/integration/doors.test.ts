/** The door and all behind it, with real requests and sockets, the built pages and MariaDB. */
import http from 'node:http';
import net from 'node:net';
import { Secret, TOTP } from 'otpauth';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { WebSocket } from 'ws';
import { ALIVE } from '../../src/core/show/reconnect.ts';
import { createEvent } from '../../src/server/events.ts';
import { Page, testFolder, until } from '../support/app.ts';
import { openSite, Visitor, type Site } from '../support/site.ts';

const PASSWORD = 'kettle snow lantern walk';
let folder: Awaited<ReturnType<typeof testFolder>>;
let site: Site;
let eventId: string;
let other: string;
/** Reachable by others, so that everybody has to sign in. */
const owner = () => signedIn;
let signedIn: Visitor;

beforeAll(async () => {
	folder = await testFolder();
	site = await openSite(inject('databaseUrl'), folder.folder, { BIVVO_ORIGIN: 'https://bivvo.test:5310' });
	const picture = { width: 1280, height: 720, fps: 30 } as const;
	eventId = await createEvent(site.app, 'Lantern Night', '', picture);
	other = await createEvent(site.app, 'Wool Market', '', picture);
});
afterAll(async () => {
	await site.close();
	await folder.remove();
});

const join = (visitor: Visitor, event: string) =>
	new Page(site.port, event, { headers: { Cookie: visitor.cookie, Origin: site.url } });
/** Invites somebody and lets them join. */
async function joined(name: string, roles: object): Promise<Visitor> {
	const { body } = await owner().send('/api/access/invitations', { name, role: null, roleAt: {}, ...roles });
	const visitor = new Visitor(site);
	const form = { secret: body.secret, name, login: `${name}.${Date.now()}`, password: PASSWORD };
	expect(await visitor.send('/api/access/join', form, 'PUT')).toMatchObject({ status: 200 });
	return visitor;
}

describe('the first owner', () => {
	it('is made with the code of the terminal, once, and nobody sees anything before', async () => {
		const visitor = new Visitor(site);
		const home = await visitor.ask('/');
		expect([home.status, home.headers.get('location')]).toEqual([303, '/set-up']);
		expect((await visitor.ask('/api/media')).status).toBe(401);
		expect(await (await visitor.ask('/health')).json()).toEqual({ database: 'ok' });
		const form = { name: 'Maren Oakshaw', login: 'Maren', password: PASSWORD };
		expect(await visitor.send('/api/access/set-up', { ...form, code: 'AAAA BBBB' })).toMatchObject({
			status: 403,
			body: { code: 'codeWrong' },
		});
		const code = site.codes.at(-1)!;
		const easy = { ...form, code, password: 'password1234' };
		expect(await visitor.send('/api/access/set-up', easy)).toMatchObject({ body: { code: 'password' } });
		const typed = `${code.slice(0, 4)}-${code.slice(4)}`.toLowerCase();
		expect((await visitor.send('/api/access/set-up', { ...form, code: typed })).status).toBe(200);
		expect(visitor.cookie).toMatch(/^bivvo=[\w-]{43}$/);
		expect((await visitor.ask('/people')).status).toBe(200);
		expect(await new Visitor(site).send('/api/access/set-up', { ...form, code })).toMatchObject({ status: 410 });
		expect((await new Visitor(site).ask('/')).headers.get('location')).toBe('/sign-in?to=%2F');
		signedIn = visitor;
	});

	it('signs in with password and second factor, which counts once, and waits after too many tries', async () => {
		const proposed = (await owner().send('/api/access/second-factor', {})).body as { secret: string };
		const totp = new TOTP({ secret: Secret.fromBase32(proposed.secret) });
		const keep = { secret: proposed.secret, code: totp.generate({ timestamp: Date.now() - 30_000 }) };
		expect((await owner().send('/api/access/second-factor', keep, 'PUT')).status).toBe(200);
		const visitor = new Visitor(site);
		const form = { login: ' MAREN ', password: PASSWORD, code: '' };
		expect(await visitor.send('/api/access/sign-in', form)).toMatchObject({ body: { code: 'needsCode' } });
		const code = totp.generate();
		expect((await visitor.send('/api/access/sign-in', { ...form, code })).status).toBe(200);
		expect(await visitor.send('/api/access/sign-in', { ...form, code })).toMatchObject({
			body: { code: 'wrongLogin' },
		});
		expect(await visitor.send('/api/access/sign-in', { ...form, login: 'nobody' })).toMatchObject({
			status: 403,
			body: { code: 'wrongLogin' },
		});
		let last = { status: 0 };
		for (let i = 0; i < 12 && last.status !== 429; i++)
			last = await visitor.send('/api/access/sign-in', { ...form, password: 'wrong' });
		expect(last.status).toBe(429);
	});
});

describe('a role', () => {
	it('moves faders and is refused the broadcast, on pages, routes and sockets', async () => {
		const sound = await joined('sam', { role: 'sound' });
		expect((await sound.ask(`/events/${eventId}/mix`)).status).toBe(200);
		const desk = await sound.ask(`/events/${eventId}`);
		expect([desk.status, desk.headers.get('location')]).toEqual([303, '/refused?who=director']);
		expect((await sound.ask('/api/destinations')).status).toBe(403);
		const page = join(sound, eventId);
		expect((await page.welcome()).role).toBe('sound');
		await page.applied(page.do({ type: 'setHush', hushed: true }));
		const refused = async (id: string) =>
			(await until('a refusal', () => page.messages.find((each) => each.type === 'refused' && each.id === id))) as {
				reason: unknown;
			};
		expect((await refused(page.do({ type: 'startBroadcast', broadcastId: 'x' }))).reason).toEqual({
			code: 'forbidden',
			about: { who: ['director'] },
		});
		const batch = {
			type: 'batch',
			commands: [
				{ type: 'setHush', hushed: false },
				{ type: 'setBlack', black: true },
			],
		};
		expect((await refused(page.do(batch as never))).reason).toMatchObject({ code: 'forbidden' });
		page.send({ type: 'wantEngine', takeOver: true });
		expect((await refused('wantEngine')).reason).toMatchObject({ code: 'forbidden' });
		expect(page.status?.engine).toBeNull();
		page.socket.terminate();
	});

	it('at one event opens nothing of another', async () => {
		const there = await joined('nell', { roleAt: { [other]: 'director' } });
		expect((await there.ask(`/events/${other}`)).status).toBe(200);
		expect((await there.ask(`/events/${eventId}`)).status).toBe(303);
		const page = join(there, eventId);
		await until('the refusal', () => page.closed);
		expect(page.messages).toEqual([]);
		expect((await there.ask(`/api/events/${eventId}/links`)).status).toBe(403);
	});

	it('that is changed closes what is open, and the account that is taken away opens nothing', async () => {
		const person = await joined('quin', { role: 'director' });
		const page = join(person, eventId);
		await page.welcome();
		const { people } = site.app.access;
		const { id } = people.list().find(({ name }) => name === 'quin')!;
		await owner().send(`/api/access/people/${id}`, { role: 'viewer', roleAt: {} }, 'PATCH');
		expect((await until('the close', () => page.closed)).code).toBe(4001);
		expect((await join(person, eventId).welcome()).role).toBe('viewer');
		expect(
			await owner().send(
				`/api/access/people/${people.list().find(({ login }) => login === 'maren')!.id}`,
				{ removed: true },
				'PATCH',
			),
		).toMatchObject({ status: 409, body: { code: 'lastOwner' } });
		await owner().send(`/api/access/people/${id}`, { removed: true }, 'PATCH');
		expect((await person.ask('/')).status).toBe(303);
		await owner().send(`/api/access/people/${id}`, { removed: false }, 'PATCH');
		expect(people.get(id)?.name).toBe('quin');
	});
});

describe('a paired device', () => {
	it('has one role at one event until it is revoked, which closes what it has open at once', async () => {
		const order = { name: 'Tablet at the console', role: 'sound', eventId };
		const { code } = (await owner().send('/api/access/pairings', order)).body as { code: string };
		const device = new Visitor(site);
		expect(await device.send('/api/access/pair', { code: code.toLowerCase() })).toMatchObject({
			status: 200,
			body: { role: 'sound', eventId },
		});
		expect((await new Visitor(site).send('/api/access/pair', { code })).status).toBe(403);
		expect((await device.ask(`/events/${eventId}/mix`)).status).toBe(200);
		expect((await device.ask(`/events/${other}/mix`)).status).toBe(303);
		const page = join(device, eventId);
		await page.welcome();
		const [listed] = site.app.access.devices.list();
		expect((await owner().send(`/api/access/devices/${listed!.id}`, {}, 'DELETE')).status).toBe(200);
		expect((await until('the close', () => page.closed)).code).toBe(4001);
		expect((await device.ask(`/events/${eventId}/mix`)).status).toBe(303);
	});

	it('is not guessed: five wrong codes end what is shown', async () => {
		const { devices } = site.app.access;
		const { code } = devices.offer('sound', null, 'x', 'x');
		for (let i = 0; i < 5; i++) await expect(devices.pair('AAAAAAAA')).rejects.toMatchObject({ message: 'codeWrong' });
		await expect(devices.pair(code)).rejects.toMatchObject({ message: 'codeWrong' });
		const visitor = new Visitor(site);
		const tries = await Promise.all(Array.from({ length: 8 }, () => visitor.send('/api/access/pair', { code: 'x' })));
		expect(tries.filter(({ status }) => status === 429).length).toBeGreaterThan(2);
	});

	it('gets no more than whoever pairs it may give', async () => {
		const director = await joined('dara', { role: 'director' });
		const order = { name: 'x', role: 'owner', eventId: null };
		expect((await director.send('/api/access/pairings', order)).status).toBe(403);
		expect((await director.send('/api/access/pairings', { ...order, role: 'words' })).status).toBe(200);
	});
});

describe('a guest', () => {
	const order = { name: 'Ysolde Brann', role: 'guest', expiresAt: Date.now() + 60_000, uses: 1 };
	const invited = async () =>
		(await owner().send(`/api/events/${eventId}/links`, order)).body as { id: string; secret: string };
	const guestSocket = (visitor: Visitor, id: string, event = eventId) =>
		new WebSocket(`ws://127.0.0.1:${site.port}/guest/${event}/${id}`, {
			headers: { Cookie: visitor.cookie, Origin: site.url },
		});
	const refused = (socket: WebSocket) =>
		new Promise<number>((resolve) => {
			socket.on('error', () => {});
			socket.once('unexpected-response', (_, { statusCode }) => resolve(statusCode!));
		});

	it('is told to what they are invited before the link is used, and comes again in the same browser', async () => {
		const { id, secret } = await invited();
		const visitor = new Visitor(site);
		const look = () => visitor.send('/api/access/link/look', { secret });
		expect((await look()).body).toMatchObject({ guestId: id, isIn: false, invitation: { title: 'Lantern Night' } });
		expect((await visitor.send('/api/access/link', { secret })).body).toEqual({ eventId, role: 'guest', guestId: id });
		expect(visitor.cookie).toMatch(/^bivvo-guest-[\w-]{36}=[\w-]{43}$/);
		// It has been used once, which is all it may; here they are in.
		expect((await look()).body).toMatchObject({ isIn: true });
		const elsewhere = new Visitor(site);
		expect(await elsewhere.send('/api/access/link/look', { secret })).toMatchObject({ status: 410 });
		expect(await elsewhere.send('/api/access/link/look', { secret: 'guessed' })).toMatchObject({ status: 410 });
	});

	it('has their own page and socket, and nothing else: no show, no other guest’s', async () => {
		const [mine, other_] = [await invited(), await invited()];
		const visitor = new Visitor(site);
		await visitor.send('/api/access/link', { secret: mine.secret });
		expect((await visitor.ask(`/events/${eventId}/guest/${mine.id}`)).status).toBe(200);
		expect((await visitor.ask(`/events/${eventId}/guest/${other_.id}`)).status).toBe(303);
		expect((await visitor.ask(`/events/${other}/guest/${mine.id}`)).status).toBe(303);
		expect((await visitor.ask(`/events/${eventId}/sheet`)).status).toBe(303);
		expect((await visitor.ask(`/api/events/${eventId}/links`)).status).toBe(401);
		const page = join(visitor, eventId);
		await until('the refusal', () => page.closed);
		expect(page.messages).toEqual([]);
		expect(await refused(guestSocket(visitor, other_.id))).toBe(401);
		expect(await refused(guestSocket(visitor, mine.id, other))).toBe(403);

		const socket = guestSocket(visitor, mine.id);
		const told: string[] = [];
		socket.on('message', (data) => String(data) !== ALIVE && told.push(String(data)));
		await until('the welcome', () => told.length > 0);
		socket.send(JSON.stringify({ type: 'knock', name: 'Ysolde Brann' }));
		await until('their situation', () => told.length > 1);
		const [welcome, situation] = told.map((each) => JSON.parse(each) as Record<string, unknown>);
		expect(Object.keys(welcome!).sort()).toEqual(
			['iceServers', 'name', 'said', 'startsAt', 'timeZone', 'title', 'type'].sort(),
		);
		expect(situation).toMatchObject({ type: 'situation', situation: { is: 'waiting' }, desk: null });

		// Turned away: told why, and the link lets nobody in any more.
		const desk = join(owner(), eventId);
		await desk.welcome();
		desk.do({ type: 'removeGuest', guestId: mine.id });
		await until('the end', () => socket.readyState === socket.CLOSED);
		expect(JSON.parse(told.at(-1)!)).toEqual({ type: 'ended', why: 'removed' });
		desk.socket.close();
		await until('the door', async () => (await visitor.ask(`/events/${eventId}/guest/${mine.id}`)).status === 303);
		expect(await visitor.send('/api/access/link/look', { secret: mine.secret })).toMatchObject({ status: 410 });
	});

	it('measures their line with pieces of their own, of a bounded size and not without end', async () => {
		const { id, secret } = await invited();
		const visitor = new Visitor(site);
		const piece = async (bytes: number) => {
			const headers = { 'Content-Type': 'application/octet-stream', Origin: site.url };
			const body = new Uint8Array(bytes);
			return visitor.ask(`/api/events/${eventId}/guest/${id}/line`, { method: 'POST', headers, body });
		};
		expect((await piece(1000)).status).toBe(401);
		await visitor.send('/api/access/link', { secret });
		expect(await (await piece(200_000)).json()).toEqual({ bytes: 200_000 });
		expect((await piece(2_000_001)).status).toBe(413);
		const statuses: number[] = [];
		while (statuses.length < 100) statuses.push((await piece(0)).status);
		expect(statuses.slice(0, 90).every((status) => status === 200)).toBe(true);
		expect(statuses.at(-1)).toBe(429);
	});

	it('stays beside whoever else uses the browser', async () => {
		const { id, secret } = await invited();
		expect((await owner().send('/api/access/link', { secret })).status).toBe(200);
		expect(owner().cookie).toContain(`bivvo-guest-${id}=`);
		expect((await owner().ask(`/events/${eventId}/guest/${id}`)).status).toBe(200);
		expect((await owner().ask('/people')).status).toBe(200);
	});
});

describe('a link', () => {
	it('opens one event, so often, until it expires, is revoked or made anew', async () => {
		const order = { name: 'Speakers', role: 'viewer', expiresAt: Date.now() + 60_000, uses: 2 };
		const path = `/api/events/${eventId}/links`;
		const made = (await owner().send(path, order)).body as { id: string; secret: string };
		expect(Buffer.from(made.secret, 'base64url')).toHaveLength(16);
		const [first, second, third] = [new Visitor(site), new Visitor(site), new Visitor(site)];
		const use = (visitor: Visitor, secret: string) => visitor.send('/api/access/link', { secret });
		expect((await use(first, made.secret)).body).toEqual({ eventId, role: 'viewer' });
		expect((await first.ask(`/events/${eventId}/sheet`)).status).toBe(200);
		expect((await first.ask(`/events/${other}/sheet`)).status).toBe(303);
		// Who only looks is not told where the program goes, nor how it goes there.
		const place = { id: 'out-of-doors', name: 'Ridge Channel', address: 'rtmp://127.0.0.1/ridge', key: 'k' };
		const login = { userName: 'maren', password: null };
		const kept = await owner().send(`/api/events/${eventId}/destinations`, { ...place, ...login }, 'PUT');
		expect(kept.status).toBe(200);
		const [directs, looks] = [join(owner(), eventId), join(first, eventId)];
		const told = async (page: Page) => {
			const { state, status } = await page.welcome();
			page.socket.close();
			const { name, address, userName } = state.setup.destinations.find(({ id }) => id === place.id)!;
			return [name, address, userName, status.destinations.length > 0];
		};
		expect(await told(directs)).toEqual([place.name, place.address, 'maren', true]);
		expect(await told(looks)).toEqual([place.name, '', '', false]);
		// It is the organisation's: other events of this database would begin with it.
		expect((await owner().send(`/api/destinations/${place.id}`, {}, 'DELETE')).status).toBe(200);
		await use(second, made.secret);
		const listed = (await (await owner().ask(path)).json()) as { id: string; opened: { at: number }[] }[];
		const { opened } = listed.find(({ id }) => id === made.id)!;
		expect(opened).toHaveLength(2);
		expect(opened.every(({ at }) => Math.abs(at - Date.now()) < 60_000)).toBe(true);
		expect(JSON.stringify(listed)).not.toMatch(/hash|secret/i);
		expect(await use(third, made.secret)).toMatchObject({ status: 410, body: { code: 'linkGone' } });
		const anew = (await owner().send(`${path}/${made.id}`, {})).body as { id: string; secret: string };
		expect((await first.ask(`/events/${eventId}/sheet`)).status).toBe(303);
		expect((await use(third, anew.secret)).status).toBe(200);
		await owner().send(`${path}/${anew.id}`, {}, 'DELETE');
		expect((await third.ask(`/events/${eventId}/sheet`)).status).toBe(303);
		const old = (await owner().send(path, { ...order, expiresAt: Date.now() - 1 })).body as { secret: string };
		expect((await use(third, old.secret)).body.message).toContain('time of this link is over');
	});
});

describe('sessions', () => {
	it('are kept as hashes, listed, and ended from elsewhere', async () => {
		const person = await joined('tove', { role: 'viewer' });
		const secret = person.cookie.split('=')[1]!;
		const stored = JSON.stringify(
			site.app.access.sessions.list('person', site.app.access.people.list().find(({ name }) => name === 'tove')!.id),
		);
		expect(stored).not.toContain(secret);
		const [session] = JSON.parse(stored) as { id: string }[];
		const stranger = await joined('uma', { role: 'viewer' });
		expect((await stranger.send(`/api/access/sessions/${session!.id}`, {}, 'DELETE')).status).toBe(404);
		expect((await owner().send(`/api/access/sessions/${session!.id}`, {}, 'DELETE')).status).toBe(200);
		expect((await person.ask('/me')).status).toBe(303);
	});
});

describe('the door', () => {
	const raw = (text: string) =>
		new Promise<string>((resolve) => {
			const socket = net.connect(site.port, '127.0.0.1', () => socket.write(text));
			let answer = '';
			socket.on('data', (bytes) => (answer += bytes));
			socket.on('error', () => {});
			socket.setTimeout(3000, () => socket.destroy());
			socket.on('close', () => resolve(answer));
		});
	const host = () => `Host: 127.0.0.1:${site.port}\r\n`;

	it('answers what is no request with a status and a sentence, and goes on', async () => {
		for (const [head, status] of [
			['GET // HTTP/1.1\r\n', 400],
			['GET /%ff HTTP/1.1\r\n', 400],
			['GET http://evil/ HTTP/1.1\r\n', 400],
		] as const)
			expect(await raw(`${head}${host()}Connection: close\r\n\r\n`), head).toMatch(new RegExp(`^HTTP/1.1 ${status} `));
		expect(await raw('GET / HTTP/1.1\r\nHost: evil.example\r\nConnection: close\r\n\r\n')).toMatch(
			/^HTTP\/1\.1 421 [^]*address/,
		);
		expect(
			await raw(
				`GET / HTTP/1.1\r\n${host()}Sec-Fetch-Site: cross-site\r\nSec-Fetch-Dest: iframe\r\nConnection: close\r\n\r\n`,
			),
		).toMatch(/^HTTP\/1\.1 403 /);
		await raw(
			`POST /api/access/sign-in HTTP/1.1\r\n${host()}Content-Type: application/json\r\nContent-Length: 500\r\n\r\n{"login":`,
		);
		await raw(Buffer.alloc(2000, 0xff).toString('latin1'));
		expect((await owner().ask('/')).status).toBe(200);
	});

	it('sets what pages may do, and is framed by nobody', async () => {
		const page = await owner().ask('/');
		const policy = page.headers.get('content-security-policy')!;
		expect(policy).toContain("frame-ancestors 'none'");
		expect(policy).toMatch(
			/script-src 'self' 'wasm-unsafe-eval' 'nonce-|script-src 'self' 'wasm-unsafe-eval' 'sha256-/,
		);
		expect(policy).not.toContain("script-src 'unsafe-inline'");
		for (const [name, value] of [
			['x-content-type-options', 'nosniff'],
			['referrer-policy', 'same-origin'],
			['cross-origin-opener-policy', 'same-origin'],
		] as const)
			expect(page.headers.get(name), name).toBe(value);
	});

	it('keeps a forged name of an admitted request out', async () => {
		const forged = await fetch(`${site.url}/people`, { headers: { 'x-bivvo-admitted': 'x' }, redirect: 'manual' });
		expect(forged.status).toBe(303);
	});

	it('turns away an upgrade of who is not signed in, is of another site, or wants nothing there is', async () => {
		const status = (path: string, headers: Record<string, string>) =>
			new Promise<number>((resolve) => {
				const asked = http.request(`${site.url}${path}`, {
					headers: {
						Connection: 'Upgrade',
						Upgrade: 'websocket',
						'Sec-WebSocket-Version': '13',
						'Sec-WebSocket-Key': 'dGhlIHNhbXBsZSBub25jZQ==',
						...headers,
					},
				});
				asked.on('response', (response) => resolve(response.statusCode!));
				asked.on('upgrade', (_, socket) => {
					socket.destroy();
					resolve(101);
				});
				asked.on('error', () => resolve(0));
				asked.end();
			});
		const Cookie = owner().cookie;
		expect(await status(`/live/${eventId}`, {})).toBe(401);
		expect(await status(`/live/${eventId}`, { Cookie, Origin: 'http://evil.example' })).toBe(403);
		expect(await status('/elsewhere', { Cookie })).toBe(404);
		expect(await status(`/live/${eventId}`, { Cookie, Origin: site.url })).toBe(101);
	});

	it('lets go of a page that vanished without a word, within ten seconds', async () => {
		const page = join(owner(), eventId);
		const { client } = await page.welcome();
		page.send({ type: 'wantEngine', takeOver: true });
		await until('the lease', () => page.status?.engine === client);
		const watching = join(owner(), eventId);
		await watching.welcome();
		// It answers nothing any more, as a tablet that lost its network.
		page.socket.pause();
		const from = Date.now();
		await until('its going', () => watching.status?.engine === null, 12_000);
		expect(Date.now() - from).toBeLessThan(10_500);
		for (const each of [page, watching]) each.socket.terminate();
	});

	it('closes a page that floods, and an uplink without a lease', async () => {
		const page = join(owner(), eventId);
		await page.welcome();
		for (let i = 0; i < 3000 && !page.closed; i++) page.socket.send('{"type":"retry","destinationId":"x"}');
		expect((await until('the close', () => page.closed)).reason).toContain('too much');
		const uplink = new WebSocket(`ws://127.0.0.1:${site.port}/uplink/${eventId}?lease=guessed&session=x`, {
			headers: { Cookie: owner().cookie },
		});
		const code = await new Promise((resolve) => uplink.once('close', resolve));
		expect(code).toBe(1008);
	});
});

it('what was done is written down for the owner, with nothing secret in it', async () => {
	const lines = await until('the lines', async () => {
		const list = await site.app.access.audit.list();
		return list.length > 10 && list;
	});
	const codes = lines.map(({ code }) => code);
	for (const code of ['ownerMade', 'signInFailed', 'invited', 'joined', 'devicePaired', 'deviceRevoked', 'linkMade'])
		expect(codes).toContain(code);
	expect(JSON.stringify(lines)).not.toContain(PASSWORD);
	expect((await owner().ask('/audit')).status).toBe(200);
});
