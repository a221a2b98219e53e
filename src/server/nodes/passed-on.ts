/**
 * Requests that one node passes on to another. The first node says, in a header that is signed with the key that nodes
 * share, from where the request came to it; the door of the second one then decides as that of the first would have.
 */
import { createHmac, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import { TLSSocket } from 'node:tls';
import * as v from 'valibot';

export const PASSED_HEADER = 'x-bivvo-passed';
/** Clocks of nodes may differ by so much. */
const VALID_MS = 30_000;

/** How a request came to the node that it came to first. */
const cameSchema = v.object({
	remoteAddress: v.string(),
	localAddress: v.string(),
	localPort: v.number(),
	isTls: v.boolean(),
	/** How many nodes have passed it on. */
	hops: v.pipe(v.number(), v.integer(), v.minValue(0)),
});
export type Came = v.InferOutput<typeof cameSchema>;
const headerSchema = v.object({ at: v.number(), came: cameSchema });

const passedOn = new WeakMap<IncomingMessage, Came>();

/** How a request came: here, or to the node that has passed it on. */
export function cameBy(request: IncomingMessage): Came {
	const { socket } = request;
	return (
		passedOn.get(request) ?? {
			remoteAddress: socket.remoteAddress ?? '',
			localAddress: socket.localAddress ?? '',
			localPort: socket.localPort ?? 0,
			isTls: socket instanceof TLSSocket,
			hops: 0,
		}
	);
}

/**
 * The header that lets another node take a request as if it had come to it.
 * @param counts false for a proxy that knows nothing of events
 */
export function passedHeader(request: IncomingMessage, key: Buffer, counts = true, now = Date.now()): string {
	const came = cameBy(request);
	return signPassed(request, { ...came, hops: came.hops + (counts ? 1 : 0) }, key, now);
}

/** The same, for what a node asks of another one by itself. */
export function signPassed(request: Asked, came: Came, key: Buffer, now = Date.now()): string {
	const text = Buffer.from(JSON.stringify({ at: now, came })).toString('base64url');
	return `${text}.${signature(request, text, key)}`;
}

/** What of a request is signed. */
type Asked = Pick<IncomingMessage, 'method' | 'url' | 'headers'>;

/** True for what another node has passed on, or asks. */
export function wasPassed(request: IncomingMessage): boolean {
	return passedOn.has(request);
}

/**
 * Reads and takes off what another node says of a request, if it says anything.
 * @param key that nodes share; null on a server of one node, which takes the header off whatever it says
 * @returns false for a header that no node has made: the request must be refused
 */
export function acceptPassed(request: IncomingMessage, key: Buffer | null, now = Date.now()): boolean {
	const header = request.headers[PASSED_HEADER];
	if (header === undefined) return true;
	request.headers[PASSED_HEADER] = undefined;
	if (key === null || typeof header !== 'string') return false;
	const [text = '', signed = ''] = header.split('.', 2);
	const [given, right] = [Buffer.from(signed), Buffer.from(signature(request, text, key))];
	if (given.length !== right.length || !timingSafeEqual(given, right)) return false;
	// Signed by a node, it is JSON.
	const read = v.safeParse(headerSchema, JSON.parse(Buffer.from(text, 'base64url').toString('utf8')));
	if (!read.success || Math.abs(now - read.output.at) > VALID_MS) return false;
	passedOn.set(request, read.output.came);
	return true;
}

/** Of what is said, and of what is asked for: none can be used for another request. */
function signature({ method, url, headers }: Asked, text: string, key: Buffer): string {
	const about = [method, url, headers.host, headers.cookie ?? '', text].join('\n');
	return createHmac('sha256', key).update(`passed ${about}`).digest('base64url');
}
