/** What a host tells of a stream beside taking it, and what it can be asked to do: docs/host-account.md. */
import * as v from 'valibot';
import type { Audience } from '../../core/show/live.ts';

const PATIENCE_MS = 5000;

/** What Bivvo wants of a host's account. Other hosts would have other adapters behind it. */
export interface HostAccount {
	/** @throws with a sentence when the host does not tell */
	look(): Promise<Audience>;
	/** Lets viewers in. @throws with a sentence when the host does not */
	makePublic(): Promise<Audience>;
}

const answerSchema = v.object({ public: v.boolean(), viewers: v.pipe(v.number(), v.minValue(0)) });
const refusalSchema = v.object({ message: v.pipe(v.string(), v.maxLength(300)) });

/** An account that speaks JSON over HTTP. */
export class JsonAccount implements HostAccount {
	#url: string;
	#key: string;

	constructor(url: string, key: string) {
		this.#url = url.replace(/\/$/, '');
		this.#key = key;
	}

	look(): Promise<Audience> {
		return this.#ask('GET', this.#url);
	}

	makePublic(): Promise<Audience> {
		return this.#ask('POST', `${this.#url}/public`);
	}

	async #ask(method: string, url: string): Promise<Audience> {
		const response = await fetch(url, {
			method,
			headers: { Authorization: `Bearer ${this.#key}` },
			// The key goes to this host and to no other.
			redirect: 'error',
			signal: AbortSignal.timeout(PATIENCE_MS),
		}).catch(() => null);
		if (!response) throw new Error('The host’s account does not answer.');
		const body: unknown = await response.json().catch(() => null);
		const answer = v.safeParse(answerSchema, body);
		if (response.ok && answer.success) return answer.output;
		const refusal = v.safeParse(refusalSchema, body);
		throw new Error(
			refusal.success ? refusal.output.message : `The host’s account answered something else (${response.status}).`,
		);
	}
}
