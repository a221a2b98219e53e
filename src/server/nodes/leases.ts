/**
 * The leases of one node: which events are its own, and for how long it may act as if they were. Times are the
 * database's; how long a lease still lasts here is counted from before the database was asked, so that it ends here
 * no later than there.
 */
import { and, eq, gt, inArray, lt, or, sql } from 'drizzle-orm';
import { ORGANISATION } from '../../core/nodes/lease-of.ts';
import type { Db } from '../db/database.ts';
import { eventLeases } from '../db/schema.ts';
import { log } from '../log.ts';
import { again, type Fence } from './fence.ts';

/** A lease that has not been renewed for so long is free. */
export const LEASE_MS = 4000;
export const RENEW_EVERY_MS = 1000;
/** How soon what has run out is let go of; `holds` knows it at once, also in a process that stood still. */
const LOOK_EVERY_MS = 200;
/** Without the database for so long, a node asks the others how they do; what they say counts for so long. */
const ASKS_AFTER_MS = 2200;
/** With the time that asking takes it is shorter than the grace of nodes whose database is back (registry.ts). */
const GOES_ON_MS = 2800;
/** A database that answers sooner has renewed them then: it need not be asked how long they last. */
const AT_ONCE_MS = 300;
/** A node lets go of what it could not renew so long before another one may take it. */
const LETS_GO_BEFORE_MS = 500;
/** When a lease ended that its node has given back, or that nobody had yet. */
const GIVEN_BACK = 0;

/** Milliseconds since 1970 by the database's clock. */
export const DATABASE_NOW = sql<number>`cast(unix_timestamp(now(3)) * 1000 as signed)`;

interface Held {
	fence: number;
	/** By performance.now(). */
	until: number;
}

export type Acquired = { is: 'own'; fence: NonNullable<Fence> } | { is: 'another'; node: string } | { is: 'none' };

export class Leases {
	readonly #db: Db;
	readonly #node: string;
	readonly #held = new Map<string, Held>();
	#renewal: ReturnType<typeof renewalOf> | null = null;
	readonly #acquiring = new Map<string, Promise<Acquired>>();
	#timers: NodeJS.Timeout[] = [];
	#renewing: Promise<void> | null = null;
	/** Called once for each lease that has ended without being given back. */
	onLost: (eventId: string) => void = () => {};
	/** Asked while leases are not renewed: whether nobody else can take them either, since the database is gone for all. */
	mayGoOn: () => Promise<boolean> = () => Promise.resolve(false);
	/** True for a moment after the database was away: its owners go first, and renew what they have. */
	isGrace: () => boolean = () => false;
	#renewedAt = performance.now();
	#asking: Promise<void> | null = null;
	#aloneUntil = 0;

	/** @param node id of this process; another one after each start */
	constructor(db: Db, node: string) {
		this.#db = db;
		this.#node = node;
	}

