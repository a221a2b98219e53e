/** Hosts that the organisation is signed in to: their profiles, and tokens, which are sealed like keys. */
import { randomUUID } from 'node:crypto';
import * as v from 'valibot';
import { eq } from 'drizzle-orm';
import { profileSchema, type HostProfile } from '../../core/hosts/profile.ts';
import type { SignInState, SignInStep, SignInTold, SignInWay } from '../../core/hosts/sign-in.ts';
import { refuse } from '../../core/refusal.ts';
import { seal, unseal } from '../access/secrets.ts';
import type { Reach } from '../broadcast/reach.ts';
import type { Db } from '../db/database.ts';
import { hostSignIns } from '../db/schema.ts';
import { log } from '../log.ts';
import { FreshReads } from '../nodes/fresh-reads.ts';
import { NO_NEWS, type News } from '../nodes/news.ts';
import { HostRefuses, OAuthHost, type CodeAttempt, type DeviceAttempt, type Tokens } from './oauth.ts';

export const MOST_HOSTS = 30;
/** A token is renewed when less than this is left of it. */
const RENEW_BEFORE_MS = 30_000;
/** Somebody signs in at the host within this. */
const ATTEMPT_MS = 15 * 60_000;
const NEWS = 'hostSignIns';
const SLOW_DOWN_MS = 5000;
const NOTHING: Tokens = { accessToken: '', refreshToken: '', expiresAt: null };

/** What is under way at a host. */
type Attempt =
	| { way: 'browser'; attempt: CodeAttempt; redirectUri: string; endsAt: number }
	| { way: 'code'; attempt: DeviceAttempt; timer: NodeJS.Timeout | undefined };

interface Known {
	profile: HostProfile;
	tokens: Tokens;
	state: SignInState;
	problem: string;
	attempt: Attempt | null;
	/** A renewal that is under way, so that a token is renewed once. */
	renewing: Promise<string> | null;
}

export class SignIns {
	readonly #db: Db;
	readonly #key: Buffer;
	readonly reach: Reach;
	readonly #known = new Map<string, Known>();
	readonly #reads = new FreshReads();

	readonly #news: News;

	private constructor(db: Db, key: Buffer, reach: Reach, news: News) {
		this.#db = db;
		this.#key = key;
		this.reach = reach;
		this.#news = news;
	}

