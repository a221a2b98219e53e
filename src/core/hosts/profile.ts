/**
 * What is known of a host that is logged in to by OAuth 2.0: where it asks, and how what Bivvo wants is said in its own
 * words. One implementation serves all hosts; what they differ in stands here. docs/host-profile.md describes it.
 */
import * as v from 'valibot';
import { nameSchema } from '../show/basics.ts';

const webAddress = v.pipe(v.string(), v.maxLength(500), v.regex(/^https?:\/\/[^\s@]+$/, 'accountForm'));
/** A place in an answer (RFC 6901): '' is all of it. */
const pointer = v.pipe(v.string(), v.maxLength(200), v.regex(/^(\/[^/]*)*$/));
const word = v.pipe(v.string(), v.maxLength(200));

/** One request. `{blanks}` of path and body are filled in; a text that is nothing but a blank becomes what is filled in. */
const callSchema = v.object({
	method: v.picklist(['GET', 'POST', 'PUT', 'PATCH', 'DELETE']),
	/** Behind the address of the programming interface. */
	path: v.pipe(v.string(), v.maxLength(300), v.regex(/^(\/\S*)?$/)),
	body: v.optional(v.unknown()),
});
export type Call = v.InferOutput<typeof callSchema>;

export const callsSchema = v.object({
	/** The account's own page, groups and channels; `list` is where they stand, the others are read from each. */
	places: v.object({
		...callSchema.entries,
		list: pointer,
		id: pointer,
		name: pointer,
		maxHeight: v.optional(v.nullable(pointer), null),
		maxKbps: v.optional(v.nullable(pointer), null),
	}),
	/** Plans a broadcast at a place. */
	create: v.object({ ...callSchema.entries, broadcast: pointer, address: pointer, key: pointer }),
	/** Changes what viewers are told of it. Null where it has to be planned anew. */
	change: v.nullable(callSchema),
	/** Takes its picture, as the bytes of a JPEG or PNG file. */
	picture: v.nullable(v.omit(callSchema, ['body'])),
	/** Lets viewers in. */
	makePublic: v.nullable(callSchema),
	end: v.nullable(callSchema),
	audience: v.nullable(v.object({ ...callSchema.entries, public: pointer, viewers: pointer })),
	/** What viewers have written, the newest last; `{after}` is the id of the last one that is known. */
	messages: v.nullable(
		v.object({ ...callSchema.entries, list: pointer, id: pointer, at: pointer, from: pointer, text: pointer }),
	),
	post: v.nullable(callSchema),
});
export type Calls = v.InferOutput<typeof callsSchema>;

/** The interface as Bivvo would have it: what a profile has that says nothing of it. */
export const PLAIN_CALLS: Calls = {
	places: {
		...{ method: 'GET', path: '/places', list: '/places', id: '/id', name: '/name' },
		...{ maxHeight: '/maxHeight', maxKbps: '/maxKbps' },
	},
	create: {
		...{ method: 'POST', path: '/places/{place}/broadcasts' },
		body: { title: '{title}', description: '{description}', visibility: '{visibility}', plannedAt: '{plannedAt}' },
		...{ broadcast: '/id', address: '/address', key: '/key' },
	},
	change: {
		...{ method: 'PUT', path: '/broadcasts/{broadcast}' },
		body: { title: '{title}', description: '{description}', visibility: '{visibility}', plannedAt: '{plannedAt}' },
	},
	picture: { method: 'PUT', path: '/broadcasts/{broadcast}/picture' },
	makePublic: { method: 'POST', path: '/broadcasts/{broadcast}/public' },
	end: { method: 'POST', path: '/broadcasts/{broadcast}/end' },
	audience: { method: 'GET', path: '/broadcasts/{broadcast}', public: '/public', viewers: '/viewers' },
	messages: {
		...{ method: 'GET', path: '/broadcasts/{broadcast}/messages?after={after}', list: '/messages' },
		...{ id: '/id', at: '/at', from: '/from', text: '/text' },
	},
	post: { method: 'POST', path: '/broadcasts/{broadcast}/messages', body: { text: '{text}' } },
};