	/** Renews from now on; and forgets those of events that are gone. */
	begin(): void {
		this.#timers = [
			setInterval(() => this.#renewAll(), RENEW_EVERY_MS),
			setInterval(() => this.#dropExpired(), LOOK_EVERY_MS),
		];
		this.#db
			.execute(
				sql`delete from event_leases where event_id <> ${ORGANISATION} and expires_at < ${DATABASE_NOW} and event_id not in (select id from events)`,
			)
			.catch((error: unknown) => log.warn({ err: error }, 'Leases of events that are gone stay'));
	}

	/** Events that this node may act for now. */
	get own(): string[] {
		return [...this.#held.keys()].filter((eventId) => this.holds(eventId));
	}

	/** True while the database is gone for all nodes, and this one goes on with what it has. */
	get goesOnAlone(): boolean {
		return this.#aloneUntil > performance.now();
	}

	/** True while no other node can own an event. */
	holds(eventId: string): boolean {
		return (this.#held.get(eventId)?.until ?? 0) > performance.now();
	}

	/**
	 * Takes an event that is free, or says whose it is. What this node has already stays as it is.
	 * @returns `none` when there is no such event
	 */
	acquire(eventId: string): Promise<Acquired> {
		// Asked for twice at once it is taken once: the second fence would make the first one old.
		const acquiring =
			this.#acquiring.get(eventId) ??
			again(() => this.#acquire(eventId)).finally(() => this.#acquiring.delete(eventId));
		this.#acquiring.set(eventId, acquiring);
		return acquiring;
	}

	async #acquire(eventId: string): Promise<Acquired> {
		const held = this.#held.get(eventId);
		if (held && this.holds(eventId)) return { is: 'own', fence: { eventId, number: held.fence } };
		const asked = performance.now();
		const row = (await this.#rowOf(eventId)) ?? (await this.#newRowOf(eventId));
		if (!row) return { is: 'none' };
		// One of its own that has run out is a new one: what was begun under it may have been given up.
		const mayBeRenewed = !row.isFree || (row.expiresAt !== GIVEN_BACK && this.isGrace());
		if (mayBeRenewed && row.node !== this.#node) return { is: 'another', node: row.node };
		const fence = row.fence + 1;
		// Its owner may have renewed it since.
		const mayTake = or(eq(eventLeases.node, this.#node), lt(eventLeases.expiresAt, DATABASE_NOW));
		const [{ affectedRows }] = await this.#db
			.update(eventLeases)
			.set({ node: this.#node, fence, expiresAt: sql`${DATABASE_NOW} + ${LEASE_MS}` })
			.where(and(eq(eventLeases.eventId, eventId), eq(eventLeases.fence, row.fence), mayTake));
		if (affectedRows !== 1) return this.#acquire(eventId);
		this.#held.set(eventId, { fence, until: asked + LEASE_MS - LETS_GO_BEFORE_MS });
		return { is: 'own', fence: { eventId, number: fence } };
	}

	async #rowOf(eventId: string) {
		const [row] = await this.#db
			.select({
				node: eventLeases.node,
				fence: eventLeases.fence,
				expiresAt: eventLeases.expiresAt,
				isFree: sql<number>`${eventLeases.expiresAt} < ${DATABASE_NOW}`,
			})
			.from(eventLeases)
			.where(eq(eventLeases.eventId, eventId));
		return row;
	}

	async #newRowOf(eventId: string) {
		await this.#db.execute(
			eventId === ORGANISATION
				? sql`insert ignore into event_leases (event_id, node, fence, expires_at) values (${ORGANISATION}, '', 0, 0)`
				: sql`insert ignore into event_leases (event_id, node, fence, expires_at) select id, '', 0, 0 from events where id = ${eventId}`,
		);
		return this.#rowOf(eventId);
	}

	/** Gives an event back, so that another node can take it at once. */
	async release(eventId: string): Promise<void> {
		const held = this.#held.get(eventId);
		if (!held) return;
		this.#held.delete(eventId);
		await this.#db
			.update(eventLeases)
			.set({ expiresAt: GIVEN_BACK })
			.where(and(eq(eventLeases.eventId, eventId), eq(eventLeases.fence, held.fence)));
	}

	/** Whose an event is now; null for nobody's. */
	async ownerOf(eventId: string): Promise<string | null> {
		const [row] = await this.#db
			.select({ node: eventLeases.node })
			.from(eventLeases)
			.where(and(eq(eventLeases.eventId, eventId), gt(eventLeases.expiresAt, DATABASE_NOW)));
		return row?.node ?? null;
	}

	#renewAll(): void {
		this.#renewing ??= this.#renew()
			.catch((error: unknown) => log.warn({ err: error }, 'Leases are not renewed'))
			.finally(() => {
				this.#renewing = null;
				this.#dropExpired();
			});
	}

	/** All in one statement, whatever their number; also one that has run out, and that nobody has taken. */
	async #renew(): Promise<void> {
		const ids = [...this.#held.keys()];
		if (ids.length === 0) return void (this.#renewedAt = performance.now());
		const of = ids.join(' ');
		if (this.#renewal?.of !== of) this.#renewal = renewalOf(this.#db, this.#node, ids);
		const { renewed: stored, renew } = this.#renewal;
		const began = performance.now();
		const [{ affectedRows }] = await renew.execute();
		// It answers again: what is written now waits for it.
		this.#aloneUntil = 0;
		if (affectedRows === ids.length && performance.now() - began < AT_ONCE_MS) {
			this.#renewedAt = began;
			for (const id of ids) {
				const held = this.#held.get(id);
				if (held) held.until = Math.max(held.until, began + LEASE_MS - LETS_GO_BEFORE_MS);
			}
			return;
		}
		// One of them is another node's, or a database that stood still has renewed them later than it was asked to: how long
		// they last is asked after that.
		const asked = performance.now();
		const rows = await stored.execute();
		this.#renewedAt = asked;
		const renewed = new Map(rows.map((row) => [row.eventId, row]));
		for (const id of ids) {
			const held = this.#held.get(id);
			const row = renewed.get(id);
			if (!held) continue;
			if (row?.fence === held.fence) held.until = asked + Number(row.leftMs) - LETS_GO_BEFORE_MS;
			else this.#lose(id);
		}
	}

	/** Others cannot take what the database does not give them: then this node goes on with what it has. */
	#askOthers(): void {
		if (this.#held.size === 0 || performance.now() - this.#renewedAt < ASKS_AFTER_MS) return;
		const renewedAt = this.#renewedAt;
		this.#asking ??= this.mayGoOn()
			.then((may) => {
				const until = performance.now() + GOES_ON_MS;
				// The database may have answered while others were asked.
				if (!may || this.#renewedAt !== renewedAt) return;
				this.#aloneUntil = until;
				for (const held of this.#held.values()) held.until = Math.max(held.until, until);
			})
			.catch((error: unknown) => log.warn({ err: error }, 'Other nodes could not be asked'))
			.finally(() => (this.#asking = null));
	}

	/** The clock that counts does not stand still while the process does. */
	#dropExpired(): void {
		this.#askOthers();
		for (const eventId of this.#held.keys()) if (!this.holds(eventId)) this.#lose(eventId);
	}

	/** Forgets a lease that a write has shown to be old: another node has followed before this one was to renew it. */
	dropOld({ eventId, number }: NonNullable<Fence>): void {
		if (this.#held.get(eventId)?.fence === number) this.#lose(eventId);
	}

	#lose(eventId: string): void {
		this.#held.delete(eventId);
		log.error({ event: eventId }, 'The event belongs to this node no longer');
		this.onLost(eventId);
	}

	/** Gives all back. */
	async close(): Promise<void> {
		for (const timer of this.#timers) clearInterval(timer);
		await Promise.all([this.#renewing, this.#asking]);
		for (const eventId of [...this.#held.keys()])
			await this.release(eventId).catch((error: unknown) => log.warn({ event: eventId, err: error }, 'A lease stays'));
	}
}

/** The statements of each second, built once for the same events: building them takes longer than the database does. */
function renewalOf(db: Db, node: string, ids: readonly string[]) {
	const own = and(eq(eventLeases.node, node), inArray(eventLeases.eventId, ids));
	// What was given back while it was to be renewed stays so: the next node would wait for it.
	const stillHeld = and(own, gt(eventLeases.expiresAt, GIVEN_BACK));
	const leftMs = sql<number>`${eventLeases.expiresAt} - ${DATABASE_NOW}`;
	return {
		of: ids.join(' '),
		renew: db
			.update(eventLeases)
			.set({ expiresAt: sql`${DATABASE_NOW} + ${LEASE_MS}` })
			.where(stillHeld)
			.prepare(),
		renewed: db
			.select({ eventId: eventLeases.eventId, fence: eventLeases.fence, leftMs })
			.from(eventLeases)
			.where(and(own, gt(eventLeases.expiresAt, DATABASE_NOW)))
			.prepare(),
	};
}
