/**
 * The WHIP endpoint (RFC 9725): a camera or a page offers its pictures and sound by HTTP, the desk's browser answers, and
 * what is sent goes from one to the other without this server. It stands beside the door of pages: it knows no cookies, and
 * lets nobody in without a camera's key.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { bearerOf, MOST_OFFER_BYTES, readOffer } from '../../core/ingest/whip.ts';
import { keyOf } from '../access/limits.ts';
import { log } from '../log.ts';
import { cameBy } from '../nodes/passed-on.ts';
import type { FindCamera } from './listener.ts';

export const WHIP_PATH = '/whip';
const SESSION = /^\/whip\/([0-9a-f-]{36})$/;
/** Wrong keys of one address in a minute. */
const MOST_WRONG = 30;
/** A camera asks again after this when there is no desk. */
const RETRY_S = 5;

/** A page of another origin may be a camera: it has the key, and nothing else is given to it. */
const CORS = {
	'Access-Control-Allow-Origin': '*',
	'Access-Control-Allow-Methods': 'POST, DELETE, OPTIONS',
	'Access-Control-Allow-Headers': 'Authorization, Content-Type',
	'Access-Control-Expose-Headers': 'Location, Retry-After',
};

export class Whip {
	readonly #find: FindCamera;
	readonly #wrong = new RateLimiterMemory({ keyPrefix: 'whip', points: MOST_WRONG, duration: 60 });

	constructor(find: FindCamera) {
		this.#find = find;
	}

	/** @returns the node that has the desk of the camera that a request comes from; null for this one, and any other request */
	async placeOf({ url = '', headers }: IncomingMessage): Promise<string | null> {
		const path = url.split('?', 1)[0]!;
		if (path !== WHIP_PATH && !SESSION.test(path)) return null;
		const found = this.#find(bearerOf(headers.authorization) ?? '');
		if (!found || found.cameras.isShown(found.cameraId)) return null;
		return (await found.cameras.relay?.deskOf(found.cameraId)) ?? null;
	}

	/** @returns false for a request that is not for it */
	handle(request: IncomingMessage, response: ServerResponse): boolean {
		const path = (request.url ?? '').split('?', 1)[0]!;
		const session = SESSION.exec(path)?.[1] ?? null;
		if (path !== WHIP_PATH && session === null) return false;
		const broke = (error: Error) => log.debug({ problem: error.message }, 'An offer of a camera broke');
		request.on('error', broke);
		response.on('error', broke);
		this.#serve(request, response, session).catch((error: unknown) => {
			log.error({ err: error }, 'An offer of a camera failed');
			if (response.headersSent) response.destroy();
			else answer(response, 500, 'Something went wrong on the server. Try again.');
		});
		return true;
	}

	async #serve(request: IncomingMessage, response: ServerResponse, session: string | null): Promise<void> {
		const { method, headers } = request;
		// RFC 9725, section 4.2: what else may be asked of it, and what it takes.
		if (method === 'OPTIONS') return answer(response, 204, '', { 'Accept-Post': 'application/sdp' });
		const isKnown = session === null ? method === 'POST' : method === 'DELETE';
		if (!isKnown)
			return answer(response, 405, 'Offer by POST, end by DELETE; addresses are not told one by one.', {
				Allow: session === null ? 'POST, OPTIONS' : 'DELETE, OPTIONS',
			});
		const from = keyOf(cameBy(request).remoteAddress);
		const tries = await this.#wrong.get(from);
		if (tries && tries.consumedPoints >= MOST_WRONG)
			return answer(response, 429, 'Too many wrong keys. Wait a minute.');
		const found = this.#find(bearerOf(headers.authorization) ?? '');
		if (!found) {
			await this.#wrong.consume(from).catch(() => {});
			return answer(response, 401, 'This key belongs to no camera. Type it again.', { 'WWW-Authenticate': 'Bearer' });
		}
		const { cameras, cameraId } = found;
		if (session !== null)
			return cameras.end(cameraId, session)
				? answer(response, 200, '')
				: answer(response, 404, 'There is no such session any more.');
		if (headers['content-type']?.split(';', 1)[0]!.trim() !== 'application/sdp')
			return answer(response, 415, 'An offer is of the type application/sdp.');
		const sdp = await textOf(request);
		const offer = sdp === null ? { status: 413 as const, message: 'The offer is too large.' } : readOffer(sdp);
		if ('status' in offer) return answer(response, offer.status, offer.message);
		const taken = await cameras.offer(cameraId, offer.sdp);
		if (!taken)
			return answer(response, 503, 'No desk shows this camera now. Try again when one is open.', {
				'Retry-After': String(RETRY_S),
			});
		response.writeHead(201, {
			...CORS,
			'Content-Type': 'application/sdp',
			'Cache-Control': 'no-store',
			Location: `${WHIP_PATH}/${taken.session}`,
		});
		response.end(taken.answer);
	}
}

/** The body of a request; null when it is too large. */
async function textOf(request: IncomingMessage): Promise<string | null> {
	const pieces: Buffer[] = [];
	let bytes = 0;
	for await (const piece of request as AsyncIterable<Buffer>) {
		bytes += piece.length;
		if (bytes > MOST_OFFER_BYTES) return null;
		pieces.push(piece);
	}
	return Buffer.concat(pieces).toString('utf8');
}

function answer(response: ServerResponse, status: number, message: string, headers: Record<string, string> = {}): void {
	response.writeHead(status, {
		...CORS,
		'Content-Type': 'text/plain; charset=utf-8',
		'Cache-Control': 'no-store',
		...headers,
	});
	response.end(message === '' ? '' : `${message}\n`);
}
