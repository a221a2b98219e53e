/** Hosts that are signed in to: OAuth 2.0 with the stand-in host, in both of its manners, and what goes wrong with it. */
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import fc from 'fast-check';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest';
import { startStandInHost } from '../../command/processes.mjs';
import { freePort } from '../../command/settings.mjs';
import type { HostProfile } from '../../src/core/hosts/profile.ts';
import type { SignInStep } from '../../src/core/hosts/sign-in.ts';
import type { Details } from '../../src/core/show/state.ts';
import type { Bivvo } from '../../src/server/bivvo.ts';
import { listSignedPlaces, SignedAccount } from '../../src/server/hosts/signed-account.ts';
import { SignIns } from '../../src/server/hosts/sign-ins.ts';
import { News } from '../../src/server/nodes/news.ts';
import { openKeyFile } from '../../src/server/access/secrets.ts';
import { hostSignIns } from '../../src/server/db/schema.ts';
import { openApp, testFolder, until } from '../support/app.ts';

const BACK = 'http://127.0.0.1:5310/hosts/back';
const DETAILS: Details = {
	title: 'Lantern Night',
	description: 'Songs, a talk & a film',
	visibility: 'unlisted',
	plannedAt: '2026-11-28T19:00',
	pictureId: null,
};

let folder: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
let app: Bivvo;
let signIns: SignIns;
let host: Awaited<ReturnType<typeof startStandInHost>>;
let rtmpPort: number;

async function startHost(manner: 'plain' | 'nested'): Promise<void> {
	rtmpPort = await freePort();
	const env = { BIVVO_STANDIN_MANNER: manner };
	host = await startStandInHost({ rtmpPort, httpPort: await freePort(), env });
}

beforeAll(async () => {
	folder = await testFolder();
	running = await openApp(inject('databaseUrl'), folder.folder);
	({ app } = running);
	({ signIns } = app.destinations);
});
afterAll(async () => {
	await running.close();
	await folder.remove();
});
afterEach(async () => {
	for (const { id } of signIns.list) await signIns.remove(id);
	await host.stop();
});

const profile = async () => (await (await fetch(`${host.url}/oauth/profile`)).json()) as HostProfile;
const mood = async (form: Record<string, string>) =>
	(await (await fetch(`${host.url}/oauth/mood`, { method: 'POST', body: new URLSearchParams(form) })).json()) as {
		renewed: number;
	};

/** What somebody does in a browser at the host. @returns the query with which it comes back */
async function decide(step: SignInStep, decision: 'allow' | 'refuse'): Promise<URLSearchParams> {
	const asked = new URL(step.url).searchParams;
	const form = new URLSearchParams({
		...{ redirect_uri: asked.get('redirect_uri')!, state: asked.get('state')! },
		...{ code_challenge: asked.get('code_challenge')!, decision },
	});
	const response = await fetch(`${host.url}/oauth/decide`, { method: 'POST', body: form, redirect: 'manual' });
	const back = new URL(response.headers.get('location')!);
	expect(back.href.startsWith(BACK)).toBe(true);
	return back.searchParams;
}

async function signedIn(): Promise<string> {
	const id = await signIns.add(await profile());
	await signIns.finish(await decide(await signIns.begin(id, 'browser', BACK), 'allow'));
	expect(signIns.get(id)).toMatchObject({ state: 'signedIn', problem: '' });
	return id;
}

describe.each(['plain', 'nested'] as const)('a host of the %s manner', (manner) => {
	beforeEach(() => startHost(manner));

	it('is signed in to once, and then asked for places, a broadcast, its picture, its viewers and its end', async () => {
		const id = await signedIn();
		const places = await listSignedPlaces(signIns, id);
		expect(places[0]).toEqual({ id: 'ridge', name: 'Ridge Channel', maxHeight: 1080, maxKbps: 6000 });
		const account = new SignedAccount(signIns, { hostId: id, placeId: 'members', broadcast: null });
		const picture = { bytes: new Uint8Array(1234), type: 'image/png' };
		const planned = await account.plan(DETAILS, picture);
		expect(planned).toEqual({
			address: `rtmp://127.0.0.1:${rtmpPort}/members`,
			key: expect.stringMatching(/^[0-9a-f]{18}$/) as string,
			broadcast: expect.stringMatching(/^b/) as string,
		});
		expect(await (await fetch(`${host.url}/programs/pictures`)).json()).toEqual([{ type: 'image/png', bytes: 1234 }]);
		const stateOf = async () =>
			((await (await fetch(`${host.url}/api/places`)).json()) as { app: string; title: string }[]).find(
				(each) => each.app === 'members',
			)!;
		expect(await stateOf()).toMatchObject({ title: 'Lantern Night', description: 'Songs, a talk & a film' });

		// Told anew, it stays the same broadcast with the same key.
		expect(await account.plan({ ...DETAILS, title: 'Lantern Night, later' })).toBeNull();
		expect((await stateOf()).title).toBe('Lantern Night, later');
		expect(await account.audience()).toEqual({ public: false, viewers: 0 });
		await expect(account.makePublic()).rejects.toThrow('Nothing is received yet.');

		await fetch(`${host.url}/messages/members`, { method: 'POST', body: '{"from":"Ines","text":"Good evening"}' });
		const [message, ...others] = await account.messages(0);
		expect([message?.from, message?.text, others]).toEqual(['Ines', 'Good evening', []]);
		await account.post('Welcome');
		const more = await account.messages(message!.id);
		expect(more.map(({ text }) => text)).toEqual(['Welcome']);
		expect(more[0]!.id).toBeGreaterThan(message!.id);
		expect(await account.messages(more[0]!.id)).toEqual([]);

		await account.end();
		// What is over is planned anew.
		const again = await account.plan(DETAILS);
		expect(again!.broadcast).not.toBe(planned!.broadcast);
	});
});

