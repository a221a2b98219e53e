/** Writes down who did what: sign-ins, roles, keys that were shown, broadcasts. */
import { randomUUID } from 'node:crypto';
import { desc, lt, sql } from 'drizzle-orm';
import type { AuditCode, AuditLine } from '../../core/access/audit.ts';
import type { Actor } from '../../core/access/roles.ts';
import type { Db } from '../db/database.ts';
import { auditLines } from '../db/schema.ts';
import { WriteQueue } from '../live/write-queue.ts';

const MOST_WAITING = 5000;
/** Lines of a page of the list. */
export const AUDIT_PAGE = 200;
const LONGEST_ABOUT = 200;

export class AuditLog {
	readonly #db: Db;
	readonly #lines: WriteQueue<typeof auditLines.$inferInsert>;

	constructor(db: Db) {
		this.#db = db;
		const id = sql`id`;
		this.#lines = new WriteQueue({
			name: 'audit log',
			write: (rows) => db.insert(auditLines).values(rows).onDuplicateKeyUpdate({ set: { id } }),
			most: MOST_WAITING,
		});
	}

	/** @param about what its sentence needs; cut, so that nobody fills the log */
	add(
		code: AuditCode,
		{ kind, id, name }: Pick<Actor, 'kind' | 'id' | 'name'>,
		address: string,
		about: Record<string, string> = {},
		eventId: string | null = null,
	): void {
		const cut = Object.fromEntries(Object.entries(about).map(([key, text]) => [key, text.slice(0, LONGEST_ABOUT)]));
		void this.#lines.add({
			at: Date.now(),
			code,
			actorKind: kind,
			actorId: id,
			actorName: name.slice(0, 120),
			eventId,
			about: cut,
			address,
			entry: randomUUID(),
		});
	}

	/** The newest lines. @param before lines that are older than this one's number only */
	async list(before = Number.MAX_SAFE_INTEGER): Promise<(AuditLine & { id: number })[]> {
		const rows = await this.#db
			.select()
			.from(auditLines)
			.where(lt(auditLines.id, before))
			.orderBy(desc(auditLines.id))
			.limit(AUDIT_PAGE);
		return rows.map(({ entry: _, ...line }) => line);
	}

	close(): Promise<void> {
		return this.#lines.close();
	}
}
