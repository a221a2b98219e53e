/**
 * Looks for events that nobody has, and of which something is on air or due by itself: one of the nodes follows. So it does
 * for what belongs to the organisation.
 */
import { isNotNull, or, eq, lt, isNull, and } from 'drizzle-orm';
import * as v from 'valibot';
import { ORGANISATION } from '../../core/nodes/lease-of.ts';
import type { Db } from '../db/database.ts';
import { eventLeases, events } from '../db/schema.ts';
import { Elsewhere, type EventDirectory } from '../live/directory.ts';
import { log } from '../log.ts';
import type { Bus } from './bus.ts';
import type { Cluster } from './cluster.ts';
import { DATABASE_NOW, type Leases } from './leases.ts';

const LOOK_EVERY_MS = 1000;
/** While a node that should be heard of is silent, or something waits for its turn. */
const SOON_MS = 200;
/** What belongs to the organisation waits longer: nothing of it is on air. */
const ORGANISATION_EVERY_MS = 4000;
/** On the bus: a node has given something away. */
export const FREE = 'free';
/** On the bus: a node has opened an event. */
export const TAKEN = 'taken';
/** Whoever has given an event away waits no longer for another node to have it. */
const TAKING_MS = 3000;
const takenSchema = v.object({ eventId: v.string() });

/** Resolves when another node has opened an event, or it takes too long. */
export function whenTaken(bus: Pick<Bus, 'subscribe'>, eventId: string): Promise<void> {
	return new Promise((resolve) => {
		const done = () => {
			clearTimeout(timer);
			unsubscribe();
			resolve();
		};
		const timer = setTimeout(done, TAKING_MS);
		const unsubscribe = bus.subscribe(TAKEN, (message) => {
			const read = v.safeParse(takenSchema, message);
			if (read.success && read.output.eventId === eventId) done();
		});
	});
}

export class TakeOver {
	readonly #withoutOwner: ReturnType<typeof withoutOwner>;
	readonly #events: EventDirectory;
	readonly #leases: Leases;
	readonly #cluster: Pick<Cluster, 'isFollower' | 'isSomeoneSilent' | 'bus'>;
	/** Since when nobody has them, by performance.now(). */
	readonly #free = new Map<string, number>();
	#timer: NodeJS.Timeout | undefined;
	readonly #unsubscribe: () => void;
	#looking: Promise<void> | null = null;
	#isToldMeanwhile = false;
	#isClosed = false;
	#organisationSeenAt = -Infinity;

	/** @param db that is asked for nothing else */
	constructor(
		db: Db,
		events: EventDirectory,
		leases: Leases,
		cluster: Pick<Cluster, 'isFollower' | 'isSomeoneSilent' | 'bus'>,
	) {
		this.#withoutOwner = withoutOwner(db);
		this.#leases = leases;
		this.#events = events;
		this.#cluster = cluster;
		this.#unsubscribe = cluster.bus.subscribe(FREE, () => {
			this.#isToldMeanwhile = this.#looking !== null;
			this.#organisationSeenAt = -Infinity;
			this.#start();
		});
		this.#start();
	}

	#start(): void {
		clearTimeout(this.#timer);
		this.#looking ??= this.#look()
			.catch((error: unknown) => log.warn({ err: error }, 'Whether an event has nobody is not known'))
			.finally(() => {
				this.#looking = null;
				if (this.#isClosed) return;
				if (this.#isToldMeanwhile) {
					this.#isToldMeanwhile = false;
					return this.#start();
				}
				const isSoon = this.#free.size > 0 || this.#cluster.isSomeoneSilent;
				this.#timer = setTimeout(() => this.#start(), isSoon ? SOON_MS : LOOK_EVERY_MS);
			});
	}

	async #look(): Promise<void> {
		const now = performance.now();
		const rows = await this.#withoutOwner.execute();
		const ids = new Set(rows.map(({ id }) => id));
		if (await this.#isOrganisationFree(now)) ids.add(ORGANISATION);
		for (const id of this.#free.keys()) if (!ids.has(id)) this.#free.delete(id);
		const turns = [...ids].filter((id) => {
			const since = this.#free.get(id) ?? now;
			this.#free.set(id, since);
			return this.#cluster.isFollower(id, now - since);
		});
		await Promise.all(turns.map((id) => this.#follow(id)));
	}

	async #isOrganisationFree(now: number): Promise<boolean> {
		if (this.#leases.holds(ORGANISATION)) return false;
		if (!this.#cluster.isSomeoneSilent && now - this.#organisationSeenAt < ORGANISATION_EVERY_MS) return false;
		if ((await this.#leases.ownerOf(ORGANISATION)) === null) return true;
		this.#organisationSeenAt = now;
		return false;
	}

	async #follow(id: string): Promise<void> {
		try {
			// While owners go first, it may be somebody's who is silent.
			if (id !== ORGANISATION) await this.#events.owner(id);
			else if ((await this.#leases.acquire(id)).is !== 'own') return;
			log.info({ event: id }, 'The event is this node’s now');
		} catch (error) {
			// Another one was quicker.
			if (!(error instanceof Elsewhere)) log.error({ event: id, err: error }, 'An event is not taken over');
		}
	}

	async close(): Promise<void> {
		this.#isClosed = true;
		clearTimeout(this.#timer);
		this.#unsubscribe();
		await this.#looking;
	}
}

/** Finds events that nobody has, and of which something is on air or due. Built once, as it is asked each second. */
function withoutOwner(db: Db) {
	return db
		.select({ id: events.id })
		.from(events)
		.leftJoin(eventLeases, eq(eventLeases.eventId, events.id))
		.where(
			and(
				or(isNotNull(events.dueAt), eq(events.onAir, true)),
				or(isNull(eventLeases.eventId), lt(eventLeases.expiresAt, DATABASE_NOW)),
			),
		)
		.prepare();
}