	/** @param key that seals tokens */
	static async open(db: Db, key: Buffer, reach: Reach, news = NO_NEWS): Promise<SignIns> {
		const all = new SignIns(db, key, reach, news);
		news.follow(NEWS, () => all.#read());
		await all.#read();
		return all;
	}

	/** Reads what is stored. What is under way here goes on. */
	#read(): Promise<void> {
		return this.#reads.read(
			() => this.#db.select().from(hostSignIns),
			(rows) => this.#take(rows),
		);
	}

	#take(rows: (typeof hostSignIns.$inferSelect)[]): void {
		for (const [id, known] of this.#known)
			if (!rows.some((row) => row.id === id)) {
				this.#forgetAttempt(known);
				this.#known.delete(id);
			}
		for (const { id, profile, sealed, state } of rows) {
			const read = v.safeParse(profileSchema, profile);
			if (!read.success) {
				log.warn({ host: id }, 'What is known of a host cannot be read; it is left out');
				continue;
			}
			const stored = this.#unsealed(id, read.output, sealed, state);
			const known = this.#known.get(id);
			if (!known) this.#known.set(id, { ...stored, attempt: null, renewing: null });
			else if (known.attempt === null) Object.assign(known, stored);
			else known.tokens = stored.tokens;
		}
	}

	#unsealed(id: string, profile: HostProfile, sealed: string, state: SignInState) {
		try {
			const { clientSecret, ...tokens } = JSON.parse(unseal(this.#key, sealed, boundTo(id, profile))) as Tokens & {
				clientSecret: string;
			};
			return { profile: { ...profile, clientSecret }, tokens, state, problem: '' };
		} catch (err) {
			log.error({ host: id, err }, 'What is sealed of a host does not belong to it');
			return { profile, tokens: { ...NOTHING }, state: 'signInAgain' as const, problem: '' };
		}
	}

	get list(): SignInTold[] {
		return [...this.#known].map(([id, known]) => told(id, known));
	}

	/** @throws {Refusal} when there is none */
	get(id: string): SignInTold {
		return told(id, this.#of(id));
	}

	has(id: string): boolean {
		return this.#known.has(id);
	}

	profileOf(id: string): HostProfile {
		return this.#of(id).profile;
	}

	#of(id: string): Known {
		const known = this.#known.get(id);
		if (!known) throw refuse('gone', { what: 'host' });
		return known;
	}

	/** Makes a host known. @throws {Refusal} when there are too many */
	async add(profile: HostProfile): Promise<string> {
		if (this.#known.size >= MOST_HOSTS) throw refuse('tooMany', { what: 'host', most: MOST_HOSTS });
		const id = randomUUID();
		const known: Known = {
			...{ profile, tokens: { ...NOTHING }, state: 'signInAgain', problem: '' },
			...{ attempt: null, renewing: null },
		};
		this.#known.set(id, known);
		await this.#store(id, known);
		return id;
	}

	async #store(id: string, known: Known): Promise<void> {
		const { profile, tokens, state } = known;
		// What a host answers may come after it was forgotten.
		if (this.#known.get(id) !== known) return void (await this.#hostOf(known).revoke(tokens));
		const { clientSecret, ...open } = profile;
		const sealed = seal(this.#key, JSON.stringify({ ...tokens, clientSecret }), boundTo(id, profile));
		const row = { id, profile: open, sealed, state: state === 'waiting' ? ('signInAgain' as const) : state };
		await this.#reads.write(id, () => this.#db.insert(hostSignIns).values(row).onDuplicateKeyUpdate({ set: row }));
		this.#news.tell(NEWS, id);
	}

	/** Begins to sign in. @param redirectUri where the host sends a browser back to. @throws with a sentence */
	async begin(id: string, way: SignInWay, redirectUri: string): Promise<SignInStep> {
		const known = this.#of(id);
		this.#forgetAttempt(known);
		const host = this.#hostOf(known);
		if (way === 'browser') {
			const attempt = await host.begin(redirectUri);
			known.attempt = { way, attempt, redirectUri, endsAt: Date.now() + ATTEMPT_MS };
			known.state = 'waiting';
			known.problem = '';
			return { way, url: attempt.url };
		}
		const attempt = await sayingWhy(host.beginDevice());
		known.attempt = { way, attempt, timer: undefined };
		known.state = 'waiting';
		known.problem = '';
		this.#pollLater(id, known, attempt.intervalMs);
		return { way, code: attempt.userCode, url: attempt.url, expiresAt: attempt.expiresAt };
	}

	#hostOf({ profile }: Known): OAuthHost {
		return new OAuthHost(profile, this.reach);
	}

	#forgetAttempt(known: Known): void {
		if (known.attempt?.way === 'code') clearTimeout(known.attempt.timer);
		known.attempt = null;
	}

	/** A browser has come back. @returns the host whose attempt it belongs to; null for nobody's */
	async finish(answer: URLSearchParams): Promise<SignInTold | null> {
		const state = answer.get('state') ?? '';
		const found = [...this.#known].find(([, { attempt }]) => {
			return attempt?.way === 'browser' && attempt.attempt.state === state && attempt.endsAt > Date.now();
		});
		if (!found || found[1].attempt?.way !== 'browser') return null;
		const [id, known] = found;
		const { attempt, redirectUri } = found[1].attempt;
		known.attempt = null;
		await this.#settle(id, known, this.#hostOf(known).finish(answer, attempt, redirectUri));
		return told(id, known);
	}

	/** Keeps what a host has given, or why it has given nothing. */
	async #settle(id: string, known: Known, given: Promise<Tokens>): Promise<void> {
		try {
			known.tokens = await given;
			known.state = 'signedIn';
			known.problem = '';
		} catch (error) {
			known.state = known.tokens.accessToken === '' ? 'signInAgain' : 'signedIn';
			known.problem = error instanceof HostRefuses ? whyRefused(error) : (error as Error).message;
		}
		await this.#store(id, known);
	}

	#pollLater(id: string, known: Known, intervalMs: number): void {
		if (known.attempt?.way !== 'code') return;
		const { attempt } = known.attempt;
		const timer = setTimeout(() => void this.#poll(id, known, attempt, intervalMs), intervalMs);
		timer.unref();
		known.attempt.timer = timer;
	}

	/** Asks whether somebody has typed the code (RFC 8628, section 3.4). */
	async #poll(id: string, known: Known, attempt: DeviceAttempt, intervalMs: number): Promise<void> {
		const isNow = () => known.attempt?.way === 'code' && known.attempt.attempt === attempt;
		const asked = this.#hostOf(known).pollDevice(attempt);
		const waits = await asked.then(
			() => null,
			(error: unknown) => {
				const code = error instanceof HostRefuses ? error.code : '';
				if (code === 'slow_down') return intervalMs + SLOW_DOWN_MS;
				// A host that is away for a moment is asked again (section 3.5).
				const isOn = code === 'authorization_pending' || !(error instanceof HostRefuses);
				return isOn && Date.now() < attempt.expiresAt ? intervalMs : null;
			},
		);
		if (!isNow()) return;
		if (waits !== null) return this.#pollLater(id, known, waits);
		known.attempt = null;
		await this.#settle(id, known, asked).catch((err: unknown) => log.error({ err }, 'A sign-in is not stored'));
	}

	/**
	 * A token that is good now; renewed where it is about to end.
	 * @param refused one that the host has just refused
	 * @throws with a sentence when somebody has to sign in again, or the host does not answer
	 */
	async tokenOf(id: string, refused = ''): Promise<string> {
		const known = this.#of(id);
		const { accessToken, expiresAt } = known.tokens;
		const isGood =
			accessToken !== '' && accessToken !== refused && (expiresAt ?? Infinity) - Date.now() > RENEW_BEFORE_MS;
		if (isGood) return accessToken;
		known.renewing ??= this.#renew(id, known).finally(() => (known.renewing = null));
		return known.renewing;
	}

	async #renew(id: string, known: Known): Promise<string> {
		const { tokens } = known;
		const { refreshToken } = tokens;
		const again = () => new Error(`Sign in to ${known.profile.name} again: it has taken back what it had allowed.`);
		if (refreshToken === '') {
			await this.#lose(id, known);
			throw again();
		}
		try {
			const renewed = await this.#hostOf(known).refresh(refreshToken);
			// Somebody has signed in anew meanwhile.
			if (known.tokens !== tokens) return known.tokens.accessToken;
			known.tokens = renewed;
			known.state = 'signedIn';
			await this.#store(id, known);
			return known.tokens.accessToken;
		} catch (error) {
			if (!(error instanceof HostRefuses)) throw error;
			// Another node may have renewed it at the same time: then this one has shown what was good before.
			await this.#read();
			if (known.tokens.refreshToken !== refreshToken) return known.tokens.accessToken;
			await this.#lose(id, known);
			throw again();
		}
	}

	/** What was allowed is taken back. */
	async #lose(id: string, known: Known): Promise<void> {
		known.tokens = { ...NOTHING };
		known.state = 'signInAgain';
		await this.#store(id, known);
	}

	/** Signs out and forgets the host; its tokens are given back to it. */
	async remove(id: string): Promise<void> {
		const known = this.#of(id);
		this.#forgetAttempt(known);
		this.#known.delete(id);
		await this.#reads.write(id, () => this.#db.delete(hostSignIns).where(eq(hostSignIns.id, id)));
		this.#news.tell(NEWS, id, true);
		await this.#hostOf(known).revoke(known.tokens);
	}

	close(): void {
		for (const known of this.#known.values()) this.#forgetAttempt(known);
	}
}

/** Tokens open for this host only, while its profile leads to where they came from. */
function boundTo(id: string, { tokenUrl, apiUrl }: HostProfile): string {
	return JSON.stringify(['host', id, new URL(tokenUrl).origin, new URL(apiUrl).origin]);
}

function told(id: string, { profile, state, problem }: Known): SignInTold {
	const ways: SignInWay[] = [];
	if (profile.authorizationUrl !== null) ways.push('browser');
	if (profile.deviceUrl !== null) ways.push('code');
	return { id, name: profile.name, state, ways, problem };
}

const sayingWhy = <T>(asked: Promise<T>): Promise<T> =>
	asked.catch((error: unknown) => {
		throw error instanceof HostRefuses ? new Error(whyRefused(error)) : error;
	});

function whyRefused({ code }: HostRefuses): string {
	if (code === 'access_denied') return 'Nothing was allowed at the host.';
	if (code === 'expired_token') return 'The code was not typed in time. Begin again.';
	if (code === 'invalid_client' || code === 'unauthorized_client')
		return 'The host does not know this program. Check the client ID and its secret.';
	if (code === 'invalid_scope') return 'The host does not know what is asked for. Check the scope.';
	return `The host has refused (${code.replace(/[^\w -]/g, '')}).`;
}
