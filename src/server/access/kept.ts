/**
 * Rows of a small table, all of them in memory: who may come in is known also while the database is away. Of several nodes
 * each has them, and tells the others what it changes.
 */
import { dequal } from 'dequal/lite';
import { eq, getTableName, type SQL } from 'drizzle-orm';
import type { MySqlTable, MySqlColumn } from 'drizzle-orm/mysql-core';
import type { Db } from '../db/database.ts';
import { log } from '../log.ts';
import { FreshReads } from '../nodes/fresh-reads.ts';
import { NO_NEWS, type News } from '../nodes/news.ts';

type WithId = MySqlTable & { id: MySqlColumn };
const AGAIN_MS = 1000;
/** Whoever comes waits no longer for a database that does not answer. */
const PATIENCE_MS = 2000;
/** So many ids of rows that are gone are remembered. */
const MOST_GONE = 10_000;

export class Kept<
	T extends WithId,
	Row extends T['$inferSelect'] & { id: string } = T['$inferSelect'] & { id: string },
> {
	readonly #db: Db;
	readonly #table: T;
	readonly #news: News;
	readonly #rows = new Map<string, Row>();
	readonly #reads = new FreshReads();
	/** Ids of rows that were removed, here or by another node: the database may still have them. */
	readonly #gone = new Set<string>();
	/** Told of each row that another node has changed, with what it was and what it is; undefined where it was or is not there. */
	onChanged: (before: Row | undefined, now: Row | undefined) => void = () => {};

	private constructor(db: Db, table: T, news: News) {
		this.#db = db;
		this.#table = table;
		this.#news = news;
	}

	static async open<T extends WithId>(db: Db, table: T, news = NO_NEWS): Promise<Kept<T>> {
		const kept = new Kept<T>(db, table, news);
		// Before they are read: what is changed in between is read again.
		news.hear(
			kept.#name,
			(id, gone) => {
				if (!gone) return kept.#read(id);
				kept.#reads.changed();
				kept.#isGone(id);
				kept.#set(id, undefined);
			},
			() => kept.#read(null),
		);
		await kept.#reads.read(
			() => kept.#stored(null),
			(rows) => rows.forEach((row) => kept.#rows.set(row.id, row)),
		);
		return kept;
	}

	get #name(): string {
		return getTableName(this.#table);
	}

	async #stored(id: string | null): Promise<Row[]> {
		const query = this.#db.select().from(this.#table as MySqlTable);
		return (await (id === null ? query : query.where(eq(this.#table.id, id)))) as Row[];
	}

	/** Another node has changed one, or any of them for null. What must open nothing is asked for until it is known. */
	#read(id: string | null): void {
		const take = (rows: Row[]) => {
			const now = new Map(rows.map((row) => [row.id, row]));
			for (const known of id === null ? new Set([...this.#rows.keys(), ...now.keys()]) : [id])
				this.#set(known, now.get(known));
		};
		this.#reads
			.read(() => this.#stored(id), take)
			.catch((error: unknown) => {
				log.warn({ err: error, table: this.#name }, 'What another node has changed cannot be read yet');
				setTimeout(() => this.#read(id), AGAIN_MS).unref();
			});
	}

	#isGone(id: string): void {
		this.#gone.add(id);
		if (this.#gone.size > MOST_GONE) this.#gone.delete(this.#gone.values().next().value!);
	}

	/**
	 * Reads a row that is not known here: another node may have added it a moment ago, and its news is still on its way, or lost
	 * with Redis. Nothing comes of it on a server of one node.
	 * @param where one row at most is
	 */
	async lookUp(where: SQL): Promise<void> {
		if (!this.#news.hasOthers) return;
		const take = (rows: Row[]) => {
			for (const row of rows) if (!this.#gone.has(row.id)) this.#set(row.id, row);
		};
		const query = this.#db.select().from(this.#table as MySqlTable);
		const reading = this.#reads.read(async () => (await query.where(where)) as Row[], take);
		let timer: NodeJS.Timeout | undefined;
		const patience = new Promise<void>((resolve) => (timer = setTimeout(resolve, PATIENCE_MS)));
		const failed = (error: unknown) => log.warn({ err: error, table: this.#name }, 'What is not known cannot be read');
		await Promise.race([reading.catch(failed), patience]).finally(() => clearTimeout(timer));
	}

	/** As `lookUp`, where there is none of that id. */
	async lookUpId(id: string): Promise<void> {
		if (!this.#rows.has(id)) await this.lookUp(eq(this.#table.id, id));
	}

	#set(id: string, now: Row | undefined): void {
		const before = this.#rows.get(id);
		if (now) this.#rows.set(id, now);
		else this.#rows.delete(id);
		if (before || now) this.onChanged(before, now);
	}

	get all(): Row[] {
		return [...this.#rows.values()];
	}

	get(id: string): Row | undefined {
		return this.#rows.get(id);
	}

	/** @throws when the database does not take it */
	async add(row: Row): Promise<Row> {
		await this.#reads.write(row.id, async () => {
			await this.#db.insert(this.#table).values(row as never);
			this.#rows.set(row.id, row);
		});
		this.#news.tell(this.#name, row.id);
		return row;
	}

	/** Holds at once, also when the database is away: what is taken from somebody is taken. @throws when it is away */
	async change(id: string, part: Partial<Row>): Promise<void> {
		const row = this.#rows.get(id);
		if (!row) return;
		this.#rows.set(id, { ...row, ...part });
		const update = this.#db.update(this.#table).set(part as never);
		await this.#reads.write(id, () => update.where(eq(this.#table.id, id)));
		this.#news.tell(this.#name, id);
	}

	/** As `change`. */
	async remove(id: string): Promise<void> {
		this.#rows.delete(id);
		this.#isGone(id);
		this.#news.tell(this.#name, id, true);
		await this.#reads.write(id, () => this.#db.delete(this.#table).where(eq(this.#table.id, id)));
	}
}

/** Whether two states of a row differ in some of its columns; one that was not known before does not. */
export function differIn<Row extends object>(
	columns: readonly (keyof Row)[],
	before: Row | undefined,
	now: Row | undefined,
): boolean {
	return before !== undefined && columns.some((column) => !dequal(before[column], now?.[column]));
}
