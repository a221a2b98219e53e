/** Rows of a small table, all of them in memory: who may come in is known also while the database is away. */
import { eq } from 'drizzle-orm';
import type { MySqlTable, MySqlColumn } from 'drizzle-orm/mysql-core';
import type { Db } from '../db/database.ts';

type WithId = MySqlTable & { id: MySqlColumn };

export class Kept<
	T extends WithId,
	Row extends T['$inferSelect'] & { id: string } = T['$inferSelect'] & { id: string },
> {
	readonly #db: Db;
	readonly #table: T;
	readonly #rows = new Map<string, Row>();

	private constructor(db: Db, table: T) {
		this.#db = db;
		this.#table = table;
	}

	static async open<T extends WithId>(db: Db, table: T): Promise<Kept<T>> {
		const kept = new Kept<T>(db, table);
		for (const row of (await db.select().from(table as MySqlTable)) as (T['$inferSelect'] & { id: string })[])
			kept.#rows.set(row.id, row);
		return kept;
	}

	get all(): Row[] {
		return [...this.#rows.values()];
	}

	get(id: string): Row | undefined {
		return this.#rows.get(id);
	}

	/** @throws when the database does not take it */
	async add(row: Row): Promise<Row> {
		await this.#db.insert(this.#table).values(row as never);
		this.#rows.set(row.id, row);
		return row;
	}

	/** Holds at once, also when the database is away: what is taken from somebody is taken. @throws when it is away */
	async change(id: string, part: Partial<Row>): Promise<void> {
		const row = this.#rows.get(id);
		if (!row) return;
		this.#rows.set(id, { ...row, ...part });
		await this.#db
			.update(this.#table)
			.set(part as never)
			.where(eq(this.#table.id, id));
	}

	/** As `change`. */
	async remove(id: string): Promise<void> {
		this.#rows.delete(id);
		await this.#db.delete(this.#table).where(eq(this.#table.id, id));
	}
}
