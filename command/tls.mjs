/** The certificate of this server: one that is given, or its own, made at the first start that others can reach. */
import { X509Certificate } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { hostname, networkInterfaces } from 'node:os';
import path from 'node:path';
import { generate } from 'selfsigned';
import { Problem } from './say.mjs';

/** Tablets take no certificate for longer than 825 days. */
const LASTS_DAYS = 800;
const RENEWED_BEFORE_DAYS = 30;
const DAY_MS = 86_400_000;

/** @typedef {{ cert: string, key: string, isOwn: boolean }} Tls */

/** @param {string} host */
export function isLoopback(host) {
	return host === 'localhost' || host === '::1' || /^127\./.test(host);
}

/**
 * Addresses of this machine in its networks, IPv4 at first.
 * @returns {string[]}
 */
export function ownAddresses() {
	const all = Object.values(networkInterfaces()).flatMap((each) => each ?? []);
	const others = all.filter(({ internal, address }) => !internal && !address.startsWith('fe80'));
	return others.toSorted((a, b) => a.family.localeCompare(b.family)).map(({ address }) => address);
}

/**
 * @param {{ host: string, data: string, env?: NodeJS.ProcessEnv }} where
 * @returns {Promise<Tls | null>} null where none is needed: on loopback, or behind a proxy that has one
 */
export async function tlsFor({ host, data, env = process.env }) {
	const { BIVVO_TLS_CERT: cert, BIVVO_TLS_KEY: key, BIVVO_TRUST_PROXY: proxy } = env;
	if (cert && key) return { cert: read(cert, 'BIVVO_TLS_CERT'), key: read(key, 'BIVVO_TLS_KEY'), isOwn: false };
	if (cert || key) throw new Problem('BIVVO_TLS_CERT and BIVVO_TLS_KEY belong together: set both, or neither.');
	if (isLoopback(host) || proxy) return null;
	return ownCertificate(path.join(data, 'tls'));
}

/**
 * @param {string} file
 * @param {string} name of the variable
 */
function read(file, name) {
	try {
		return readFileSync(file, 'utf8');
	} catch (error) {
		throw new Problem(`${name} is ${file}, which cannot be read (${/** @type {Error} */ (error).message}).`);
	}
}

/**
 * @param {string} folder
 * @returns {Promise<Tls>}
 */
async function ownCertificate(folder) {
	const [certFile, keyFile] = [path.join(folder, 'certificate.pem'), path.join(folder, 'key.pem')];
	if (existsSync(certFile) && existsSync(keyFile)) {
		const cert = readFileSync(certFile, 'utf8');
		const endsAt = Date.parse(new X509Certificate(cert).validTo);
		if (endsAt - Date.now() > RENEWED_BEFORE_DAYS * DAY_MS)
			return { cert, key: readFileSync(keyFile, 'utf8'), isOwn: true };
	}
	const names = ['localhost', hostname(), `${hostname()}.local`, '127.0.0.1', ...ownAddresses()];
	const made = await generate([{ name: 'commonName', value: 'Bivvo' }], {
		algorithm: 'sha256',
		keyType: 'ec',
		curve: 'P-256',
		notAfterDate: new Date(Date.now() + LASTS_DAYS * DAY_MS),
		extensions: [
			{ name: 'basicConstraints', cA: false },
			{ name: 'keyUsage', digitalSignature: true },
			{ name: 'extKeyUsage', serverAuth: true },
			{
				name: 'subjectAltName',
				altNames: names.map((name) => (isIP(name) ? { type: 7, ip: name } : { type: 2, value: name })),
			},
		],
	});
	mkdirSync(folder, { recursive: true, mode: 0o700 });
	writeFileSync(keyFile, made.private, { mode: 0o600 });
	writeFileSync(certFile, made.cert, { mode: 0o600 });
	return { cert: made.cert, key: made.private, isOwn: true };
}

/**
 * What a browser shows of a certificate (SHA-256), so that somebody can compare.
 * @param {string} cert
 */
export function fingerprintOf(cert) {
	return new X509Certificate(cert).fingerprint256;
}

/**
 * Who can reach the server, in one line.
 * @param {{ host: string, port: number, tls: Tls | null, proxy: string | undefined }} server
 */
export function whoReaches({ host, port, tls, proxy }) {
	if (isLoopback(host))
		return proxy ? 'Whoever the proxy lets through can reach it, after signing in.' : 'Only this machine can reach it.';
	const addresses = host === '0.0.0.0' || host === '::' ? ownAddresses() : [host];
	const scheme = tls ? 'https' : 'http';
	const urls = addresses.map((address) => `${scheme}://${address.includes(':') ? `[${address}]` : address}:${port}/`);
	return `Anybody in this network can reach it, after signing in: ${urls.join(' ')}`;
}
