/** The server's process: HTTP, the headers that isolate pages, and WebSockets. */
import http from 'node:http';
import process from 'node:process';

const host = process.env.BIVVO_HOST ?? '127.0.0.1';
const port = Number(process.env.BIVVO_PORT ?? 5310);
// Behind a proxy with TLS the proxy says so; on its own this server speaks plain HTTP.
process.env.PROTOCOL_HEADER ??= 'x-forwarded-proto';

// What a request may bring is decided in src/hooks.server.ts: a clip is larger than anything else.
process.env.BODY_SIZE_LIMIT ??= 'Infinity';

/** @param {string} sentence */
function fail(sentence) {
	console.error(sentence);
	process.exit(1);
}

const built = '../build/handler.js';
/** @type {{ handler: import('node:http').RequestListener }} */
const { handler } = await import(built).catch((error) => fail(error.message));
const bivvo = globalThis.bivvo;
if (!bivvo) throw new Error('The build has no server in it');

const server = http.createServer((request, response) => {
	request.headers['x-forwarded-proto'] ??= 'http';
	response.setHeader('Cross-Origin-Opener-Policy', 'same-origin');
	response.setHeader('Cross-Origin-Embedder-Policy', 'require-corp');
	response.setHeader('Cross-Origin-Resource-Policy', 'same-origin');
	handler(request, response);
});
server.on('upgrade', (request, socket, head) => bivvo.upgrade(request, socket, head));
server.on('error', (error) => fail(`The server cannot listen on ${host}:${port} (${error.message}).`));
server.listen(port, host);

let closing = false;
async function close() {
	if (closing) return;
	closing = true;
	server.close();
	await bivvo?.close();
	process.exit(0);
}
process.on('SIGTERM', close);
process.on('SIGINT', close);
// Ends with whoever started it, however that ended.
process.on('disconnect', close);
