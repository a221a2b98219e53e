/**
 * The stand-in host's interface for programs that were allowed in. It speaks in one of two manners: as Bivvo would have it, or
 * as a host of its own mind does, with other names, deeper answers and numbers as texts.
 */
import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { PLAIN_CALLS, type Calls, type HostProfile } from '../../src/core/hosts/profile.ts';
import type { PlaceDesk } from './ingest.ts';
import { CLIENT_ID, type OAuthDesk } from './oauth.ts';

const MOST_BODY_BYTES = 4e6;
const ORGANISATION = 'Hollin Fell Huts Association';

export type Manner = 'plain' | 'nested';

/** What a program says and is told, whatever the manner. */
interface Wanted {
	title: string;
	description: string;
	visibility: 'public' | 'unlisted' | 'private';
	plannedAt: string;
}

/** A broadcast that was planned by a program. */
interface Planned {
	id: string;
	desk: PlaceDesk;
	key: string;
	picture: { type: string; bytes: number } | null;
}

const NESTED_CALLS: Calls = {
	places: {
		...{ method: 'GET', path: '/me/feeds', list: '/data/feeds', id: '/feed/uid', name: '/feed/label' },
		...{ maxHeight: '/limits/lines', maxKbps: '/limits/kilobits' },
	},
	create: {
		...{ method: 'POST', path: '/streams?feed={place}' },
		body: { snippet: { headline: '{title}', text: '{description}' }, access: '{visibility}', begins: '{plannedAt}' },
		...{ broadcast: '/stream/uid', address: '/stream/ingest/0/server', key: '/stream/ingest/0/token' },
	},
	change: {
		...{ method: 'PATCH', path: '/streams/{broadcast}' },
		body: { snippet: { headline: '{title}', text: '{description}' }, access: '{visibility}', begins: '{plannedAt}' },
	},
	picture: { method: 'POST', path: '/streams/{broadcast}/thumbnail' },
	makePublic: { method: 'POST', path: '/streams/{broadcast}/stage', body: { stage: 'live' } },
	end: { method: 'POST', path: '/streams/{broadcast}/stage', body: { stage: 'over' } },
	audience: {
		...{ method: 'GET', path: '/streams/{broadcast}', public: '/stream/isOpen', viewers: '/stream/counts/now' },
	},
	messages: {
		...{ method: 'GET', path: '/streams/{broadcast}/chat?since={after}', list: '/items' },
		...{ id: '/uid', at: '/when', from: '/who/name', text: '/said' },
	},
	post: { method: 'POST', path: '/streams/{broadcast}/chat', body: { said: '{text}' } },
};
const NESTED_WORDS = { public: 'open', unlisted: 'link', private: 'closed' } as const;

/** The profile that whoever sets Bivvo up gets from the host. */
export function profileOf(manner: Manner, origin: string): HostProfile {
	const isPlain = manner === 'plain';
	return {
		name: isPlain ? 'Fell Stream' : 'Col Broadcasts',
		clientId: CLIENT_ID,
		clientSecret: '',
		authorizationUrl: `${origin}/oauth/authorize`,
		deviceUrl: `${origin}/oauth/device`,
		tokenUrl: `${origin}/oauth/token`,
		revokeUrl: `${origin}/oauth/revoke`,
		scope: 'stream',
		apiUrl: `${origin}/programs`,
		visibilities: isPlain ? { public: 'public', unlisted: 'unlisted', private: 'private' } : NESTED_WORDS,
		calls: isPlain ? PLAIN_CALLS : NESTED_CALLS,
	};
}

export class Programs {
	readonly #manner: Manner;
	readonly #oauth: OAuthDesk;
	readonly #desks: readonly PlaceDesk[];
	readonly #rtmpPort: () => number;
	readonly #planned = new Map<string, Planned>();

