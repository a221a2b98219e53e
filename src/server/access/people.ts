/** People with an account: how they come to have one, sign in, and what they are. */
import { randomUUID } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import type { Role } from '../../core/access/roles.ts';
import { refuse } from '../../core/refusal.ts';
import type { Db } from '../db/database.ts';
import { invitations, people } from '../db/schema.ts';
import { NO_NEWS } from '../nodes/news.ts';
import { differIn, Kept } from './kept.ts';
import { hashPassword, isPassword, LEAST_LETTERS, MOST_LETTERS, passwordProblem } from './passwords.ts';
import { seal, unseal } from './secrets.ts';
import { hashOf, newSecret } from './tokens.ts';

const INVITED_FOR_MS = 7 * 86_400_000;
/** Length of a step of the second factor, seconds (RFC 6238, section 4). */
const STEP_S = 30;
const ISSUER = 'Bivvo';

export type Person = typeof people.$inferSelect;
export type Invitation = typeof invitations.$inferSelect;

/** What somebody is, in the organisation and at events. */
export interface Roles {
	role: Role | null;
	roleAt: Record<string, Role>;
}

/** How a person is shown to others. */
export interface PersonLine extends Roles {
	id: string;
	name: string;
	login: string;
	hasPassword: boolean;
	hasSecondFactor: boolean;
	createdAt: number;
}

export class People {
	readonly #people: Kept<typeof people>;
	readonly #invitations: Kept<typeof invitations>;
	readonly #key: Buffer;

	private constructor(kept: Kept<typeof people>, invited: Kept<typeof invitations>, key: Buffer) {
		this.#people = kept;
		this.#invitations = invited;
		this.#key = key;
	}

	/** @param key that seals second factors, 32 bytes */
	static async open(db: Db, key: Buffer, news = NO_NEWS): Promise<People> {
		return new People(await Kept.open(db, people, news), await Kept.open(db, invitations, news), key);
	}

