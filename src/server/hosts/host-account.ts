/** What a host tells of a stream beside taking it, and what it can be asked to do: docs/host-account.md. */
import * as v from 'valibot';
import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
import type { Audience } from '../../core/show/messages.ts';
import type { Details } from '../../core/show/state.ts';
import type { Reach } from '../broadcast/reach.ts';
import { parsed, request } from './request.ts';

/** More of what a viewer writes, and is called, is not shown. */
export const MOST_MESSAGE_LETTERS = 500;
export const MOST_SENDER_LETTERS = 60;

/** What a viewer has written at the host. */
export interface HostMessage {
	/** Grows with each. */
	id: number;
	/** Milliseconds since 1970. */
	at: number;
	from: string;
	text: string;
}

/** Where the host takes the stream of a broadcast that was planned. */
export interface PlannedAt {
	address: string;
	key: string;
	/** The host's name for the broadcast, where it has names for them. */
	broadcast?: string;
}

/** What Bivvo wants of a host's account. Other hosts would have other adapters behind it. All throw with a sentence. */
export interface HostAccount {
	audience(): Promise<Audience>;
	/**
	 * Plans a broadcast, or changes what viewers are told of the one that is planned. Where nothing but that has changed,
	 * the key stays as it is: null.
	 */
	plan(details: Details, picture?: { bytes: Uint8Array; type: string } | null): Promise<PlannedAt | null>;
	/** Lets viewers in. */
	makePublic(): Promise<Audience>;
	/** Tells the host that this broadcast is over. */
	end(): Promise<void>;
	/** What viewers have written after the message with this number. */
	messages(after: number): Promise<HostMessage[]>;
	/** Writes to viewers, as the organisation. */
	post(text: string): Promise<void>;
}

/** Somewhere at a host that an account may post to. */
export interface HostPlace {
	id: string;
	name: string;
	maxHeight: number | null;
	maxKbps: number | null;
}

const limit = v.nullable(v.pipe(v.number(), v.minValue(1)));
const audienceSchema = v.object({ public: v.boolean(), viewers: v.pipe(v.number(), v.minValue(0)) });
const plannedSchema = v.object({
	address: v.pipe(v.string(), v.maxLength(500)),
	key: v.pipe(v.string(), v.minLength(1), v.maxLength(1000)),
});
const placesSchema = v.object({
	places: v.array(
		v.object({
			id: v.pipe(v.string(), v.regex(/^[a-zA-Z0-9_-]{1,64}$/)),
			name: v.pipe(v.string(), v.minLength(1), v.maxLength(MOST_NAME_LETTERS)),
			maxHeight: v.optional(limit, null),
			maxKbps: v.optional(limit, null),
		}),
	),
});
const messagesSchema = v.object({
	messages: v.pipe(
		v.array(
			v.object({
				id: v.pipe(v.number(), v.safeInteger(), v.minValue(1)),
				at: v.number(),
				from: v.pipe(
					v.string(),
					v.transform((text) => text.slice(0, MOST_SENDER_LETTERS)),
				),
				text: v.pipe(
					v.string(),
					v.transform((text) => text.slice(0, MOST_MESSAGE_LETTERS)),
				),
			}),
		),
		v.maxLength(1000),
	),
});
const refusalSchema = v.object({ message: v.pipe(v.string(), v.maxLength(300)) });

/** The places that an account may post to. @throws with a sentence */
export async function listPlaces(url: string, token: string, reach: Reach): Promise<HostPlace[]> {
	return (await ask({ url, token, reach }, 'GET', '', placesSchema)).places;
}

interface Account {
	url: string;
	token: string;
	reach: Reach;
}

/** An account that speaks JSON over HTTP. */
export class JsonAccount implements HostAccount {
	readonly #account: Account;

	/** @param url of one place @param token that opens the account, or the place's key */
	constructor(url: string, token: string, reach: Reach) {
		this.#account = { url, token, reach };
	}

	audience(): Promise<Audience> {
		return ask(this.#account, 'GET', '', audienceSchema);
	}

	plan({ pictureId: _, ...details }: Details): Promise<PlannedAt> {
		return ask(this.#account, 'PUT', '/broadcast', plannedSchema, details);
	}

	makePublic(): Promise<Audience> {
		return ask(this.#account, 'POST', '/public', audienceSchema);
	}

	async end(): Promise<void> {
		await ask(this.#account, 'POST', '/end', audienceSchema);
	}

	async messages(after: number): Promise<HostMessage[]> {
		const { messages } = await ask(this.#account, 'GET', `/messages?after=${after}`, messagesSchema);
		// A host that says something twice, or out of turn, is heard once.
		let newest = after;
		return messages.filter(({ id }) => id > newest && (newest = id) > 0);
	}

	async post(text: string): Promise<void> {
		await ask(this.#account, 'POST', '/messages', v.object({}), { text });
	}
}

async function ask<T>(
	{ url, token, reach }: Account,
	method: string,
	path: string,
	answerSchema: v.GenericSchema<unknown, T>,
	body?: unknown,
): Promise<T> {
	const told = await request(new URL(url.replace(/\/$/, '') + path), reach, {
		method,
		headers: { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' },
		body: body === undefined ? undefined : JSON.stringify(body),
	});
	const json = parsed(told.text);
	const answer = v.safeParse(answerSchema, json);
	if (told.isOk && answer.success) return answer.output;
	const refusal = v.safeParse(refusalSchema, json);
	throw new Error(
		refusal.success
			? // Hosts quote what they refuse, and this goes onto a page.
				refusal.output.message.replaceAll(token, '•••')
			: `The host’s account answered something else (${told.status}).`,
	);
}
