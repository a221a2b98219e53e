/** A place at a host that is signed in to, as Bivvo wants it: the host's profile says how each thing is asked for. */
import type { Audience } from '../../core/show/messages.ts';
import type { Details } from '../../core/show/state.ts';
import {
	at,
	filledBody,
	filledPath,
	numberAt,
	textAt,
	timeAt,
	type Blanks,
	type Call,
	type HostProfile,
} from '../../core/hosts/profile.ts';
import type { SignedPlace } from '../../core/hosts/sign-in.ts';
import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
import {
	MOST_MESSAGE_LETTERS,
	MOST_SENDER_LETTERS,
	type HostAccount,
	type HostMessage,
	type PlannedAt,
} from './host-account.ts';
import { parsed, request, type Told } from './request.ts';
import type { SignIns } from './sign-ins.ts';

/** A host that asks to wait for no longer than this is asked once more; for longer, whoever asks is told. */
const MOST_WAIT_S = 3;
const MOST_PLACES = 200;
const MOST_ADDRESS_LETTERS = 500;
const MOST_KEY_LETTERS = 1000;
const MOST_ID_LETTERS = 200;
/** A host lists what was written last; what is further back than this is not compared. */
const MOST_KNOWN_MESSAGES = 5000;

/** Where a destination is at a host that is signed in to. */
export interface SignedAt {
	hostId: string;
	placeId: string;
	/** The host's name for what is planned there; null while nothing is. */
	broadcast: string | null;
}

/** The host has no such thing any more. */
class GoneAtHost extends Error {}

/** The places that an account may post to. @throws with a sentence */
export async function listSignedPlaces(signIns: SignIns, hostId: string): Promise<SignedPlace[]> {
	const { calls } = signIns.profileOf(hostId);
	const answer = await ask(signIns, hostId, calls.places, {});
	const list = at(answer, calls.places.list);
	if (!Array.isArray(list)) throw new Error('The host names no places.');
	return list.slice(0, MOST_PLACES).flatMap((each): SignedPlace[] => {
		const [id, name] = [
			textAt(each, calls.places.id, MOST_ID_LETTERS),
			textAt(each, calls.places.name, MOST_NAME_LETTERS),
		];
		if (id === '' || name.trim() === '') return [];
		const limit = (place: string | null, least: number, most: number) => {
			const found = numberAt(each, place);
			return found !== null && found >= least && found <= most ? found : null;
		};
		const { maxHeight, maxKbps } = calls.places;
		return [{ id, name, maxHeight: limit(maxHeight, 120, 4320), maxKbps: limit(maxKbps, 200, 100_000) }];
	});
}

export class SignedAccount implements HostAccount {
	readonly #signIns: SignIns;
	readonly #profile: HostProfile;
	#at: SignedAt;
	/** What the host calls the messages that came last. */
	readonly #heard = new Set<string>();
	/** The number of the message that came last. */
	#last = 0;
	#newest = '';

	/** @throws {Refusal} when the host is forgotten */
	constructor(signIns: SignIns, signedAt: SignedAt) {
		this.#signIns = signIns;
		this.#profile = signIns.profileOf(signedAt.hostId);
		this.#at = signedAt;
	}

	get #blanks(): Blanks {
		return { place: this.#at.placeId, broadcast: this.#at.broadcast ?? '' };
	}

	#ask(call: Call, blanks: Blanks = {}): Promise<unknown> {
		return ask(this.#signIns, this.#at.hostId, call, { ...this.#blanks, ...blanks });
	}

	/** What needs a broadcast at the host, where there is one and the host can do it. */
	async #askOf(call: Call | null, blanks: Blanks = {}): Promise<unknown> {
		if (call === null) return null;
		if (this.#at.broadcast === null) throw new Error('Nothing is planned at this host. Send it the details first.');
		return this.#ask(call, blanks);
	}

	async audience(): Promise<Audience> {
		const { audience } = this.#profile.calls;
		if (audience === null) throw new Error('This host tells nothing of those who watch.');
		const answer = await this.#askOf(audience);
		const viewers = numberAt(answer, audience.viewers);
		return { public: at(answer, audience.public) === true, viewers: Math.max(0, Math.floor(viewers ?? 0)) };
	}

	async plan(details: Details, picture: { bytes: Uint8Array; type: string } | null = null): Promise<PlannedAt | null> {
		const { calls, visibilities } = this.#profile;
		const { title, description, visibility, plannedAt } = details;
		const blanks = { title, description, visibility: visibilities[visibility], plannedAt };
		const isChanged =
			this.#at.broadcast !== null && calls.change !== null && (await this.#change(calls.change, blanks));
		const planned = isChanged ? null : await this.#create(blanks);
		if (picture && calls.picture) await this.#sendPicture(calls.picture, picture);
		return planned;
	}

