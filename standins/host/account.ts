/** The stand-in host's account of a place, for programs: docs/host-account.md. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { PlaceDesk } from './ingest.ts';

/** Whoever has asked for the playlist within this time watches. */
const WATCHES_MS = 12_000;

/** Who watches a place, by what their players say of themselves. */
export class Audience {
	#seen = new Map<string, number>();

	note({ socket, headers }: IncomingMessage): void {
		this.#seen.set(`${socket.remoteAddress} ${headers['user-agent'] ?? ''}`, Date.now());
	}

	count(now: number): number {
		for (const [viewer, at] of this.#seen) if (now - at > WATCHES_MS) this.#seen.delete(viewer);
		return this.#seen.size;
	}
}

/** @param act the last part of the path: nothing to look, or what is to be done */
export function answerAccount(request: IncomingMessage, response: ServerResponse, desk: PlaceDesk, act: string): void {
	const say = (status: number, body: unknown) =>
		response.writeHead(status, { 'Content-Type': 'application/json' }).end(JSON.stringify(body));
	const { place, state, audience } = desk;
	if (request.headers.authorization !== `Bearer ${place.key}`)
		return void say(401, { message: `${place.name} does not know this key.` });
	if (act === 'public' && request.method === 'POST') {
		if (state.state !== 'receiving') return void say(409, { message: 'Nothing is received yet.' });
		state.public = true;
	} else if (act !== '' || request.method !== 'GET') return void say(404, { message: 'There is no such thing to do.' });
	say(200, { receiving: state.state === 'receiving', public: state.public, viewers: audience.count(Date.now()) });
}
