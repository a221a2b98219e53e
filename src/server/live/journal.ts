/** Keeps an event's commands in the database, in order, with a snapshot of the state now and then. */
import { dequal } from 'dequal/lite';
import { and, asc, desc, eq, inArray, lt } from 'drizzle-orm';
import { firstDue } from '../../core/show/due.ts';
import { isMovement, isReplacedBy } from '../../core/show/movement.ts';
import type { Applied } from '../../core/show/messages.ts';
import { withSetup } from '../../core/show/slice.ts';
import { isOnAir, type ShowState } from '../../core/show/state.ts';
import { openShow, replay, type Unreadable } from '../../core/show/stored.ts';
import type { Db } from '../db/database.ts';
import { commands, events, setAside } from '../db/schema.ts';
import { log } from '../log.ts';
import { FencedOff, writeFenced, type Fence, type Transaction } from '../nodes/fence.ts';
import { serverTimeZone } from '../time-zone.ts';
import { isRowFault, WriteQueue, type Added } from './write-queue.ts';

const SNAPSHOT_EVERY = 50;
/** Commands whose ids are remembered, also over a restart, so that one sent again counts once. */
export const REMEMBERED = 1000;

/** An event as it was stored. */
export interface Stored {
	/** Its id as it is stored, whatever way it was asked for. */
	eventId: string;
	state: ShowState;
	seq: number;
	/** Ids of the last commands, the oldest first. */
	recentIds: string[];
	/** What could not be read, and was left out. */
	unreadable: Unreadable[];
	/** What was seen and tried, of any version; read by core/line-check/facts.ts. */
	facts: unknown;
}

export class Journal {
	#db: Db;
	#eventId: string;
	#queue: WriteQueue<Applied>;
	/** What was applied last, with the state after it. */
	#newest: { seq: number; state: ShowState } | null = null;
	#snapshotSeq: number;
	/** What lists of events show, as it was written last. */
	#listed: Listed;
	/** True when the rows do not tell all: a snapshot must. */
	#needsSnapshot: boolean;

	/** Called when another node owns the event: nothing of it is written here any more. */
	onFencedOff: () => void = () => {};
	/** True while the database is gone for all nodes: then nobody else can have the event, and what is kept is enough. */
	mayKeep: () => boolean = () => false;
	readonly #fence: Fence;

