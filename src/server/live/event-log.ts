/** Writes down what happens at an event, and how its broadcasts go. */
import { and, asc, eq, gte, lte } from 'drizzle-orm';
import type { LogKind, LogLine } from '../../core/show/chapters.ts';
import type { Figures, FiguresAt } from '../../core/show/report.ts';
import type { Db } from '../db/database.ts';
import { figures, logLines } from '../db/schema.ts';
import { Backlog } from './backlog.ts';

const LONGEST_TEXT = 500;

export class EventLog {
	#db: Db;
	#eventId: string;
	#lines: Backlog<LogLine>;
	#figures: Backlog<{ broadcastId: string; at: number; figures: Figures }>;

	constructor(db: Db, eventId: string) {
		this.#db = db;
		this.#eventId = eventId;
		this.#lines = new Backlog((rows) => db.insert(logLines).values(rows.map((row) => ({ eventId, ...row }))));
		this.#figures = new Backlog((rows) => db.insert(figures).values(rows.map((row) => ({ eventId, ...row }))));
	}

	add(kind: LogKind, text: string, at = Date.now()): void {
		this.#lines.add({ at, kind, text: text.slice(0, LONGEST_TEXT) });
	}

	addFigures(broadcastId: string, now: Figures, at = Date.now()): void {
		this.#figures.add({ broadcastId, at, figures: now });
	}

	/** Lines of a time, from the first on. */
	async between(from: number, to: number): Promise<LogLine[]> {
		const { eventId, at, kind, text, id } = logLines;
		return this.#db
			.select({ at, kind, text })
			.from(logLines)
			.where(and(eq(eventId, this.#eventId), gte(at, from), lte(at, to)))
			.orderBy(asc(at), asc(id));
	}

	/** How a broadcast went, from its beginning on. */
	async figuresOf(broadcastId: string): Promise<FiguresAt[]> {
		const rows = await this.#db
			.select({ at: figures.at, figures: figures.figures })
			.from(figures)
			.where(and(eq(figures.eventId, this.#eventId), eq(figures.broadcastId, broadcastId)))
			.orderBy(asc(figures.at));
		return rows.map(({ at, figures: then }) => ({ at, ...then }));
	}

	async close(): Promise<void> {
		await Promise.all([this.#lines.close(), this.#figures.close()]);
	}
}
