/** Links for guests, and for people who only look: each for one event, for some time, for some uses. */
import { randomUUID } from 'node:crypto';
import type { AnyRole } from '../../core/access/roles.ts';
import { refuse } from '../../core/refusal.ts';
import type { Db } from '../db/database.ts';
import { links } from '../db/schema.ts';
import { NO_NEWS } from '../nodes/news.ts';
import { differIn, Kept } from './kept.ts';
import { hashOf, newLinkSecret } from './tokens.ts';

/** Roles that a link may give. */
export const LINK_ROLES = ['guest', 'viewer'] as const satisfies readonly AnyRole[];

export type Link = typeof links.$inferSelect;

export interface LinkOrder {
	eventId: string;
	name: string;
	role: (typeof LINK_ROLES)[number];
	/** Milliseconds since 1970. */
	expiresAt: number;
	uses: number;
}

export class Links {
	readonly #kept: Kept<typeof links>;

	private constructor(kept: Kept<typeof links>) {
		this.#kept = kept;
	}

	static async open(db: Db, news = NO_NEWS): Promise<Links> {
		return new Links(await Kept.open(db, links, news));
	}

	/** @param listener told of each that opens something else now, by another node's doing */
	onChanged(listener: (id: string) => void): void {
		this.#kept.onChanged = (before, now) => {
			if (differIn(['role', 'revokedAt', 'expiresAt'], before, now)) listener((now ?? before)!.id);
		};
	}

	/** Reads one that is not known here: another node may have made it a moment ago. */
	lookUp(id: string): Promise<void> {
		return this.#kept.lookUpId(id);
	}

	/** Whoever came by it is let in until it expires or is revoked. */
	get(id: string): Link | null {
		const link = this.#kept.get(id);
		return link && link.revokedAt === null && link.expiresAt > Date.now() ? link : null;
	}

	/** Of an event, those that were not revoked, the newest first. */
	of(eventId: string): Link[] {
		const there = this.#kept.all.filter((link) => link.eventId === eventId && link.revokedAt === null);
		return there.toSorted((a, b) => b.createdAt - a.createdAt);
	}

	/** @returns the secret, which is told once */
	async make({ eventId, name, role, expiresAt, uses }: LinkOrder): Promise<{ link: Link; secret: string }> {
		const secret = newLinkSecret();
		const row = { id: randomUUID(), hash: hashOf(secret), eventId, name, role, createdAt: Date.now(), expiresAt };
		const link = await this.#kept.add({ ...row, usesLeft: uses, uses: 0, revokedAt: null });
		return { link, secret };
	}

	/** The link of a secret, also one that has been opened as often as it may. @throws {Refusal} when it is over */
	look(secret: string): Link {
		const link = this.#kept.all.find(({ hash }) => hash === hashOf(secret));
		if (!link) throw refuse('linkGone', { why: 'unknown' });
		if (link.revokedAt !== null) throw refuse('linkGone', { why: 'revoked' });
		if (link.expiresAt <= Date.now()) throw refuse('linkGone', { why: 'expired' });
		return link;
	}

	/** Opens a link once. @throws {Refusal} when it opens nothing any more */
	async use(secret: string): Promise<Link> {
		const link = this.look(secret);
		if (link.usesLeft <= 0) throw refuse('linkGone', { why: 'used' });
		await this.#kept.change(link.id, { usesLeft: link.usesLeft - 1, uses: link.uses + 1 });
		return this.#kept.get(link.id)!;
	}

	/** Another link in place of this one, for the same; the former opens nothing any more. */
	async renew(id: string): Promise<{ link: Link; secret: string } | null> {
		const link = this.#kept.get(id);
		if (!link) return null;
		await this.revoke(id);
		const { eventId, name, role, expiresAt, usesLeft, uses } = link;
		return this.make({ eventId, name, role: role as LinkOrder['role'], expiresAt, uses: Math.max(1, usesLeft + uses) });
	}

	async revoke(id: string): Promise<void> {
		await this.#kept.change(id, { revokedAt: Date.now() });
	}
}
