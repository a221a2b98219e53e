/** Which events are open here, and who owns each. One process owns all of them today. */
import { isNotNull } from 'drizzle-orm';
import { refuse } from '../../core/refusal.ts';
import type { Db } from '../db/database.ts';
import { events } from '../db/schema.ts';
import { log } from '../log.ts';
import type { Room } from './room.ts';

const TICK_MS = 1000;
/** A room in which nobody is and nothing is due stays open for so long, in case somebody reloads a page. */
const IDLE_MS = 60_000;

interface Opened {
	room: Promise<Room>;
	/** When it was asked for or in use last, by Date.now(). */
	usedAt: number;
}

export class EventDirectory {
	#db: Db;
	#open: (eventId: string) => Promise<Room | null>;
	/** By the event's id as it is stored. */
	#rooms = new Map<string, Opened>();
	#closing = new Map<string, Promise<void>>();
	#timer: NodeJS.Timeout;
	#idleMs: number;

	/**
	 * @param open opens an event's room; null when there is no such event
	 * @param idleMs how long a room stays open in which nothing happens
	 */
	constructor(db: Db, open: (eventId: string) => Promise<Room | null>, idleMs = IDLE_MS) {
		this.#db = db;
		this.#open = open;
		this.#idleMs = idleMs;
		this.#timer = setInterval(() => void this.#tick(Date.now()), TICK_MS);
	}

	/**
	 * The room of an event, opened when it is not.
	 * @throws {Refusal} when there is no such event
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

	async #openNow(eventId: string): Promise<Room> {
		const room = await this.#open(eventId);
		if (!room) throw refuse('noEvent', {});
		return room;
	}

	/** Opens the events of which something is due by itself, whether or not anybody comes. */
	async openDue(): Promise<void> {
		const due = await this.#db.select({ id: events.id }).from(events).where(isNotNull(events.dueAt));
		for (const { id } of due)
			await this.owner(id).catch((error: unknown) => log.error({ event: id, err: error }, 'An event is not opened'));
	}

	/** The rooms that are open. */
	async open(): Promise<Room[]> {
		const all = await Promise.allSettled([...this.#rooms.values()].map(({ room }) => room));
		return all.flatMap((each) => (each.status === 'fulfilled' ? [each.value] : []));
	}

	async #tick(now: number): Promise<void> {
		for (const [eventId, opened] of this.#rooms) {
			const room = await opened.room.catch(() => null);
			if (!room || this.#rooms.get(eventId) !== opened) continue;
			try {
				room.tick(now);
			} catch (error) {
				log.error({ event: eventId, err: error }, 'The status of an event could not be told');
			}
			if (!room.isIdle) opened.usedAt = now;
			else if (now - opened.usedAt >= this.#idleMs) this.#close(eventId, room);
		}
	}

	#close(eventId: string, room: Room): void {
		this.#rooms.delete(eventId);
		const closing = room.close().catch((error: unknown) => log.error({ event: eventId, err: error }));
		this.#closing.set(
			eventId,
			closing.then(() => void this.#closing.delete(eventId)),
		);
	}

	async close(): Promise<void> {
		clearInterval(this.#timer);
		for (const room of await this.open()) await room.close();
		await Promise.all(this.#closing.values());
	}
}