describe('signing in', () => {
	beforeEach(() => startHost('plain'));

	it('by a code that is typed elsewhere', async () => {
		const id = await signIns.add(await profile());
		const step = await signIns.begin(id, 'code', BACK);
		if (step.way !== 'code') throw new Error('no code');
		expect(signIns.get(id).state).toBe('waiting');
		const typed = new URLSearchParams({ code: step.code, decision: 'allow' });
		await fetch(step.url, { method: 'POST', body: typed });
		await until('the sign-in', () => signIns.get(id).state === 'signedIn');
		expect((await listSignedPlaces(signIns, id)).length).toBe(3);
	});

	it('that is refused says so, in a browser and by a code', async () => {
		const id = await signIns.add(await profile());
		const step = await signIns.begin(id, 'browser', BACK);
		await signIns.finish(await decide(step, 'refuse'));
		expect(signIns.get(id)).toMatchObject({ state: 'signInAgain', problem: 'Nothing was allowed at the host.' });
		const code = await signIns.begin(id, 'code', BACK);
		if (code.way !== 'code') throw new Error('no code');
		await fetch(code.url, { method: 'POST', body: new URLSearchParams({ code: code.code, decision: 'refuse' }) });
		await until('the refusal', () => signIns.get(id).problem === 'Nothing was allowed at the host.');
	});

	it('by whoever has not begun it comes to nothing, and an answer counts once', async () => {
		const id = await signIns.add(await profile());
		const answer = await decide(await signIns.begin(id, 'browser', BACK), 'allow');
		const forged = new URLSearchParams(answer);
		forged.set('state', 'guessed');
		expect(await signIns.finish(forged)).toBeNull();
		expect(await signIns.finish(new URLSearchParams())).toBeNull();
		expect(await signIns.finish(answer)).toMatchObject({ state: 'signedIn' });
		expect(await signIns.finish(answer)).toBeNull();
	});

	it('at a host that does not know this program says so', async () => {
		const id = await signIns.add({ ...(await profile()), clientId: 'somebody-else' });
		await expect(signIns.begin(id, 'code', BACK)).rejects.toThrow('The host does not know this program.');
	});
});

