/**
 * A small proxy before several nodes on one machine, a process of its own. In earnest any HTTP proxy stands there; this one
 * also tells nodes that who comes sits at the machine, as it is on a server of one.
 */
import { readFileSync } from 'node:fs';
import http from 'node:http';
import { Passing } from '../../src/server/nodes/passing.ts';

const port = Number(process.env.BIVVO_PROXY_PORT ?? 5310);
const nodes = (process.env.BIVVO_PROXY_NODES ?? '').split(',').filter((url) => url !== '');
const key = Buffer.from(readFileSync(process.env.BIVVO_PROXY_KEY ?? '', 'utf8'), 'hex');
const passing = new Passing(key, false);

/** Nodes that answer, asked again and again. */
let there = [...nodes];
const ASK_EVERY_MS = 500;
const PATIENCE_MS = 1000;
async function ask(): Promise<void> {
	const answers = await Promise.all(
		nodes.map((url) =>
			fetch(`${url}/health`, { signal: AbortSignal.timeout(PATIENCE_MS) }).then(
				({ ok }) => ok,
				() => false,
			),
		),
	);
	there = nodes.filter((_, i) => answers[i]);
	setTimeout(() => void ask(), ASK_EVERY_MS);
}
void ask();

let turn = 0;
function next(): string {
	const all = there.length > 0 ? there : nodes;
	return all[turn++ % all.length]!;
}

const server = http.createServer({ keepAliveTimeout: 75_000 }, (request, response) =>
	passing.request(next(), request, response),
);
server.on('upgrade', (request, socket, head) => passing.upgrade(next(), request, socket, head));
server.on('error', (error) => {
	console.error(`The proxy cannot start: ${error.message}`);
	process.exit(1);
});
server.listen(port, '127.0.0.1');
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));
