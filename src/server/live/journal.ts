/** Keeps an event's commands in the database, in order; waits out a database that is gone. */
import { asc, eq, gt, and } from 'drizzle-orm';
import * as v from 'valibot';
import { commandSchema } from '../../core/show/command.ts';
import type { Applied } from '../../core/show/live.ts';
import { reduce } from '../../core/show/reduce.ts';
import { showStateSchema, type ShowState } from '../../core/show/state.ts';
import type { Db } from '../db/database.ts';
import { commands, events } from '../db/schema.ts';
import { log } from '../log.ts';

const RETRY_MS = 1000;
const SNAPSHOT_EVERY = 50;

/** An event as it was stored. */
export interface Stored {
	state: ShowState;
	seq: number;
	/** Ids of the commands since the snapshot. */
	recentIds: string[];
}

export class Journal {
	#db: Db;
	#eventId: string;
	#waiting: { entry: Applied; attempted: () => void }[] = [];
	/** The state after the last command that waits. */
	#newest: ShowState | null = null;
	#writing: Promise<void> | null = null;
	#snapshotSeq = 0;
	/** False while the database does not take what is given to it. */
	healthy = true;

	constructor(db: Db, eventId: string) {
		this.#db = db;
		this.#eventId = eventId;
	}

	/** The newest snapshot with the commands since, or null when there is no such event. */
	async load(): Promise<Stored | null> {
		const [event] = await this.#db.select().from(events).where(eq(events.id, this.#eventId));
		if (!event) return null;
		let state = v.parse(showStateSchema, event.snapshot);
		let seq = (this.#snapshotSeq = event.snapshotSeq);
		const since = and(eq(commands.eventId, this.#eventId), gt(commands.seq, event.snapshotSeq));
		const rows = await this.#db.select().from(commands).where(since).orderBy(asc(commands.seq));
		for (const row of rows) {
			const outcome = reduce(state, v.parse(commandSchema, row.command), row.at);
			if ('state' in outcome) state = outcome.state;
			seq = row.seq;
		}
		return { state, seq, recentIds: rows.map((row) => row.commandId) };
	}

	/**
	 * Stores a command. Resolves when it is written, or at once while the database is gone: then it is kept, and
	 * written in its turn when the database is back.
	 */
	async append(entry: Applied, state: ShowState): Promise<void> {
		this.#newest = state;
		const attempted = new Promise<void>((resolve) => this.#waiting.push({ entry, attempted: resolve }));
		this.#writing ??= this.#write().finally(() => (this.#writing = null));
		if (this.healthy) await attempted;
	}

	async #write(): Promise<void> {
		while (this.#waiting.length > 0) {
			const batch = this.#waiting.slice(0, 100);
			try {
				await this.#db.insert(commands).values(batch.map(({ entry }) => this.#row(entry)));
				this.#waiting.splice(0, batch.length);
				if (!this.healthy) log.info({ event: this.#eventId }, 'The database takes changes again');
				this.healthy = true;
				const { seq } = batch.at(-1)!.entry;
				if (this.#waiting.length === 0 && seq - this.#snapshotSeq >= SNAPSHOT_EVERY) await this.#snapshot(seq);
			} catch (error) {
				if (this.healthy)
					log.error({ event: this.#eventId, err: error }, 'The database does not take changes; they are kept');
				this.healthy = false;
			}
			for (const { attempted } of batch) attempted();
			if (!this.healthy) await new Promise((resolve) => setTimeout(resolve, RETRY_MS).unref());
		}
	}

	#row({ seq, at, by, id, command }: Applied) {
		return { eventId: this.#eventId, seq, at, by, commandId: id, command };
	}

	async #snapshot(seq: number): Promise<void> {
		const state = this.#newest!;
		await this.#db
			.update(events)
			.set({ snapshot: state, snapshotSeq: seq, title: state.title, startsAt: state.startsAt })
			.where(eq(events.id, this.#eventId));
		this.#snapshotSeq = seq;
	}

	/** Waits until all is written, but not for a database that is gone. */
	async close(): Promise<void> {
		if (this.healthy) await this.#writing;
	}
}
