import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { askServer } from './ask.ts';

let url: string;
const server = http.createServer((request, response) => {
	const answer: Record<string, [number, string]> = {
		'/fine': [200, '{"id":"a"}'],
		'/refused': [422, '{"message":"The clip cannot be cut."}'],
		'/rubbish': [200, '<html>'],
		'/broken': [502, 'Bad gateway'],
	};
	const [status, body] = answer[request.url!]!;
	response.writeHead(status, { 'Content-Type': request.headers['content-type'] }).end(body);
});
beforeAll(async () => {
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => void server.close());

it('what the server answers is handed on, and what goes wrong is a sentence', async () => {
	const ask = (path: string) => askServer(url + path, 'POST', {});
	expect(await ask('/fine')).toEqual({ answer: { id: 'a' } });
	expect(await ask('/refused')).toEqual({ problem: 'The clip cannot be cut.' });
	expect(await ask('/rubbish')).toEqual({ problem: 'The server answered something else (200). Try again.' });
	expect(await ask('/broken')).toEqual({ problem: 'The server answered something else (502). Try again.' });
	expect(await askServer('http://127.0.0.1:9/', 'POST', {})).toEqual({
		problem: 'The server cannot be reached. Nothing was changed; try again.',
	});
});
