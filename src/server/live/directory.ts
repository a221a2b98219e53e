/**
 * Which events are open here, and who owns each. A server of one node owns all of them; of several, each node those of
 * which it has the lease.
 */
import { isNotNull } from 'drizzle-orm';
import { ORGANISATION } from '../../core/nodes/lease-of.ts';
import type { Emptying } from '../../core/nodes/load.ts';
import { refuse, Refusal } from '../../core/refusal.ts';
import { isOnAir, type ShowState } from '../../core/show/state.ts';
import type { Db } from '../db/database.ts';
import { events } from '../db/schema.ts';
import { log } from '../log.ts';
import { FencedOff, type Fence } from '../nodes/fence.ts';
import type { Leases } from '../nodes/leases.ts';
import { Journal } from './journal.ts';
import type { Room } from './room.ts';

const TICK_MS = 1000;
/** A room in which nobody is and nothing is due stays open for so long, in case somebody reloads a page. */
const IDLE_MS = 60_000;
const UNUSED_MS = 10_000;

interface Opened {
	room: Promise<Room>;
	/** When it was asked for or in use last, by Date.now(). */
	usedAt: number;
}

export class EventDirectory {
	#db: Db;
	#open: OpenRoom;
	readonly #leases: Leases | null;
	readonly #node: Giving | null;
	/** By the event's id as it is stored. */
	#rooms = new Map<string, Opened>();
	#closing = new Map<string, Promise<void>>();
	/** Leases without a room, by Date.now(). */
	readonly #unusedSince = new Map<string, number>();
	#timer: NodeJS.Timeout;
	#idleMs: number;

	/**
	 * @param node that this process is among others; null for a server of one
	 * @param idleMs how long a room stays open in which nothing happens
	 */
	constructor(db: Db, open: OpenRoom, node: Giving | null = null, idleMs = IDLE_MS) {
		this.#db = db;
		this.#open = open;
		this.#node = node;
		const leases = node?.leases ?? null;
		this.#leases = leases;
		if (leases) leases.onLost = (eventId) => this.abandon(eventId);
		this.#idleMs = idleMs;
		this.#timer = setInterval(() => void this.#tick(Date.now()), TICK_MS);
	}