	private constructor(
		db: Db,
		stored: Stored,
		fence: Fence,
		snapshotSeq: number,
		listed: Listed,
		needsSnapshot: boolean,
	) {
		this.#db = db;
		this.#fence = fence;
		this.#eventId = stored.eventId;
		this.#snapshotSeq = snapshotSeq;
		this.#listed = listed;
		this.#needsSnapshot = needsSnapshot;
		this.#queue = new WriteQueue({
			name: `commands of ${stored.eventId}`,
			write: (rows) => this.#write(rows),
			// Of several nodes each command is a row: who says one again, which the next owner does not know, would undo a later one.
			isReplacedBy: ({ command: waiting }, { command: next }) => fence === null && isReplacedBy(waiting, next),
			onSetAside: () => (this.#needsSnapshot = true),
			afterwards: () => this.#afterwards(),
			onFencedOff: () => this.onFencedOff(),
		});
	}

	/**
	 * The newest snapshot with the commands since, or null when there is no such event.
	 * @param fence taken before, so that nobody else adds to what is read
	 * @throws {Refusal} when a later version of Bivvo has stored it
	 */
	static async open(
		db: Db,
		eventId: string,
		fence: Fence = null,
	): Promise<{ journal: Journal; stored: Stored } | null> {
		const [event] = await db.select().from(events).where(eq(events.id, eventId));
		if (!event) return null;
		const opened = openShow(event.id, event.title, event.snapshot, true);
		let state = inTimeZone(opened.state);
		const { unreadable } = opened;
		const newest = db
			.select()
			.from(commands)
			.where(eq(commands.eventId, event.id))
			.orderBy(desc(commands.seq))
			.limit(REMEMBERED + SNAPSHOT_EVERY);
		const rows = (await newest).toReversed();
		const since = rows.filter(({ seq }) => seq > event.snapshotSeq);
		// After a long time without a database more may have come in at once than is remembered.
		if (since.length === rows.length && rows.length > REMEMBERED)
			since.splice(0, since.length, ...(await commandsSince(db, event.id, event.snapshotSeq)));
		for (const row of since) {
			const outcome = replay(state, row.command, row.at);
			if ('state' in outcome) state = outcome.state;
			else unreadable.push(outcome.unreadable);
		}
		const seq = Math.max(event.snapshotSeq, since.at(-1)?.seq ?? 0);
		const recentIds = rows.slice(-REMEMBERED).map(({ commandId }) => commandId);
		const stored = { eventId: event.id, state, seq, recentIds, unreadable, facts: event.facts };
		if (unreadable.length > 0) await keepUnreadable(db, event.id, event.snapshot, unreadable);
		// The next snapshot is without it.
		const { title, startsAt, dueAt, onAir } = event;
		const journal = new Journal(
			db,
			stored,
			fence,
			event.snapshotSeq,
			{ title, startsAt, dueAt, onAir },
			unreadable.length > 0,
		);
		return { journal, stored };
	}

	/** An event as it is stored, for whoever does not own it; null when there is none. */
	static async read(db: Db, eventId: string): Promise<ShowState | null> {
		const opened = await Journal.open(db, eventId);
		await opened?.journal.close();
		return opened?.stored.state ?? null;
	}

	/** False while changes cannot be written to the database; they are kept. */
	get healthy(): boolean {
		return this.#queue.healthy;
	}

	/**
	 * Stores a command. Resolves when it is written, or when it is enough that it is kept; of several nodes that is so while
	 * the database is gone for all.
	 * @returns null for what is moved, and written with what is said next: a later place of it is as good
	 * @throws {FencedOff} when another node owns the event
	 */
	async append(entry: Applied, state: ShowState): Promise<Added | null> {
		this.#newest = { seq: entry.seq, state };
		if (this.#fence !== null) return this.#queue.addSurely(entry, () => this.mayKeep());
		if (!isMovement(entry.command)) return this.#queue.add(entry);
		this.#queue.addLazily(entry);
		return null;
	}

	async #write(rows: Applied[]): Promise<void> {
		const listed = this.#newest ? listedOf(this.#newest.state) : this.#listed;
		const write = async (transaction: Db | Transaction) => {
			await insertOnce(
				transaction,
				rows.map((row) => rowOf(this.#eventId, row)),
			);
			if (!dequal(listed, this.#listed))
				await transaction.update(events).set(listed).where(eq(events.id, this.#eventId));
		};
		await (this.#fence === null ? this.#db.transaction(write) : writeFenced(this.#db, this.#fence, write));
		this.#listed = listed;
	}

	async #afterwards(): Promise<void> {
		if (!this.#newest) return;
		const { seq, state } = this.#newest;
		if (!this.#needsSnapshot && seq - this.#snapshotSeq < SNAPSHOT_EVERY) return;
		await writeFenced(this.#db, this.#fence, (db) =>
			db.update(events).set({ snapshot: state, snapshotSeq: seq }).where(eq(events.id, this.#eventId)),
		);
		this.#snapshotSeq = seq;
		this.#needsSnapshot = false;
		// Behind the snapshot only the ids are of use.
		await this.#db.delete(commands).where(and(eq(commands.eventId, this.#eventId), lt(commands.seq, seq - REMEMBERED)));
	}

	/**
	 * Waits until all is written, but not for a database that is gone. Of several nodes another one is told again by whoever
	 * waits for what was not written.
	 */
	close(): Promise<void> {
		// Whoever opens the event after this has a journal of its own.
		this.onFencedOff = () => {};
		return this.#queue.close(this.#fence && new FencedOff(this.#eventId));
	}
}

/** What lists of events show of one, and when something of it is due. */
type Listed = Pick<typeof events.$inferSelect, 'title' | 'startsAt' | 'dueAt' | 'onAir'>;

function listedOf(state: ShowState): Listed {
	const { title, startsAt } = state.setup;
	const due = firstDue(state);
	return { title, startsAt, dueAt: due ? Math.ceil(due.at) : null, onAir: isOnAir(state) };
}

/** What could not be read is kept as it was, for somebody who can. */
async function keepUnreadable(db: Db, eventId: string, snapshot: unknown, unreadable: Unreadable[]): Promise<void> {
	log.error({ event: eventId, unreadable }, 'Parts of an event cannot be read; they are set aside');
	await db.insert(setAside).values({ eventId, at: Date.now(), unreadable, snapshot });
}

type CommandRow = typeof commands.$inferInsert;

function rowOf(eventId: string, { seq, at, by, id, command }: Applied): CommandRow {
	return { eventId, seq, at, by, commandId: id, command };
}

async function commandsSince(db: Db, eventId: string, seq: number) {
	const all = await db.select().from(commands).where(eq(commands.eventId, eventId)).orderBy(asc(commands.seq));
	return all.filter((row) => row.seq > seq);
}

/**
 * Inserts rows, but for those that are there already: an earlier attempt may have been stored and only its answer lost.
 * @throws when a row's place is taken by another command
 */
async function insertOnce(db: Db | Transaction, rows: CommandRow[]): Promise<void> {
	try {
		await db.insert(commands).values(rows);
	} catch (error) {
		if (!isRowFault(error)) throw error;
		const { eventId } = rows[0]!;
		const seqs = rows.map(({ seq }) => seq);
		const there = await db
			.select({ seq: commands.seq, commandId: commands.commandId })
			.from(commands)
			.where(and(eq(commands.eventId, eventId), inArray(commands.seq, seqs)));
		const isThere = ({ seq, commandId }: CommandRow) =>
			there.some((row) => row.seq === seq && row.commandId === commandId);
		const missing = rows.filter((row) => !isThere(row));
		if (missing.length === rows.length) throw error;
		if (missing.length > 0) await db.insert(commands).values(missing);
	}
}

/** A show that was stored before events had a time zone takes place where the server is. */
function inTimeZone(state: ShowState): ShowState {
	return state.setup.timeZone === '' ? withSetup(state, { timeZone: serverTimeZone() }) : state;
}