	/** @returns false when the host has forgotten what was planned */
	async #change(call: Call, blanks: Blanks): Promise<boolean> {
		try {
			await this.#ask(call, blanks);
			return true;
		} catch (error) {
			if (error instanceof GoneAtHost) return false;
			throw error;
		}
	}

	async #create(blanks: Blanks): Promise<PlannedAt> {
		const { create } = this.#profile.calls;
		const answer = await this.#ask(create, blanks);
		const broadcast = textAt(answer, create.broadcast, MOST_ID_LETTERS);
		const address = textAt(answer, create.address, MOST_ADDRESS_LETTERS);
		const key = textAt(answer, create.key, MOST_KEY_LETTERS);
		if (broadcast === '' || address === '' || key === '')
			throw new Error('The host has planned it, and gave no address or key. Check its profile.');
		this.#at = { ...this.#at, broadcast };
		return { address, key, broadcast };
	}

	async #sendPicture(call: Omit<Call, 'body'>, { bytes, type }: { bytes: Uint8Array; type: string }): Promise<void> {
		await send(this.#signIns, this.#at.hostId, call, this.#blanks, { type, body: bytes });
	}

	async makePublic(): Promise<Audience> {
		await this.#askOf(this.#profile.calls.makePublic);
		return this.audience();
	}

	async end(): Promise<void> {
		await this.#askOf(this.#profile.calls.end);
	}

	/** Hosts name messages as they like; here each has a number, which grows. */
	async messages(after: number): Promise<HostMessage[]> {
		const { messages } = this.#profile.calls;
		if (messages === null) return [];
		const list = at(await this.#askOf(messages, { after: this.#newest }), messages.list);
		if (!Array.isArray(list)) return [];
		return list.slice(-1000).flatMap((each): HostMessage[] => {
			const name = textAt(each, messages.id, MOST_ID_LETTERS);
			const text = textAt(each, messages.text, MOST_MESSAGE_LETTERS);
			if (name === '' || text === '' || this.#heard.has(name)) return [];
			this.#last = Math.max(after, this.#last) + 1;
			this.#hear(name);
			const from = textAt(each, messages.from, MOST_SENDER_LETTERS);
			return [{ id: this.#last, at: timeAt(each, messages.at) ?? Date.now(), from, text }];
		});
	}

	#hear(name: string): void {
		this.#newest = name;
		this.#heard.add(name);
		const [oldest] = this.#heard;
		if (this.#heard.size > MOST_KNOWN_MESSAGES) this.#heard.delete(oldest!);
	}

	async post(text: string): Promise<void> {
		const { post } = this.#profile.calls;
		if (post === null) throw new Error('This host takes no messages.');
		await this.#askOf(post, { text });
	}
}

async function ask(signIns: SignIns, hostId: string, call: Call, blanks: Blanks): Promise<unknown> {
	const body = call.body === undefined ? undefined : JSON.stringify(filledBody(call.body, blanks));
	const told = await send(signIns, hostId, call, blanks, { type: 'application/json', body });
	return parsed(told.text);
}

/** One request with a good token. A token that is refused is renewed once; a host that asks to wait is waited for. */
async function send(
	signIns: SignIns,
	hostId: string,
	{ method, path }: Omit<Call, 'body'>,
	blanks: Blanks,
	{ type, body }: { type: string; body: string | Uint8Array | undefined },
): Promise<Told> {
	const { apiUrl, name } = signIns.profileOf(hostId);
	const url = new URL(apiUrl.replace(/\/$/, '') + filledPath(path, blanks));
	const attempt = (token: string) =>
		request(url, signIns.reach, {
			method,
			headers: { Authorization: `Bearer ${token}`, Accept: 'application/json', ...(body && { 'Content-Type': type }) },
			body,
		});
	let token = await signIns.tokenOf(hostId);
	let told = await attempt(token);
	if (told.status === 401) {
		token = await signIns.tokenOf(hostId, token);
		told = await attempt(token);
	}
	const waitS = Number(told.headers['retry-after'] ?? NaN);
	if (isBusy(told) && waitS <= MOST_WAIT_S) {
		await new Promise((resolve) => setTimeout(resolve, 1000 * waitS));
		told = await attempt(token);
	}
	if (told.isOk) return told;
	if (told.status === 404 || told.status === 410)
		throw new GoneAtHost(`${name} has no such place or broadcast any more.`);
	if (isBusy(told)) {
		const seconds = Number(told.headers['retry-after'] ?? NaN);
		const when = seconds > 0 ? `in ${Math.ceil(seconds)} s` : 'in a minute';
		throw new Error(`${name} is asked too often, or has too much to do. Try again ${when}.`);
	}
	// Hosts quote what they refuse, and this goes onto a page.
	const said = textAt(parsed(told.text), '/message', 300).replaceAll(token, '•••');
	throw new Error(said !== '' ? said : `${name} answered something else (${told.status}).`);
}

function isBusy({ status }: Told): boolean {
	return status === 429 || status === 503;
}
