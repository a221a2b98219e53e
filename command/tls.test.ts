import { X509Certificate } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { ownAddresses, tlsFor, whoReaches } from './tls.mjs';

const data = mkdtempSync(path.join(tmpdir(), 'bivvo-tls-'));
afterAll(() => rmSync(data, { recursive: true }));
const inNetwork = (env = {}) => tlsFor({ host: '0.0.0.0', data, env });

describe('the certificate', () => {
	it('is not needed on this machine alone, nor behind a proxy that has one', async () => {
		for (const host of ['127.0.0.1', 'localhost', '::1']) expect(await tlsFor({ host, data, env: {} })).toBeNull();
		expect(await inNetwork({ BIVVO_TRUST_PROXY: '10.0.0.1' })).toBeNull();
	});

	it('is made once, for the addresses of this machine, and its key is for its user alone', async () => {
		const first = (await inNetwork())!;
		expect(first.isOwn).toBe(true);
		const certificate = new X509Certificate(first.cert);
		for (const address of ['127.0.0.1', ...ownAddresses()]) expect(certificate.checkIP(address)).toBe(address);
		expect(certificate.checkHost('localhost')).toBe('localhost');
		const key = path.join(data, 'tls/key.pem');
		expect(statSync(key).mode & 0o777).toBe(0o600);
		expect(statSync(path.dirname(key)).mode & 0o777).toBe(0o700);
		expect(await inNetwork()).toEqual(first);
	});

	it('is the one that is given, and says what is missing of it', async () => {
		const [cert, key] = [path.join(data, 'given.pem'), path.join(data, 'given.key')];
		writeFileSync(cert, 'a certificate');
		writeFileSync(key, 'its key');
		expect(await inNetwork({ BIVVO_TLS_CERT: cert, BIVVO_TLS_KEY: key })).toEqual({
			cert: readFileSync(cert, 'utf8'),
			key: 'its key',
			isOwn: false,
		});
		await expect(inNetwork({ BIVVO_TLS_CERT: cert })).rejects.toThrow('belong together');
		await expect(inNetwork({ BIVVO_TLS_CERT: cert, BIVVO_TLS_KEY: `${key}.gone` })).rejects.toThrow('cannot be read');
	});
});

it('who can reach the server is said in one line', () => {
	const at = (host: string, proxy?: string) => whoReaches({ host, port: 5310, tls: null, proxy });
	expect(at('127.0.0.1')).toBe('Only this machine can reach it.');
	expect(at('127.0.0.1', '127.0.0.1')).toBe('Whoever the proxy lets through can reach it, after signing in.');
	const tls = { cert: '', key: '', isOwn: true };
	expect(whoReaches({ host: '192.168.3.4', port: 5310, tls, proxy: undefined })).toBe(
		'Anybody in this network can reach it, after signing in: https://192.168.3.4:5310/',
	);
});
