/**
 * The fence of an event: a number that rises with each owner. Whoever writes what belongs to an event shows it, and the
 * database refuses an old one, however late the write comes.
 */
import { and, eq, inArray, sql } from 'drizzle-orm';
import type { Db } from '../db/database.ts';
import { eventLeases } from '../db/schema.ts';

/** Shown with each write; null on a server of one node, where nobody else writes. */
export type Fence = { readonly eventId: string; readonly number: number } | null;

/** What was to be written belongs to an event that another node owns by now. It must not be tried again. */
export class FencedOff extends Error {
	constructor(eventId: string) {
		super(`The event ${eventId} belongs to another node by now.`);
		this.name = 'FencedOff';
	}
}

/** What `db.transaction` hands over. */
export type Transaction = Parameters<Parameters<Db['transaction']>[0]>[0];

/**
 * Writes under a fence: all of it, or nothing when the fence is old. The lease's row is changed with each write, and not
 * only read: databases of a cluster see each other's changes, and not what was read.
 * @throws {FencedOff} when another node has followed
 */
export async function writeFenced<T>(
	db: Db,
	fence: Fence,
	write: (transaction: Db | Transaction) => Promise<T>,
): Promise<T> {
	if (fence === null) return write(db);
	return again(() =>
		db.transaction(async (transaction) => {
			const [{ affectedRows }] = await transaction
				.update(eventLeases)
				.set({ writes: sql`${eventLeases.writes} + 1` })
				.where(and(eq(eventLeases.eventId, fence.eventId), eq(eventLeases.fence, fence.number)));
			if (affectedRows !== 1) throw new FencedOff(fence.eventId);
			return write(transaction);
		}),
	);
}

/**
 * Writes rows of several events at once, each under its own fence. Those whose fence is old are left out: another node
 * writes instead.
 */
export async function writeAllFenced<T extends { readonly fence: Fence }>(
	db: Db,
	rows: readonly T[],
	write: (transaction: Db | Transaction, rows: T[]) => Promise<unknown>,
): Promise<void> {
	const fences = new Map(
		rows.flatMap(({ fence }) => (fence ? [[`${fence.eventId} ${fence.number}`, fence] as const] : [])),
	);
	if (fences.size === 0) return void (await write(db, [...rows]));
	const { eventId, fence: number } = eventLeases;
	const pairs = [...fences.values()].map((each) => sql`(${each.eventId}, ${each.number})`);
	// The rows are found by their key, so that no other row is locked for looking at it.
	const ids = [...fences.values()].map((each) => each.eventId);
	const shown = and(inArray(eventId, ids), sql`(${eventId}, ${number}) in (${sql.join(pairs, sql`, `)})`);
	await again(() =>
		db.transaction(async (transaction) => {
			const [{ affectedRows }] = await transaction
				.update(eventLeases)
				.set({ writes: sql`${eventLeases.writes} + 1` })
				.where(shown);
			if (affectedRows === fences.size) return write(transaction, [...rows]);
			// Those are locked by now: no other node can follow before all is written.
			const valid = await transaction.select({ eventId, number }).from(eventLeases).where(shown);
			const written = rows.filter(
				({ fence }) => !fence || valid.some((each) => each.eventId === fence.eventId && each.number === fence.number),
			);
			if (written.length > 0) await write(transaction, written);
		}),
	);
}

const TRIES = 5;

/** Tries again what a database has undone because somebody else changed the same at the same time. */
export async function again<T>(work: () => Promise<T>): Promise<T> {
	for (let tries = 1; ; tries++)
		try {
			return await work();
		} catch (error) {
			if (tries === TRIES || !isUndone(error)) throw error;
		}
}

/** SQLSTATE class 40: the transaction was rolled back, and may succeed the next time. */
function isUndone(error: unknown): boolean {
	const { cause = error } = error as { cause?: unknown };
	return (cause as { sqlState?: string }).sqlState?.startsWith('40') === true;
}