	/** @param listener told of each who is something else now, by another node's doing */
	onChanged(listener: (id: string) => void): void {
		this.#people.onChanged = (before, now) => {
			if (differIn(['role', 'roleAt', 'removedAt'], before, now)) listener((now ?? before)!.id);
		};
	}

	/** Reads one that is not known here: another node may have made it a moment ago. */
	lookUp(id: string): Promise<void> {
		return this.#people.lookUpId(id);
	}

	/** One whose account was not taken away. */
	get(id: string): Person | null {
		const person = this.#people.get(id);
		return person && person.removedAt === null ? person : null;
	}

	get #there(): Person[] {
		return this.#people.all.filter(({ removedAt }) => removedAt === null);
	}

	get hasOwner(): boolean {
		return this.#there.some(({ role }) => role === 'owner');
	}

	list(): PersonLine[] {
		const lines = this.#there.map(({ id, name, login, role, roleAt, password, secondFactor, createdAt }) => ({
			...{ id, name, login, role, roleAt, createdAt },
			hasPassword: password !== null,
			hasSecondFactor: secondFactor !== null,
		}));
		return lines.toSorted((a, b) => a.name.localeCompare(b.name));
	}

	/** Makes an account. @param password null for one that is opened by passkeys only @throws {Refusal} */
	async make(name: string, login: string, password: string | null, { role, roleAt }: Roles): Promise<Person> {
		const plain = plainLogin(login);
		if (this.#people.all.some((each) => each.login === plain)) throw refuse('loginTaken', { login: plain });
		if (password !== null) needGood(password, [name, plain]);
		return this.#people.add({
			id: randomUUID(),
			name,
			login: plain,
			role,
			roleAt,
			password: password === null ? null : await hashPassword(password),
			secondFactor: null,
			lastStep: 0,
			createdAt: Date.now(),
			removedAt: null,
		});
	}

	/** @returns the secret of the link */
	async invite(name: string, { role, roleAt }: Roles): Promise<{ id: string; secret: string }> {
		const secret = newSecret();
		const [id, now] = [randomUUID(), Date.now()];
		const expiresAt = now + INVITED_FOR_MS;
		await this.#invitations.add({
			id,
			hash: hashOf(secret),
			name,
			role,
			roleAt,
			createdAt: now,
			expiresAt,
			usedAt: null,
		});
		return { id, secret };
	}

	/** Invitations that wait for somebody. */
	get invited(): Invitation[] {
		return this.#invitations.all.filter(({ usedAt, expiresAt }) => usedAt === null && expiresAt > Date.now());
	}

	/** @throws {Refusal} when it is none, or can be used no more */
	invitation(secret: string): Invitation {
		const found = this.#invitations.all.find(({ hash }) => hash === hashOf(secret));
		if (!found) throw refuse('linkGone', { why: 'unknown' });
		if (found.usedAt !== null) throw refuse('linkGone', { why: 'used' });
		if (found.expiresAt <= Date.now()) throw refuse('linkGone', { why: 'expired' });
		return found;
	}

	/** Makes the account that an invitation is for. @throws {Refusal} */
	async join(secret: string, name: string, login: string, password: string | null): Promise<Person> {
		const { id, role, roleAt } = this.invitation(secret);
		// Taken at once, so that two who press at the same time are not both let in.
		await this.#invitations.change(id, { usedAt: Date.now() });
		try {
			return await this.make(name, login, password, { role, roleAt });
		} catch (error) {
			await this.#invitations.change(id, { usedAt: null });
			throw error;
		}
	}

	async takeBack(invitationId: string): Promise<void> {
		await this.#invitations.remove(invitationId);
	}

	/**
	 * Who signs in with a password.
	 * @param code of the second factor, where there is one
	 * @throws {Refusal} `wrongLogin` whatever of it is wrong; `needsCode` when all else is right
	 */
	async signIn(login: string, password: string, code: string): Promise<Person> {
		const person = this.#there.find((each) => each.login === plainLogin(login)) ?? null;
		const isRight = await isPassword(person?.password ?? null, password);
		if (!person || !isRight) throw refuse('wrongLogin', {});
		if (person.secondFactor === null) return person;
		if (code.trim() === '') throw refuse('needsCode', {});
		if (!(await this.#useCode(person, unseal(this.#key, person.secondFactor, `second factor of ${person.id}`), code)))
			throw refuse('wrongLogin', {});
		return person;
	}

	/** @throws {Refusal} when the new one is not good enough */
	async setPassword({ id, name, login }: Person, password: string): Promise<void> {
		needGood(password, [name, login]);
		await this.#people.change(id, { password: await hashPassword(password) });
	}

	isPasswordOf({ password }: Person, typed: string): Promise<boolean> {
		return isPassword(password, typed);
	}

	/** A second factor that is not there yet: its secret, and the address that an authenticator reads. */
	proposeSecondFactor({ login }: Person): { secret: string; address: string } {
		const secret = new Secret({ size: 20 });
		return { secret: secret.base32, address: totpOf(secret.base32, login).toString() };
	}

	/** @throws {Refusal} when the code is not of that secret */
	async setSecondFactor(person: Person, secret: string, code: string): Promise<void> {
		if (!/^[A-Z2-7]{32}$/.test(secret) || !(await this.#useCode(person, secret, code))) throw refuse('codeWrong', {});
		await this.#people.change(person.id, { secondFactor: seal(this.#key, secret, `second factor of ${person.id}`) });
	}

	async dropSecondFactor({ id }: Person): Promise<void> {
		await this.#people.change(id, { secondFactor: null });
	}

	/** True for a code of now, or of the step before or after, that was not used before. */
	async #useCode({ id, login }: Person, secret: string, code: string): Promise<boolean> {
		const delta = totpOf(secret, login).validate({ token: code.replace(/\s/g, ''), window: 1 });
		const step = Math.floor(Date.now() / 1000 / STEP_S) + (delta ?? 0);
		if (delta === null || step <= this.#people.get(id)!.lastStep) return false;
		await this.#people.change(id, { lastStep: step });
		return true;
	}

	/** @throws {Refusal} when nobody would be owner any more */
	async setRoles(id: string, { role, roleAt }: Roles): Promise<void> {
		if (role !== 'owner') this.#needOtherOwner(id);
		await this.#people.change(id, { role, roleAt });
	}

	/** Takes an account away; it can be given back. @throws {Refusal} when nobody would be owner any more */
	async remove(id: string): Promise<void> {
		this.#needOtherOwner(id);
		await this.#people.change(id, { removedAt: Date.now() });
	}

	async restore(id: string): Promise<void> {
		await this.#people.change(id, { removedAt: null });
	}

	#needOtherOwner(id: string): void {
		if (this.get(id)?.role !== 'owner') return;
		if (!this.#there.some((each) => each.id !== id && each.role === 'owner')) throw refuse('lastOwner', {});
	}
}

function totpOf(secret: string, login: string): TOTP {
	return new TOTP({ issuer: ISSUER, label: login, secret: Secret.fromBase32(secret), period: STEP_S, digits: 6 });
}

export function plainLogin(login: string): string {
	return login.trim().toLowerCase();
}

function needGood(password: string, known: readonly string[]): void {
	const problem = passwordProblem(password, known);
	if (problem) throw refuse('password', { problem, least: LEAST_LETTERS, most: MOST_LETTERS });
}