	constructor(manner: Manner, oauth: OAuthDesk, desks: readonly PlaceDesk[], rtmpPort: () => number) {
		this.#manner = manner;
		this.#oauth = oauth;
		this.#desks = desks;
		this.#rtmpPort = rtmpPort;
	}

	/** What was planned, for tests: pictures come nowhere else to light. */
	get pictures(): { type: string; bytes: number }[] {
		return [...this.#planned.values()].flatMap(({ picture }) => (picture ? [picture] : []));
	}

	/** @param path behind `/programs/` */
	async answer(request: IncomingMessage, response: ServerResponse, path: readonly string[]): Promise<void> {
		const say = (status: number, body: object, headers: Record<string, string> = {}) =>
			void response.writeHead(status, { 'Content-Type': 'application/json', ...headers }).end(JSON.stringify(body));
		const { mood } = this.#oauth;
		if (mood.isOut) return void response.destroy();
		if (!this.#oauth.admits(request.headers.authorization)) return say(401, { message: 'Sign in again.' });
		if (mood.busy.times > 0) {
			mood.busy.times--;
			return say(429, { message: 'Too many questions.' }, { 'Retry-After': String(mood.busy.seconds) });
		}
		const body = await bytesOf(request);
		const query = new URLSearchParams((request.url ?? '').split('?')[1]);
		if (this.#manner === 'plain') this.#answerPlain(request, path, body, query, say);
		else this.#answerNested(request, path, body, query, say);
	}

	#answerPlain(
		{ method, headers }: IncomingMessage,
		[what = '', id = '', act = '']: readonly string[],
		bytes: Buffer,
		query: URLSearchParams,
		say: (status: number, body: object) => void,
	): void {
		const body = jsonOf(bytes);
		if (what === 'places' && id === '' && method === 'GET')
			return say(200, {
				places: this.#desks.map(({ place }) => ({
					...{ id: place.app, name: place.name, maxHeight: place.maxHeight, maxKbps: place.maxRateKbps },
				})),
			});
		if (what === 'places' && act === 'broadcasts' && method === 'POST') {
			const planned = this.#plan(id, body as unknown as Wanted);
			return planned
				? say(200, { id: planned.id, address: this.#addressOf(planned), key: planned.key })
				: say(404, { message: 'There is no such place.' });
		}
		const planned = what === 'broadcasts' ? this.#planned.get(id) : undefined;
		if (!planned) return say(404, { message: 'There is no such broadcast.' });
		const { desk } = planned;
		switch (`${method} ${act}`) {
			case 'PUT ':
				this.#change(planned, body as unknown as Wanted);
				return say(200, {});
			case 'PUT picture':
				planned.picture = { type: headers['content-type'] ?? '', bytes: bytes.length };
				return say(200, {});
			case 'GET ':
				return say(200, { public: desk.state.public, viewers: desk.audience.count(Date.now()) });
			case 'POST public':
				return this.#open(planned) ? say(200, {}) : say(409, { message: 'Nothing is received yet.' });
			case 'POST end':
				this.#end(planned);
				return say(200, {});
			case 'GET messages':
				return say(200, { messages: desk.messages.list.filter(({ id: each }) => each > Number(query.get('after'))) });
			case 'POST messages':
				desk.messages.add({ from: ORGANISATION, text: String(body.text) });
				return say(200, {});
			default:
				return say(404, { message: 'There is no such thing to do.' });
		}
	}

	#answerNested(
		{ method, headers }: IncomingMessage,
		[what = '', id = '', act = '']: readonly string[],
		bytes: Buffer,
		query: URLSearchParams,
		say: (status: number, body: object) => void,
	): void {
		const body = jsonOf(bytes);
		const wanted = (): Wanted => {
			const { headline = '', text = '' } = (body.snippet ?? {}) as Record<string, string>;
			const words = Object.entries(NESTED_WORDS).find(([, word]) => word === body.access);
			const visibility = (words?.[0] ?? 'private') as Wanted['visibility'];
			return { title: headline, description: text, visibility, plannedAt: String(body.begins) };
		};
		if (what === 'me' && id === 'feeds')
			return say(200, {
				data: {
					feeds: this.#desks.map(({ place }) => ({
						feed: { uid: place.app, label: place.name },
						limits: { lines: String(place.maxHeight), kilobits: String(place.maxRateKbps) },
					})),
				},
			});
		if (what === 'streams' && id === '' && method === 'POST') {
			const planned = this.#plan(query.get('feed') ?? '', wanted());
			if (!planned) return say(404, { message: 'There is no such feed.' });
			const ingest = [{ server: this.#addressOf(planned), token: planned.key }];
			return say(201, { stream: { uid: planned.id, ingest } });
		}
		const planned = what === 'streams' ? this.#planned.get(id) : undefined;
		if (!planned) return say(410, { message: 'That stream is over.' });
		const { desk } = planned;
		switch (`${method} ${act}`) {
			case 'PATCH ':
				this.#change(planned, wanted());
				return say(200, {});
			case 'POST thumbnail':
				planned.picture = { type: headers['content-type'] ?? '', bytes: bytes.length };
				return say(200, {});
			case 'GET ':
				return say(200, {
					stream: { isOpen: desk.state.public, counts: { now: String(desk.audience.count(Date.now())) } },
				});
			case 'POST stage':
				if (body.stage === 'over') this.#end(planned);
				else if (!this.#open(planned)) return say(409, { message: 'Nothing is received yet.' });
				return say(200, {});
			case 'GET chat': {
				const since = Number((query.get('since') ?? '').replace('m-', '')) || 0;
				const items = desk.messages.list.filter(({ id: each }) => each > since);
				return say(200, {
					items: items.map((each) => ({
						...{ uid: `m-${each.id}`, when: new Date(each.at).toISOString() },
						...{ who: { name: each.from }, said: each.text },
					})),
				});
			}
			case 'POST chat':
				desk.messages.add({ from: ORGANISATION, text: String(body.said) });
				return say(200, {});
			default:
				return say(404, { message: 'There is no such thing to do.' });
		}
	}

	#plan(app: string, wanted: Wanted): Planned | null {
		const desk = this.#desks.find(({ place }) => place.app === app);
		if (!desk) return null;
		const planned = {
			id: `b${randomBytes(6).toString('hex')}`,
			desk,
			key: randomBytes(9).toString('hex'),
			picture: null,
		};
		this.#planned.set(planned.id, planned);
		this.#change(planned, wanted);
		return planned;
	}

	#change({ desk, key }: Planned, { title, description, visibility, plannedAt }: Wanted): void {
		desk.planned = { title, description, visibility, plannedAt, key };
		Object.assign(desk.state, { title, description });
	}

	#addressOf({ desk }: Planned): string {
		return `rtmp://127.0.0.1:${this.#rtmpPort()}/${desk.place.app}`;
	}

	#open({ desk }: Planned): boolean {
		if (desk.state.state !== 'receiving') return false;
		desk.state.public = true;
		return true;
	}

	#end({ id, desk }: Planned): void {
		this.#planned.delete(id);
		desk.planned = null;
		desk.current?.destroy();
		Object.assign(desk.state, { state: 'ended', public: !desk.place.needsPublicStep });
	}
}

async function bytesOf(request: IncomingMessage): Promise<Buffer> {
	const parts: Buffer[] = [];
	let bytes = 0;
	for await (const part of request as AsyncIterable<Buffer>) {
		bytes += part.length;
		if (bytes <= MOST_BODY_BYTES) parts.push(part);
	}
	return Buffer.concat(parts);
}

function jsonOf(bytes: Buffer): Record<string, unknown> {
	try {
		return (JSON.parse(bytes.toString('utf8')) ?? {}) as Record<string, unknown>;
	} catch {
		return {};
	}
}
