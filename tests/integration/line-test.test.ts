import http from 'node:http';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { freePort } from '../../command/settings.mjs';
import { measureLine } from '../../src/server/broadcast/line-test.ts';
import { listen, openHost, type TestHost } from '../support/host.ts';

let host: TestHost;
beforeAll(async () => {
	host = await openHost();
});
afterAll(() => host.close());

it('the upload of the line is what arrives at the other end, not what was handed to the system', async () => {
	const [kbps] = await measureLine(`${host.url}/line`, 1);
	// The stand-in's line carries 12 Mbit/s; a busy machine may not fill it.
	expect(kbps).toBeLessThanOrEqual(12_100);
	expect(kbps).toBeGreaterThan(1000);
});

it('without an endpoint, or with one that answers something else, it says so', async () => {
	await expect(measureLine(`http://127.0.0.1:${await freePort()}/line`, 1)).rejects.toThrow(
		'The line could not be measured: nothing answers at the test endpoint',
	);
	const other = http.createServer((request, response) => {
		request.resume();
		response.end('<h1>Welcome</h1>');
	});
	const port = await listen(other);
	await expect(measureLine(`http://127.0.0.1:${port}/line`, 1)).rejects.toThrow('answered something else');
	other.closeAllConnections();
	other.close();
});
