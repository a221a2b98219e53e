/** Writes down what happens at an event; waits out a database that is gone. */
import { and, asc, eq, gte, lte } from 'drizzle-orm';
import type { LogKind, LogLine } from '../../core/show/chapters.ts';
import type { Db } from '../db/database.ts';
import { logLines } from '../db/schema.ts';

const RETRY_MS = 1000;
/** Lines that wait for the database; beyond them the oldest are given up. */
const MOST_WAITING = 5000;
const LONGEST_TEXT = 500;

export class EventLog {
	#db: Db;
	#eventId: string;
	#waiting: LogLine[] = [];
	#writing: Promise<void> | null = null;
	#closed = false;

	constructor(db: Db, eventId: string) {
		this.#db = db;
		this.#eventId = eventId;
	}

	add(kind: LogKind, text: string, at = Date.now()): void {
		this.#waiting.push({ at, kind, text: text.slice(0, LONGEST_TEXT) });
		if (this.#waiting.length > MOST_WAITING) this.#waiting.shift();
		this.#writing ??= this.#write().finally(() => (this.#writing = null));
	}

	async #write(): Promise<void> {
		while (this.#waiting.length > 0 && !this.#closed) {
			const batch = this.#waiting.slice(0, 100);
			try {
				await this.#db.insert(logLines).values(batch.map((line) => ({ eventId: this.#eventId, ...line })));
				this.#waiting.splice(0, batch.length);
			} catch {
				// The journal says that the database is gone.
				await new Promise((resolve) => setTimeout(resolve, RETRY_MS).unref());
			}
		}
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

	async close(): Promise<void> {
		await Promise.race([this.#writing, new Promise((resolve) => setTimeout(resolve, RETRY_MS))]);
		this.#closed = true;
	}
}
