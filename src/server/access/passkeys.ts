/** Passkeys: keys that a device keeps, and nobody can type or steal (W3C WebAuthn, level 3). */
import {
	generateAuthenticationOptions,
	generateRegistrationOptions,
	verifyAuthenticationResponse,
	verifyRegistrationResponse,
	type AuthenticationResponseJSON,
	type AuthenticatorTransport,
	type PublicKeyCredentialCreationOptionsJSON,
	type PublicKeyCredentialRequestOptionsJSON,
	type RegistrationResponseJSON,
} from '@simplewebauthn/server';
import { isIP } from 'node:net';
import { refuse } from '../../core/refusal.ts';
import type { Db } from '../db/database.ts';
import { passkeys } from '../db/schema.ts';
import { log } from '../log.ts';
import { NO_NEWS } from '../nodes/news.ts';
import { Kept } from './kept.ts';

/** A challenge is answered within this time, once. */
const CHALLENGE_MS = 5 * 60_000;
const MOST_CHALLENGES = 1000;
const MOST_OF_A_PERSON = 20;

export type Passkey = typeof passkeys.$inferSelect;

/** Whom a passkey is made for. */
export interface KeyOwner {
	id: string;
	name: string;
	login: string;
}

export class Passkeys {
	readonly #kept: Kept<typeof passkeys>;
	/** Until when each is taken, and whom it was made for; null for anybody who signs in. */
	readonly #challenges = new Map<string, { until: number; personId: string | null }>();

	private constructor(kept: Kept<typeof passkeys>) {
		this.#kept = kept;
	}

	static async open(db: Db, news = NO_NEWS): Promise<Passkeys> {
		return new Passkeys(await Kept.open(db, passkeys, news));
	}

	/** Of a person, the newest last. */
	of(personId: string): Passkey[] {
		return this.#kept.all.filter((key) => key.personId === personId).toSorted((a, b) => a.createdAt - b.createdAt);
	}

	async proposeFor({ id, name, login }: KeyOwner, origin: string): Promise<PublicKeyCredentialCreationOptionsJSON> {
		const options = await generateRegistrationOptions({
			rpName: 'Bivvo',
			rpID: siteOf(origin),
			userID: new TextEncoder().encode(id),
			userName: login,
			userDisplayName: name,
			attestationType: 'none',
			excludeCredentials: this.of(id).map((key) => ({ id: key.id })),
			authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
		});
		this.#remember(options.challenge, id);
		return options;
	}

	/** @throws {Refusal} when the answer does not fit the challenge */
	async add(personId: string, origin: string, response: RegistrationResponseJSON, name: string): Promise<void> {
		if (this.of(personId).length >= MOST_OF_A_PERSON) throw refuse('passkey', { problem: 'tooMany' });
		const result = await verifyRegistrationResponse({
			response,
			expectedChallenge: (challenge) => this.#take(challenge, personId),
			expectedOrigin: origin,
			expectedRPID: siteOf(origin),
			requireUserVerification: true,
		}).catch(failed);
		if (!result?.verified) throw refuse('passkey', { problem: 'notTaken' });
		const { credential } = result.registrationInfo;
		if (this.#kept.get(credential.id)) throw refuse('passkey', { problem: 'known' });
		await this.#kept.add({
			id: credential.id,
			personId,
			name,
			publicKey: Buffer.from(credential.publicKey).toString('base64url'),
			counter: credential.counter,
			transports: credential.transports ?? [],
			createdAt: Date.now(),
			usedAt: null,
		});
	}

	async remove(personId: string, id: string): Promise<void> {
		if (this.#kept.get(id)?.personId === personId) await this.#kept.remove(id);
	}

	async ask(origin: string): Promise<PublicKeyCredentialRequestOptionsJSON> {
		const options = await generateAuthenticationOptions({ rpID: siteOf(origin), userVerification: 'required' });
		this.#remember(options.challenge, null);
		return options;
	}

	/** @returns whose it is @throws {Refusal} when it is nobody's, or does not answer the challenge */
	async personOf(origin: string, response: AuthenticationResponseJSON): Promise<string> {
		const known = this.#kept.get(response.id);
		if (!known) throw refuse('passkey', { problem: 'unknown' });
		const result = await verifyAuthenticationResponse({
			response,
			expectedChallenge: (challenge) => this.#take(challenge, null),
			expectedOrigin: origin,
			expectedRPID: siteOf(origin),
			credential: {
				id: known.id,
				publicKey: new Uint8Array(Buffer.from(known.publicKey, 'base64url')),
				counter: known.counter,
				transports: known.transports as AuthenticatorTransport[],
			},
			requireUserVerification: true,
		}).catch(failed);
		if (!result?.verified) throw refuse('passkey', { problem: 'notTaken' });
		await this.#kept.change(known.id, { counter: result.authenticationInfo.newCounter, usedAt: Date.now() });
		return known.personId;
	}

	#remember(challenge: string, personId: string | null): void {
		const now = Date.now();
		for (const [key, { until }] of this.#challenges) if (until < now) this.#challenges.delete(key);
		if (this.#challenges.size >= MOST_CHALLENGES) this.#challenges.delete(this.#challenges.keys().next().value!);
		this.#challenges.set(challenge, { until: now + CHALLENGE_MS, personId });
	}

	#take(challenge: string, personId: string | null): boolean {
		const asked = this.#challenges.get(challenge);
		this.#challenges.delete(challenge);
		return asked !== undefined && asked.until >= Date.now() && asked.personId === personId;
	}
}

/** Of a name only: browsers keep no passkeys for numbers. @throws {Refusal} */
function siteOf(origin: string): string {
	const { hostname } = new URL(origin);
	if (isIP(hostname.replace(/^\[|\]$/g, '')) !== 0) throw refuse('passkey', { problem: 'needsName' });
	return hostname;
}

function failed(error: unknown): null {
	log.info({ problem: (error as Error).message }, 'A passkey was not taken');
	return null;
}
