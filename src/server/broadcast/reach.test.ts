import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { describe, expect, it } from 'vitest';
import { Reach } from './reach.ts';

const nowhere = new Reach(() => ({ loopback: false, local: false }));
const local = new Reach(() => ({ loopback: false, local: true }));

describe('where a stream may go', () => {
	it('is the Internet, and the local network when an owner has allowed it', () => {
		for (const address of ['198.41.0.4', '2001:7fd::1']) expect(nowhere.covers(address), address).toBe(true);
		const inside = ['10.0.0.1', '172.16.5.5', '192.168.1.20', '169.254.169.254', '100.64.0.1', 'fc00::1', 'fe80::1'];
		for (const address of [...inside, '::ffff:192.168.1.20']) {
			expect(nowhere.covers(address), address).toBe(false);
			expect(local.covers(address), address).toBe(true);
		}
		for (const address of [
			'127.0.0.1',
			'127.9.9.9',
			'::1',
			'0.0.0.0',
			'::',
			'::ffff:127.0.0.1',
			'224.0.0.1',
			'255.255.255.255',
			'host',
		])
			expect(local.covers(address), address).toBe(false);
		expect(Reach.everywhere.covers('127.0.0.1')).toBe(true);
	});

	it('is what a name means when it is resolved: one that means this machine leads nowhere', async () => {
		const server = http.createServer((_, response) => response.end('in'));
		await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
		const { port } = server.address() as AddressInfo;
		const ask = (reach: Reach) =>
			new Promise<string>((resolve) => {
				const asked = http.get({ host: 'localhost', port, lookup: reach.lookup, family: 4 }, () => resolve('in'));
				asked.on('error', (error: NodeJS.ErrnoException) => resolve(error.code ?? ''));
			});
		expect(await ask(nowhere)).toBe('OUT_OF_REACH');
		expect(await ask(Reach.everywhere)).toBe('in');
		server.close();
		server.closeAllConnections();
	});

	it('refuses an address at once, and a name only when it is known what it means', () => {
		expect(() => nowhere.check('192.168.1.1')).toThrow();
		expect(() => nowhere.check('[::1]')).toThrow();
		expect(() => nowhere.check('a-name')).not.toThrow();
	});
});
