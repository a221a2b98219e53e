/** Tokens of other programs: each has a role, at one event or at all, until it is taken back. */
import { randomUUID } from 'node:crypto';
import { eq } from 'drizzle-orm';
import type { Role } from '../../core/access/roles.ts';
import type { Db } from '../db/database.ts';
import { programTokens } from '../db/schema.ts';
import { NO_NEWS } from '../nodes/news.ts';
import { Kept } from '../access/kept.ts';
import { hashOf, newSecret } from '../access/tokens.ts';

export type ProgramToken = typeof programTokens.$inferSelect;

/** By which a token is known for one, also by whoever finds it where it should not be. */
const PREFIX = 'bivvo_';
/** When a token was used last is written down no more often. */
const NOTED_EVERY_MS = 60_000;

export class ProgramTokens {
	readonly #kept: Kept<typeof programTokens>;
	/** By hash. */
	readonly #byHash = new Map<string, string>();

	private constructor(kept: Kept<typeof programTokens>) {
		this.#kept = kept;
		for (const { id, hash } of kept.all) this.#byHash.set(hash, id);
		kept.onChanged = (_, now) => now && this.#byHash.set(now.hash, now.id);
	}

	static async open(db: Db, news = NO_NEWS): Promise<ProgramTokens> {
		return new ProgramTokens(await Kept.open(db, programTokens, news));
	}

	/** Those that were not taken back, the newest first. */
	get list(): ProgramToken[] {
		const there = this.#kept.all.filter(({ revokedAt }) => revokedAt === null);
		return there.toSorted((a, b) => b.createdAt - a.createdAt);
	}

	get(id: string): ProgramToken | null {
		const token = this.#kept.get(id);
		return token?.revokedAt === null ? token : null;
	}

	/** @returns the secret, which is told once */
	async make(
		name: string,
		role: Role,
		eventId: string | null,
		by: string,
	): Promise<{ token: ProgramToken; secret: string }> {
		const secret = PREFIX + newSecret();
		const row = { id: randomUUID(), hash: hashOf(secret), name, role, eventId, createdBy: by, createdAt: Date.now() };
		const token = await this.#kept.add({ ...row, usedAt: null, revokedAt: null });
		this.#byHash.set(token.hash, token.id);
		return { token, secret };
	}

	/** The token of a header `Authorization: Bearer …`; null for none that is good. */
	async find(authorization: string | undefined): Promise<ProgramToken | null> {
		const secret = /^Bearer ([\w-]{10,100})$/i.exec(authorization ?? '')?.[1];
		if (!secret?.startsWith(PREFIX)) return null;
		const hash = hashOf(secret);
		// It may have been made at another node a moment ago.
		if (!this.#byHash.has(hash)) await this.#kept.lookUp(eq(programTokens.hash, hash));
		const token = this.get(this.#byHash.get(hash) ?? '');
		if (token && Date.now() - (token.usedAt ?? 0) > NOTED_EVERY_MS)
			void this.#kept.change(token.id, { usedAt: Date.now() }).catch(() => {});
		return token;
	}

	async revoke(id: string): Promise<void> {
		await this.#kept.change(id, { revokedAt: Date.now() });
	}
}
