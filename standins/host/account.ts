/** The stand-in host's account, for programs: docs/host-account.md. */
import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import * as v from 'valibot';
import type { PlaceDesk } from './ingest.ts';
import { ACCOUNT_CODE } from './places.ts';

/** Whoever has asked for the playlist within this time watches. */
const WATCHES_MS = 12_000;
const MOST_MESSAGES = 500;
/** Whom the account belongs to. */
const ORGANISATION = 'Hollin Fell Huts Association';
const MOST_BODY_BYTES = 16_384;

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

const messageSchema = v.object({
	from: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)),
	text: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(500)),
});

/** What viewers write at a place. */
export class Messages {
	readonly list: { id: number; at: number; from: string; text: string }[] = [];
	#count = 0;

	add({ from, text }: v.InferOutput<typeof messageSchema>): void {
		this.list.push({ id: ++this.#count, at: Date.now(), from, text });
		if (this.list.length > MOST_MESSAGES) this.list.shift();
	}
}

const plannedSchema = v.object({
	title: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
	description: v.pipe(v.string(), v.maxLength(2000)),
	visibility: v.picklist(['public', 'unlisted', 'private']),
	plannedAt: v.pipe(v.string(), v.maxLength(40)),
});

/** A broadcast that somebody has planned, with the key that is good for it alone. */
export type Planned = v.InferOutput<typeof plannedSchema> & { key: string };

/**
 * Answers a request to the account.
 * @param path behind `/account/`: a place, and what is to be done there
 * @param rtmpPort where streams are taken
 */
export async function answerAccount(
	request: IncomingMessage,
	response: ServerResponse,
	desks: readonly PlaceDesk[],
	[app = '', act = '']: readonly string[],
	rtmpPort: number,
): Promise<void> {
	const say = (status: number, body: unknown) =>
		void response.writeHead(status, { 'Content-Type': 'application/json' }).end(JSON.stringify(body));
	const token = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
	const does = (method: string, what: string) => request.method === method && act === what;
	if (app === '') {
		if (token !== ACCOUNT_CODE) return say(401, { message: 'This account does not know that access code.' });
		const places = desks.map(({ place }) => ({
			id: place.app,
			name: place.name,
			maxHeight: place.maxHeight,
			maxKbps: place.maxRateKbps,
		}));
		return say(200, { places });
	}
	const desk = desks.find(({ place }) => place.app === app);
	if (!desk) return say(404, { message: 'There is no such place.' });
	const { place, state, audience } = desk;
	if (token !== ACCOUNT_CODE && token !== place.key)
		return say(401, { message: `${place.name} does not know this key.` });
	if (does('GET', 'messages')) {
		const after = Number(new URLSearchParams(request.url!.split('?')[1]).get('after')) || 0;
		return say(200, { messages: desk.messages.list.filter(({ id }) => id > after) });
	}
	if (does('POST', 'messages')) {
		const message = v.safeParse(messageSchema, { from: ORGANISATION, ...((await readJson(request)) as object | null) });
		if (!message.success) return say(400, { message: message.issues[0].message });
		desk.messages.add({ ...message.output, from: ORGANISATION });
		return say(200, {});
	}
	if (does('PUT', 'broadcast')) {
		const wanted = v.safeParse(plannedSchema, await readJson(request));
		if (!wanted.success) return say(400, { message: wanted.issues[0].message });
		const key = desk.planned?.key ?? `${app}-${randomBytes(9).toString('hex')}`;
		desk.planned = { ...wanted.output, key };
		Object.assign(state, { title: wanted.output.title, description: wanted.output.description });
		return say(200, { address: `rtmp://127.0.0.1:${rtmpPort}/${app}`, key });
	}
	if (does('POST', 'public')) {
		if (state.state !== 'receiving') return say(409, { message: 'Nothing is received yet.' });
		state.public = true;
	} else if (does('POST', 'end')) {
		// Its key was good for this one; the next broadcast gets another.
		desk.planned = null;
		desk.current?.destroy();
		Object.assign(state, { state: 'ended', public: !place.needsPublicStep });
	} else if (!does('GET', '')) return say(404, { message: 'There is no such thing to do.' });
	say(200, { receiving: state.state === 'receiving', public: state.public, viewers: audience.count(Date.now()) });
}

/** A viewer writes something. */
export async function takeMessage(request: IncomingMessage, response: ServerResponse, desk: PlaceDesk): Promise<void> {
	const message = v.safeParse(messageSchema, await readJson(request));
	if (message.success) desk.messages.add(message.output);
	response.writeHead(message.success ? 204 : 400).end();
}

async function readJson(request: IncomingMessage): Promise<unknown> {
	let text = '';
	for await (const part of request.setEncoding('utf8')) {
		text += part;
		if (text.length > MOST_BODY_BYTES) return null;
	}
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
}