	/**
	 * The room of an event, opened when it is not.
	 * @throws {Refusal} when there is no such event
	 * @throws {Elsewhere} when another node owns it
	 */
	async owner(eventId: string): Promise<Room> {
		await this.#closing.get(eventId);
		const opened = this.#rooms.get(eventId) ?? { room: this.#openNow(eventId), usedAt: Date.now() };
		opened.usedAt = Date.now();
		this.#rooms.set(eventId, opened);
		try {
			return await opened.room;
		} catch (error) {
			if (this.#rooms.get(eventId) === opened) this.#rooms.delete(eventId);
			throw error;
		}
	}

	/**
	 * The room of an event that is this node's already, or of any on a server of one; null for that of another node.
	 * @throws {Refusal} when there is no such event
	 */
	async ownRoom(eventId: string): Promise<Room | null> {
		return !this.#leases || this.#leases.holds(eventId) ? this.owner(eventId) : null;
	}

	/**
	 * An event as it is, whoever owns it.
	 * @throws {Refusal} when there is no such event
	 */
	async stateOf(eventId: string): Promise<ShowState> {
		const room = await this.ownRoom(eventId);
		if (room) return room.hub.state;
		const state = await Journal.read(this.#db, eventId);
		if (!state) throw refuse('noEvent', {});
		return state;
	}

	async #openNow(eventId: string): Promise<Room> {
		const fence = await this.#take(eventId);
		try {
			const room = await this.#open(eventId, fence);
			if (!room) throw refuse('noEvent', {});
			if (fence) {
				room.hub.journal.onFencedOff = () => this.#leases!.dropOld(fence);
				room.hub.journal.mayKeep = () => this.#leases!.goesOnAlone;
				this.#node!.took(eventId);
			}
			return room;
		} catch (error) {
			await this.#leases?.release(eventId).catch(() => {});
			throw error instanceof FencedOff ? new Elsewhere() : error;
		}
	}

	async #take(eventId: string): Promise<Fence> {
		if (!this.#leases) return null;
		if (!this.#leases.holds(eventId) && !this.#node!.mayTake()) throw new Elsewhere();
		const taken = await this.#leases.acquire(eventId);
		if (taken.is === 'none') throw refuse('noEvent', {});
		if (taken.is === 'another') throw new Elsewhere();
		return taken.fence;
	}

	/** Another node owns the event, or may: whatever is done with it here ends at once. */
	abandon(eventId: string): void {
		const opened = this.#rooms.get(eventId);
		if (!opened) return;
		log.error({ event: eventId }, 'The event is let go of: another node has it, or may have it');
		this.#rooms.delete(eventId);
		this.#follow(
			eventId,
			opened.room.then((room) => room.abandon()),
		);
	}

	/** Opens the events of which something is due by itself, whether or not anybody comes. */
	async openDue(): Promise<void> {
		const due = await this.#db.select({ id: events.id }).from(events).where(isNotNull(events.dueAt));
		for (const { id } of due)
			await this.owner(id).catch((error: unknown) => log.error({ event: id, err: error }, 'An event is not opened'));
	}

	/** How many events are open, and how many of them are on air, as of the last second. */
	counts = { events: 0, onAir: 0 };

	/** The rooms that are open. */
	async open(): Promise<Room[]> {
		const all = await Promise.allSettled([...this.#rooms.values()].map(({ room }) => room));
		return all.flatMap((each) => (each.status === 'fulfilled' ? [each.value] : []));
	}

	/** Leases of events that nobody has opened after all, and what belongs to none on a node that is emptied. */
	async #releaseUnused(now: number): Promise<void> {
		if (!this.#leases) return;
		const isEmptied = this.#node?.emptying() !== null && !this.#node?.mayTake();
		for (const eventId of this.#leases.own) {
			const isOpen = this.#rooms.has(eventId) || this.#closing.has(eventId);
			const isUsed = eventId === ORGANISATION ? !isEmptied : isOpen;
			if (isUsed) this.#unusedSince.delete(eventId);
			else if (eventId === ORGANISATION || now - (this.#unusedSince.get(eventId) ?? now) > UNUSED_MS) {
				this.#unusedSince.delete(eventId);
				await this.#leases.release(eventId);
				this.#node?.given();
			} else if (!this.#unusedSince.has(eventId)) this.#unusedSince.set(eventId, now);
		}
	}

	async #tick(now: number): Promise<void> {
		this.#releaseUnused(now).catch((error: unknown) => log.warn({ err: error }, 'A lease that nobody uses stays'));
		const open = await this.open();
		this.counts = { events: open.length, onAir: open.filter(({ hub }) => isOnAir(hub.state)).length };
		for (const [eventId, opened] of this.#rooms) {
			const room = await opened.room.catch(() => null);
			if (!room || this.#rooms.get(eventId) !== opened) continue;
			try {
				room.tick(now);
			} catch (error) {
				log.error({ event: eventId, err: error }, 'The status of an event could not be told');
			}
			if (this.#isToGo(room)) this.#giveAway(eventId, room);
			else if (!room.isIdle) opened.usedAt = now;
			else if (now - opened.usedAt >= this.#idleMs) this.#close(eventId, room);
		}
	}

	/** True on a node that is emptied, unless there is no other one. */
	#isToGo({ hub }: Room): boolean {
		const emptying = this.#node?.emptying() ?? null;
		return emptying !== null && !this.#node!.mayTake() && (emptying === 'now' || !isOnAir(hub.state));
	}

	#close(eventId: string, room: Room): void {
		this.#rooms.delete(eventId);
		this.#follow(
			eventId,
			room.close().then(() => this.#leases?.release(eventId)),
		);
	}

	/**
	 * Lets another node have an event. What is sent goes on here until that one has opened it; then pages, guests and the desk
	 * find it there, and viewers are held for a moment.
	 */
	#giveAway(eventId: string, room: Room): void {
		this.#rooms.delete(eventId);
		this.#follow(eventId, this.#handOn(eventId, room));
	}

	async #handOn(eventId: string, room: Room): Promise<void> {
		const node = this.#node!;
		const taken = node.mayTake() ? null : node.whenTaken(eventId);
		try {
			await this.#leases!.release(eventId);
			node.given();
			await taken;
		} finally {
			// A lease that could not be given back runs out: nothing is sent without one.
			await room.abandon();
		}
	}

	/** Nobody opens an event again before that is over. */
	#follow(eventId: string, ending: Promise<unknown>): void {
		const ended = ending.catch((error: unknown) =>
			log.error({ event: eventId, err: error }, 'An event was not closed'),
		);
		const closing = ended.then(() => {
			if (this.#closing.get(eventId) === closing) this.#closing.delete(eventId);
		});
		this.#closing.set(eventId, closing);
	}

	async close(): Promise<void> {
		clearInterval(this.#timer);
		const all = [...this.#rooms];
		for (const [eventId, { room: opening }] of all) {
			const room = await opening.catch(() => null);
			if (!room) continue;
			if (this.#node) this.#giveAway(eventId, room);
			else await room.close();
		}
		await Promise.all(this.#closing.values());
		await this.#leases?.close();
	}
}

/** How one of several nodes takes events, and gives them away. */
export interface Giving {
	leases: Leases;
	/** How this node is emptied; null while it takes events. */
	emptying: () => Emptying | null;
	/** True while it takes events that nobody has. */
	mayTake: () => boolean;
	/** Called when an event was given away: another node may take it now. */
	given: () => void;
	/** Called when an event of whichever node was opened here. */
	took: (eventId: string) => void;
	/** Resolves when another node has opened an event, or it takes too long. */
	whenTaken: (eventId: string) => Promise<void>;
}

/** Opens an event's room; null when there is no such event. */
type OpenRoom = (eventId: string, fence: Fence) => Promise<Room | null>;

/** An event that another node owns, or has just let go of: who asks again comes to the right one. */
export class Elsewhere extends Refusal {
	constructor() {
		super({ code: 'elsewhere', about: {} });
	}
}
