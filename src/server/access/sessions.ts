/** Who is signed in. A session's secret is in a cookie of its browser; here is its hash only. */
import { randomUUID } from 'node:crypto';
import { eq } from 'drizzle-orm';
import type { Db } from '../db/database.ts';
import { sessions } from '../db/schema.ts';
import { log } from '../log.ts';
import { NO_NEWS } from '../nodes/news.ts';
import { Kept } from './kept.ts';
import { hashOf, newSecret } from './tokens.ts';

const DAY_MS = 86_400_000;
/** How long a session lasts that nobody uses; each use begins it anew. */
const LASTS_MS = { person: 30 * DAY_MS, device: 180 * DAY_MS, link: 2 * DAY_MS } as const;
/** After this time a session gets another secret. */
const RENEWED_EVERY_MS = DAY_MS;
/** The secret before is taken for so long once the new one has been used; requests cross. */
const CROSSING_MS = 60_000;
/** When somebody was seen last is written down this often. */
const SEEN_EVERY_MS = 5 * 60_000;

export type SessionKind = keyof typeof LASTS_MS;
export type Session = typeof sessions.$inferSelect;

/** Where a session is opened from. */
export interface From {
	address: string;
	/** What the browser calls itself. */
	agent: string;
}

export class Sessions {
	readonly #kept: Kept<typeof sessions>;
	/** Of each secret that is taken, its session's id. */
	readonly #byHash = new Map<string, string>();
	readonly #listeners = new Set<(id: string) => void>();

	private constructor(kept: Kept<typeof sessions>) {
		this.#kept = kept;
		for (const session of kept.all) this.#know(session);
		kept.onChanged = (before, now) => {
			if (before) this.#forget(before);
			if (now) this.#know(now);
			else for (const listener of this.#listeners) listener(before!.id);
		};
	}

	#know({ id, hash, formerHash }: Session): void {
		this.#byHash.set(hash, id);
		if (formerHash) this.#byHash.set(formerHash, id);
	}

	#forget({ hash, formerHash }: Session): void {
		this.#byHash.delete(hash);
		if (formerHash) this.#byHash.delete(formerHash);
	}

	static async open(db: Db, news = NO_NEWS): Promise<Sessions> {
		return new Sessions(await Kept.open(db, sessions, news));
	}

	/** @param name of who has no account: as they call themselves */
	async begin(kind: SessionKind, subjectId: string, { address, agent }: From, name = ''): Promise<string> {
		const secret = newSecret();
		const now = Date.now();
		const session: Session = {
			id: randomUUID(),
			hash: hashOf(secret),
			formerHash: null,
			formerUntil: 0,
			kind,
			subjectId,
			name,
			createdAt: now,
			renewedAt: now,
			seenAt: now,
			expiresAt: now + LASTS_MS[kind],
			address,
			agent: agent.slice(0, 255),
		};
		await this.#kept.add(session);
		this.#byHash.set(session.hash, session.id);
		return secret;
	}

	/**
	 * The session that a secret opens; null for none, or one that is over.
	 * @param mayRenew true when a new secret can be given to whoever asks
	 * @returns `renewed`: the secret to be used from now on, where it is another one
	 */
	find(
		secret: string,
		{ address }: Pick<From, 'address'>,
		mayRenew: boolean,
	): { session: Session; renewed: string | null } | null {
		const hash = hashOf(secret);
		const session = this.#kept.get(this.#byHash.get(hash) ?? '');
		if (!session) return null;
		const now = Date.now();
		const isFormer = session.hash !== hash;
		if (now > session.expiresAt || (isFormer && now > session.formerUntil)) {
			// Somebody has a secret that was replaced long ago: whoever has the new one may have stolen it.
			void this.end(session.id).catch((error: unknown) =>
				log.warn({ err: error }, 'A session is ended in memory only'),
			);
			return null;
		}
		if (!isFormer && session.formerHash && session.formerUntil > now + CROSSING_MS)
			this.#note(session.id, { formerUntil: now + CROSSING_MS });
		if (now - session.seenAt > SEEN_EVERY_MS)
			this.#note(session.id, { seenAt: now, expiresAt: now + LASTS_MS[session.kind], address });
		const renewed =
			mayRenew && !isFormer && now - session.renewedAt > RENEWED_EVERY_MS ? this.#renew(session, now) : null;
		return { session: this.#kept.get(session.id)!, renewed };
	}

	/** Reads the session of a secret that is not known here: it may have been begun at another node a moment ago. */
	async lookUp(secret: string): Promise<void> {
		const hash = hashOf(secret);
		if (!this.#byHash.has(hash)) await this.#kept.lookUp(eq(sessions.hash, hash));
	}

	/** Until the new secret is used, which may be lost on its way, the one before is taken as well. */
	#renew(session: Session, now: number): string {
		const secret = newSecret();
		const hash = hashOf(secret);
		if (session.formerHash) this.#byHash.delete(session.formerHash);
		this.#byHash.set(hash, session.id);
		this.#note(session.id, {
			hash,
			formerHash: session.hash,
			formerUntil: now + LASTS_MS[session.kind],
			renewedAt: now,
		});
		return secret;
	}

	#note(id: string, part: Partial<Session>): void {
		this.#kept.change(id, part).catch((error: unknown) => log.warn({ err: error }, 'A session is not written down'));
	}

	list(kind: SessionKind, subjectId: string): Session[] {
		const now = Date.now();
		return this.#kept.all.filter((each) => each.kind === kind && each.subjectId === subjectId && each.expiresAt > now);
	}

	get(id: string): Session | undefined {
		return this.#kept.get(id);
	}

	/** Ends one; its sockets are closed at once. */
	async end(id: string): Promise<void> {
		const session = this.#kept.get(id);
		if (!session) return;
		this.#forget(session);
		const removed = this.#kept.remove(id);
		for (const listener of this.#listeners) listener(id);
		await removed;
	}

	/** Ends all of a person, a device or a link. @param but one that goes on */
	async endAll(kind: SessionKind, subjectId: string, but: string | null = null): Promise<void> {
		const ended = this.list(kind, subjectId).filter(({ id }) => id !== but);
		await Promise.all(ended.map(({ id }) => this.end(id)));
	}

	/** Forgets those that are over. */
	async tidy(): Promise<void> {
		const now = Date.now();
		for (const { id, expiresAt } of this.#kept.all) if (expiresAt < now) await this.end(id);
	}

	/** Calls somebody with the id of each session that ends. */
	onEnd(listener: (id: string) => void): void {
		this.#listeners.add(listener);
	}
}
