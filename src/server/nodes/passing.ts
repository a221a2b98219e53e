/** Passes requests and WebSockets on to other nodes. */
import http, { type ClientRequest, type IncomingMessage, type ServerResponse } from 'node:http';
import type { Duplex } from 'node:stream';
import { createProxyServer } from 'http-proxy-3';
import { refuseUpgrade } from '../access/access.ts';
import { log } from '../log.ts';
import { PASSED_HEADER, passedHeader } from './passed-on.ts';

const GONE = 'The part of Bivvo that has this event does not answer. Another one takes it over; try again in a moment.';
/** A node that has not begun to answer by then is gone, or may as well be. An upload is answered at its end. */
const PATIENCE_MS = 600_000;
const SAID_EVERY_MS = 5000;

export class Passing {
	readonly #key: Buffer;
	readonly #counts: boolean;
	#saidAt = -Infinity;
	readonly #agent = new http.Agent({ keepAlive: true, maxSockets: Infinity });
	readonly #proxy = createProxyServer({ ws: true, proxyTimeout: PATIENCE_MS, xfwd: false });
	/** What is passed on now, by the other node's address; each ends it. */
	readonly #open = new Map<string, Set<() => void>>();
	readonly #outgoing = new WeakMap<IncomingMessage, ClientRequest>();

	/**
	 * @param key that nodes share
	 * @param counts false for a proxy that knows nothing of events, which is no node that has passed it on
	 */
	constructor(key: Buffer, counts = true) {
		this.#key = key;
		this.#counts = counts;
		this.#proxy.on('proxyReq', (outgoing, request) => void this.#outgoing.set(request, outgoing));
		this.#proxy.on('error', (error, request, to) => {
			this.#say((error as NodeJS.ErrnoException).code ?? error.message);
			if (!('writeHead' in to)) return refuseUpgrade(to as unknown as Duplex, 503, GONE);
			const response = to as ServerResponse;
			if (response.headersSent) return void response.destroy();
			response.writeHead(503, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store', 'Retry-After': '2' });
			response.end(JSON.stringify({ message: GONE }));
		});
	}

	/** Once every few seconds: pages come again often. */
	#say(problem: string): void {
		const now = performance.now();
		if (now - this.#saidAt < SAID_EVERY_MS) return;
		this.#saidAt = now;
		log.warn({ problem }, 'Another node does not answer');
	}

	/** @param to address of the other node */
	request(to: string, request: IncomingMessage, response: ServerResponse): void {
		request.headers[PASSED_HEADER] = passedHeader(request, this.#key, this.#counts);
		response.once(
			'close',
			this.#keep(to, () => (this.#outgoing.get(request) ?? response).destroy(new Error('gone'))),
		);
		this.#proxy.web(request, response, { target: to, agent: this.#agent });
	}

	upgrade(to: string, request: IncomingMessage, socket: Duplex, head: Buffer): void {
		request.headers[PASSED_HEADER] = passedHeader(request, this.#key, this.#counts);
		socket.once(
			'close',
			this.#keep(to, () => socket.destroy()),
		);
		this.#proxy.ws(request, socket as never, head, { target: to });
	}

	/** @param end is called when the other node is gone @returns to be called when there is nothing to end any more */
	#keep(to: string, end: () => void): () => void {
		const open = this.#open.get(to) ?? new Set();
		this.#open.set(to, open.add(end));
		return () => {
			open.delete(end);
			if (open.size === 0 && this.#open.get(to) === open) this.#open.delete(to);
		};
	}

	/** Ends what is passed on to nodes that are gone: one that stands still, or is cut off, ends nothing itself. */
	dropAllBut(there: ReadonlySet<string>): void {
		for (const [to, open] of [...this.#open]) if (!there.has(to)) for (const end of [...open]) end();
	}

	close(): void {
		this.#agent.destroy();
	}
}