describe('a host that was signed in to', () => {
	beforeEach(() => startHost('plain'));

	it('whose token ends is renewed, once for all that ask at a time', async () => {
		const id = await signedIn();
		await mood({ do: 'expire' });
		await Promise.all([1, 2, 3].map(() => listSignedPlaces(signIns, id)));
		expect((await mood({})).renewed).toBe(1);
	});

	it('that takes back what it allowed is signed in to again; nothing secret is said', async () => {
		const id = await signedIn();
		await mood({ do: 'takeBack' });
		await expect(listSignedPlaces(signIns, id)).rejects.toThrow('Sign in to Fell Stream again');
		expect(signIns.get(id).state).toBe('signInAgain');
		expect(JSON.stringify(signIns.list)).not.toMatch(/token|refresh/i);
	});

	it('that is signed in to anew while what it took back is noticed stays signed in to', async () => {
		const id = await signedIn();
		await mood({ do: 'takeBack' });
		const answer = await decide(await signIns.begin(id, 'browser', BACK), 'allow');
		const asking = listSignedPlaces(signIns, id).catch(() => []);
		await signIns.finish(answer);
		await asking;
		expect(signIns.get(id).state).toBe('signedIn');
		expect((await listSignedPlaces(signIns, id)).length).toBe(3);
	});

	it('that changes while another node’s news are read is as it was changed, and not as it was read', async () => {
		// Rows that come later than they were read.
		let later = Promise.resolve();
		const rowsOf = async (table: typeof hostSignIns) => {
			const rows = await app.db.select().from(table);
			await later;
			return rows;
		};
		const db = new Proxy(app.db, {
			get: (real, name) => (name === 'select' ? () => ({ from: rowsOf }) : (Reflect.get(real, name) as unknown)),
		});
		let hearNews = () => Promise.resolve();
		const news = new News(null, '');
		news.follow = (_, read) => void (hearNews = read);
		const ours = await SignIns.open(db, await openKeyFile(folder.folder), signIns.reach, news);
		const [id, gone] = [await ours.add(await profile()), await ours.add(await profile())];

		let come = () => {};
		later = new Promise((resolve) => (come = resolve));
		const reading = hearNews();
		await app.db.select().from(hostSignIns);
		await ours.finish(await decide(await ours.begin(id, 'browser', BACK), 'allow'));
		await ours.remove(gone);
		const made = await ours.add(await profile());
		come();
		await reading;
		expect(ours.get(id).state).toBe('signedIn');
		expect(await ours.tokenOf(id)).not.toBe('');
		expect(ours.has(gone)).toBe(false);
		expect(ours.has(made)).toBe(true);
		for (const each of [id, made]) await ours.remove(each);
	});

	it('that is forgotten while it answers stays forgotten', async () => {
		const id = await signedIn();
		const answer = await decide(await signIns.begin(id, 'browser', BACK), 'allow');
		const finishing = signIns.finish(answer);
		await signIns.remove(id);
		await finishing;
		expect(signIns.has(id)).toBe(false);
		expect((await app.db.select().from(hostSignIns)).map((row) => row.id)).not.toContain(id);
	});

	it('that has too much to do is waited for when that is short, and said when it is long', async () => {
		const id = await signedIn();
		await mood({ busy: '1', seconds: '1' });
		expect((await listSignedPlaces(signIns, id)).length).toBe(3);
		await mood({ busy: '1', seconds: '90' });
		await expect(listSignedPlaces(signIns, id)).rejects.toThrow('Try again in 90 s.');
	});

	it('that is away keeps what it has given', async () => {
		const id = await signedIn();
		await host.stop();
		await expect(listSignedPlaces(signIns, id)).rejects.toThrow('does not answer');
		expect(signIns.get(id).state).toBe('signedIn');
	});

	it('is known after a restart, its tokens sealed', async () => {
		const id = await signedIn();
		const rows = await app.db.select().from(hostSignIns);
		const token = await signIns.tokenOf(id);
		expect(JSON.stringify(rows)).not.toContain(token);
		const key = await openKeyFile(folder.folder);
		const again = await SignIns.open(app.db, key, signIns.reach);
		expect(await again.tokenOf(id)).toBe(token);
		// What was sealed for this host opens for no other.
		const [row] = rows;
		const elsewhere = { ...(row!.profile as HostProfile), apiUrl: 'https://elsewhere.example/' };
		await app.db.update(hostSignIns).set({ profile: elsewhere });
		const moved = await SignIns.open(app.db, key, signIns.reach);
		expect(moved.get(id).state).toBe('signInAgain');
	});
});

describe('whatever a host answers', () => {
	/** A host that has lost its mind: each answer is the next of these. */
	let answers: { status: number; body: string; headers: Record<string, string> }[] = [];
	const mad = http.createServer((request, response) => {
		request.resume();
		const { status, body, headers } = answers.shift() ?? { status: 500, body: '', headers: {} };
		response.writeHead(status, { 'Content-Type': 'application/json', ...headers }).end(body);
	});
	beforeEach(async () => {
		await startHost('plain');
		if (!mad.listening) await new Promise<void>((resolve) => mad.listen(0, '127.0.0.1', resolve));
	});
	afterAll(() => mad.close());

	it('comes to a sentence, to nothing, or to what it should be; never to anything else, and no token is quoted', async () => {
		const origin = `http://127.0.0.1:${(mad.address() as AddressInfo).port}`;
		const id = await signedIn();
		const token = await signIns.tokenOf(id);
		// The same tokens, asked of the mad one: as if the host had been taken over.
		const known = signIns.profileOf(id);
		Object.assign(known, { apiUrl: `${origin}/programs`, tokenUrl: `${origin}/token`, deviceUrl: `${origin}/device` });
		const text = fc.oneof(
			fc.json(),
			fc.string(),
			fc.constantFrom(
				`{"message":"${token}"}`,
				'{"places":[{"id":"a","name":"b"}]}',
				'{"places":{}}',
				'[]',
				'null',
				'',
			),
			fc.constantFrom('{"access_token":5,"token_type":"Bearer"}', '{"error":"slow_down"}', '{"device_code":"x"}'),
		);
		const answer = fc.record({
			status: fc.constantFrom(200, 201, 204, 400, 404, 410, 500, 302),
			body: text,
			headers: fc.constantFrom<Record<string, string>>(
				{},
				{ Location: 'http://127.0.0.1:1/' },
				{ 'Content-Type': 'text/html' },
			),
		});
		const runs = fc.sample(fc.array(answer, { minLength: 4, maxLength: 4 }), { seed: 2026, numRuns: 150 });
		for (const run of runs) {
			answers = run;
			const account = new SignedAccount(signIns, { hostId: id, placeId: 'p', broadcast: 'b' });
			const asked = [
				() => listSignedPlaces(signIns, id),
				() => account.audience(),
				() => account.messages(0),
				() => signIns.begin(id, 'code', BACK),
			];
			for (const ask of asked)
				await ask().catch((error: unknown) => {
					expect(error).toBeInstanceOf(Error);
					expect((error as Error).message).not.toBe('');
					expect((error as Error).message).not.toContain(token);
				});
		}
		expect(answers.length).toBeLessThan(5);
	});
});
