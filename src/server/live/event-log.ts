/** Writes down what happens at an event, and how its broadcasts go. */
import { randomUUID } from 'node:crypto';
import { and, asc, eq, gte, inArray, lte, notInArray, sql } from 'drizzle-orm';
import { FOR_CLIPS, readSaid, storedSaid, type LogEntry, type LogKind } from '../../core/show/broadcast/log.ts';
import type { Figures, FiguresAt } from '../../core/show/broadcast/report.ts';
import type { Db } from '../db/database.ts';
import { figures, logLines } from '../db/schema.ts';
import { FencedOff, writeAllFenced, writeFenced, type Fence } from '../nodes/fence.ts';
import { WriteQueue } from './write-queue.ts';

const LONGEST_TEXT = 500;
/** What was taken before something began is looked for within this time before; what ended with it, within this time after. */
const BEFORE_MS = 60_000;
const AFTER_MS = 10_000;
/** What was on air when a recording began again may have been taken so long before. */
const LONGEST_BROADCAST_MS = 24 * 3_600_000;
/** Rows that wait for a database that is gone. */
const MOST_LINES_WAITING = 5000;
/** Figures of all events together: 27 hours of one event, half an hour of sixty. */
const MOST_FIGURES_WAITING = 50_000;
/** Figures wait so long for those of other events, and for the next ones: what is written at once costs little more than one row. */
const GATHERED_MS = 3000;
/** A row that is there already stays as it is. */
const AS_IT_IS = { set: { id: sql`id` } };

/** Figures of all events, which come every two seconds of each: written together, each under the fence of its event. */
export class FiguresLog {
	readonly #queue: WriteQueue<{ row: typeof figures.$inferInsert; fence: Fence }>;

	constructor(db: Db) {
		this.#queue = new WriteQueue({
			name: 'figures',
			write: (all) =>
				writeAllFenced(db, all, (within, rows) =>
					within
						.insert(figures)
						.values(rows.map(({ row }) => row))
						.onDuplicateKeyUpdate(AS_IT_IS),
				),
			most: MOST_FIGURES_WAITING,
			lazyMs: GATHERED_MS,
		});
	}

	add(row: typeof figures.$inferInsert, fence: Fence): void {
		this.#queue.addLazily({ row, fence });
	}

	/** Waits until they are written, but only a moment for a database that is gone. */
	settle(): Promise<void> {
		return this.#queue.settle();
	}
}

export class EventLog {
	#db: Db;
	#eventId: string;
	#lines: WriteQueue<typeof logLines.$inferInsert>;
	#figures: FiguresLog;
	#fence: Fence;

	constructor(db: Db, eventId: string, figures: FiguresLog, fence: Fence = null) {
		this.#db = db;
		this.#eventId = eventId;
		this.#figures = figures;
		this.#fence = fence;
		this.#lines = new WriteQueue({
			name: `log of ${eventId}`,
			write: (rows) =>
				writeFenced(db, fence, (within) => within.insert(logLines).values(rows).onDuplicateKeyUpdate(AS_IT_IS)),
			most: MOST_LINES_WAITING,
		});
	}

	add(kind: LogKind, said: LogEntry['said'], at = Date.now()): void {
		// Nobody waits for it; when another node owns the event, that one writes.
		this.#lines.add({ ...this.#entry(at), kind, text: storedSaid(said, LONGEST_TEXT) }).catch((error: unknown) => {
			if (!(error instanceof FencedOff)) throw error;
		});
	}

	addFigures(broadcastId: string, now: Figures, at = Date.now()): void {
		this.#figures.add({ ...this.#entry(at), broadcastId, figures: now }, this.#fence);
	}

	#entry(at: number) {
		return { eventId: this.#eventId, entry: randomUUID(), at: Math.round(at) };
	}

	/** Lines of something that lasted from then to then, with what led to it and what followed at once. */
	around(from: number, to: number): Promise<LogEntry[]> {
		return this.between(from - BEFORE_MS, to + AFTER_MS);
	}

	/** What clips are made by of something that lasted from then to then, with what stood at its beginning. */
	forClips(from: number, to: number): Promise<LogEntry[]> {
		return this.#read(from - LONGEST_BROADCAST_MS, to, true);
	}

	/** Lines of a time that somebody reads, from the first on. */
	between(from: number, to: number): Promise<LogEntry[]> {
		return this.#read(from, to, false);
	}

	async #read(from: number, to: number, forClips: boolean): Promise<LogEntry[]> {
		const { eventId, at, kind, text, id } = logLines;
		const ofKinds = forClips ? inArray(kind, [...FOR_CLIPS]) : notInArray(kind, [...FOR_CLIPS]);
		const rows = await this.#db
			.select({ at, kind, text })
			.from(logLines)
			.where(and(eq(eventId, this.#eventId), gte(at, from), lte(at, to), ofKinds))
			.orderBy(asc(at), asc(id));
		return rows.map((row) => ({ at: row.at, kind: row.kind, said: readSaid(row.text) }));
	}

	/** How a broadcast went, from its beginning on. */
	async figuresOf(broadcastId: string): Promise<FiguresAt[]> {
		await this.#figures.settle();
		const rows = await this.#db
			.select({ at: figures.at, figures: figures.figures })
			.from(figures)
			.where(and(eq(figures.eventId, this.#eventId), eq(figures.broadcastId, broadcastId)))
			.orderBy(asc(figures.at));
		return rows.map(({ at, figures: then }) => ({ at, ...then }));
	}

	async close(): Promise<void> {
		await Promise.all([this.#lines.close(), this.#figures.settle()]);
	}
}
