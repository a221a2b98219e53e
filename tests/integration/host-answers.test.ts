/** Hosts' accounts that answer rubbish: told in words, with nothing kept of what they said and no secret in it. */
import http from 'node:http';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { JsonAccount, listPlaces } from '../../src/server/hosts/host-account.ts';
import { Reach } from '../../src/server/broadcast/reach.ts';
import { listen } from '../support/host.ts';

const reach = Reach.everywhere;
const TOKEN = 'carry-the-water';
let url: string;
let answer: (request: http.IncomingMessage, response: http.ServerResponse) => void;
const server = http.createServer((request, response) => answer(request, response));
beforeAll(async () => {
	url = `http://127.0.0.1:${await listen(server)}`;
});
afterAll(() => void server.close());

const say = (status: number, body: string) => {
	answer = (_, response) => void response.writeHead(status).end(body);
};
const DETAILS = {
	title: 'Lantern Night',
	description: '',
	visibility: 'public' as const,
	plannedAt: '',
	pictureId: null,
};

it('anything but what was agreed is refused in words', async () => {
	const account = new JsonAccount(url, TOKEN, reach);
	for (const body of ['', 'null', '[]', '{', '{"public":"yes","viewers":0}', '{"public":true,"viewers":-1}', '"x"']) {
		say(200, body);
		await expect(account.audience(), body).rejects.toThrow('The host’s account answered something else (200).');
	}
	for (const body of ['{}', '{"address":1,"key":"k"}', '{"address":"rtmp://h/live","key":""}']) {
		say(200, body);
		await expect(account.plan(DETAILS), body).rejects.toThrow('answered something else');
	}
	say(200, '{"places":[{"id":"../etc","name":"x"}]}');
	await expect(listPlaces(url, TOKEN, reach)).rejects.toThrow('answered something else');
	say(401, `{"message":"Nobody knows ${TOKEN} here."}`);
	await expect(account.audience()).rejects.toThrow('Nobody knows ••• here.');
	say(503, '{"message":"We are closed on Sundays."}');
	await expect(account.makePublic()).rejects.toThrow('We are closed on Sundays.');
});

it('an answer without end is not read to its end, and messages are cut to a bearable length', async () => {
	let sent = 0;
	answer = (_, response) => {
		const more = () => {
			while (!response.destroyed && response.write(Buffer.alloc(65_536, 0x20))) sent += 65_536;
		};
		response.on('drain', more);
		more();
	};
	await expect(new JsonAccount(url, TOKEN, reach).messages(0)).rejects.toThrow('answered something else');
	expect(sent).toBeLessThan(50e6);
	say(200, JSON.stringify({ messages: [{ id: 1, at: 0, from: 'x'.repeat(1000), text: 'y'.repeat(5000) }] }));
	const [message] = await new JsonAccount(url, TOKEN, reach).messages(0);
	expect([message!.from.length, message!.text.length]).toEqual([60, 500]);
});

it('messages that come twice or out of turn are heard once, and a number that is none not at all', async () => {
	const told = (...ids: number[]) =>
		say(200, JSON.stringify({ messages: ids.map((id) => ({ id, at: 0, from: 'x', text: 'y' })) }));
	const account = new JsonAccount(url, TOKEN, reach);
	told(3, 4, 4, 2, 7);
	expect((await account.messages(3)).map(({ id }) => id)).toEqual([4, 7]);
	for (const id of [0, -1, 1.5]) {
		told(id);
		await expect(account.messages(0), `${id}`).rejects.toThrow('answered something else');
	}
});

it('the token goes to this host and to no other', async () => {
	let asked = 0;
	answer = (request, response) => {
		asked++;
		expect(request.headers.authorization).toBe(`Bearer ${TOKEN}`);
		response.writeHead(302, { Location: `${url}/elsewhere` }).end();
	};
	await expect(new JsonAccount(url, TOKEN, reach).audience()).rejects.toThrow('something else (302)');
	expect(asked).toBe(1);
});
