/** The server's process: HTTP behind the door, and WebSockets. */
import http from 'node:http';
import https from 'node:https';
import path from 'node:path';
import process from 'node:process';
import { fingerprintOf, tlsFor } from './tls.mjs';

const host = process.env.BIVVO_HOST ?? '127.0.0.1';
const port = Number(process.env.BIVVO_PORT ?? 5310);
// Set by the server's own door for each request, from what it has checked; never taken from outside.
process.env.PROTOCOL_HEADER = 'x-forwarded-proto';
// What a request may bring is decided there as well: a clip is larger than anything else.
process.env.BODY_SIZE_LIMIT = 'Infinity';
/** Headers come within this time, and a connection on which nothing moves is closed after that. */
const HEADERS_MS = 20_000;
const IDLE_MS = 120_000;
/** Longer than proxies keep a connection that nobody uses: it is theirs to close, and no request comes into the close. */
const KEPT_MS = 75_000;

/**
 * @param {string} sentence
 * @returns {never}
 */
function fail(sentence) {
	console.error(sentence);
	process.exit(1);
}

const tls = await tlsFor({ host, data: path.resolve(process.env.BIVVO_DATA ?? './data') }).catch((error) =>
	fail(error.message),
);

const built = '../build/handler.js';
/** @type {{ handler: import('node:http').RequestListener }} */
const { handler } = await import(built).catch((error) => fail(error.message));
const { organisations } = globalThis;
if (!organisations) throw new Error('The build has no server in it');

// An upload may take hours, so a whole request has no time of its own.
const times = { headersTimeout: HEADERS_MS, requestTimeout: 0 };
const listener = organisations.listener(handler);
if (tls?.isOwn) organisations.setOwnCertificate(fingerprintOf(tls.cert));
const { cert, key } = tls ?? {};
await organisations.listenForCameras(tls);
const server = tls ? https.createServer({ ...times, cert, key }, listener) : http.createServer(times, listener);
server.timeout = IDLE_MS;
server.keepAliveTimeout = KEPT_MS;
server.on('upgrade', (request, socket, head) => organisations.upgrade(request, socket, head));
server.on('error', (error) => fail(`The server cannot listen on ${host}:${port} (${error.message}).`));
server.listen(port, host);

// The last nets: what nobody has caught is written down, and what hosts are sent goes on.
process.on('uncaughtException', (error) => organisations.first.onFault(error));
process.on('unhandledRejection', (error) => organisations.first.onFault(error));

let closing = false;
async function close() {
	if (closing) return;
	closing = true;
	server.close();
	await organisations?.close();
	process.exit(0);
}
process.on('SIGTERM', close);
process.on('SIGINT', close);
// Ends with whoever started it, however that ended.
process.on('disconnect', close);