export const profileSchema = v.object({
	name: nameSchema,
	/** Bivvo's name at the host, which the host gives out to whoever registers a program; with a secret where it has one. */
	clientId: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(300)),
	clientSecret: v.optional(v.pipe(v.string(), v.maxLength(300)), ''),
	/** Where somebody signs in in a browser (RFC 6749, section 3.1); null where only codes are typed. */
	authorizationUrl: v.nullable(webAddress),
	/** Where a code to be typed is asked for (RFC 8628); null where there is none. */
	deviceUrl: v.optional(v.nullable(webAddress), null),
	tokenUrl: webAddress,
	/** Where tokens are given back (RFC 7009); null where that is not possible. */
	revokeUrl: v.optional(v.nullable(webAddress), null),
	/** What is asked for, with blanks between. */
	scope: v.optional(word, ''),
	/** The programming interface. */
	apiUrl: webAddress,
	/** What the host calls who may see a broadcast. */
	visibilities: v.optional(v.object({ public: word, unlisted: word, private: word }), {
		...{ public: 'public', unlisted: 'unlisted', private: 'private' },
	}),
	calls: v.optional(callsSchema, PLAIN_CALLS),
});
export type HostProfile = v.InferOutput<typeof profileSchema>;

/** Values for the blanks of a call. */
export type Blanks = Readonly<Record<string, string | number>>;

const BLANK = /\{(\w+)\}/g;

/** A path with its blanks filled in, each as one part of it. */
export function filledPath(path: string, blanks: Blanks): string {
	return path.replace(BLANK, (_, name: string) => encodeURIComponent(blanks[name] ?? ''));
}

/** A body with its blanks filled in; a text that is one blank alone becomes its value, number or text. */
export function filledBody(body: unknown, blanks: Blanks): unknown {
	if (typeof body === 'string') {
		const alone = /^\{(\w+)\}$/.exec(body)?.[1];
		if (alone !== undefined) return blanks[alone] ?? '';
		return body.replace(BLANK, (_, name: string) => String(blanks[name] ?? ''));
	}
	if (Array.isArray(body)) return body.map((each) => filledBody(each, blanks));
	if (typeof body !== 'object' || body === null) return body;
	return Object.fromEntries(Object.entries(body).map(([name, value]) => [name, filledBody(value, blanks)]));
}

/** What stands at a place of an answer (RFC 6901, section 4); undefined where nothing does. */
export function at(answer: unknown, place: string): unknown {
	let found = answer;
	for (const part of place.split('/').slice(1)) {
		const name = part.replaceAll('~1', '/').replaceAll('~0', '~');
		if (typeof found !== 'object' || found === null || !Object.hasOwn(found, name)) return undefined;
		found = (found as Record<string, unknown>)[name];
	}
	return found;
}

/** A text at a place of an answer, no longer than so many letters; '' where there is none. */
export function textAt(answer: unknown, place: string, most: number): string {
	const found = at(answer, place);
	return typeof found === 'string' || typeof found === 'number' ? String(found).slice(0, most) : '';
}

/** A number at a place of an answer; null where there is none. Hosts write some of them as texts. */
export function numberAt(answer: unknown, place: string | null): number | null {
	const found = place === null ? null : at(answer, place);
	const number = typeof found === 'string' && found.trim() !== '' ? Number(found) : found;
	return typeof number === 'number' && Number.isFinite(number) ? number : null;
}

/** A time at a place of an answer, in milliseconds since 1970 or as ISO 8601; null where there is none. */
export function timeAt(answer: unknown, place: string): number | null {
	const found = at(answer, place);
	const time = typeof found === 'string' && !/^\d+$/.test(found) ? Date.parse(found) : numberAt(answer, place);
	return time !== null && Number.isFinite(time) ? time : null;
}
