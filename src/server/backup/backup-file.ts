/**
 * Backups of the database: lines of JSON, packed with gzip. The first line says what it is, the last one how many rows there were, so that a
 * torn file is known for one. Rows are written as they are: what is sealed stays sealed, and opens with the data folder's key only.
 */
import { createReadStream, createWriteStream } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import type { Duplex, Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise';
import * as v from 'valibot';

/** Drizzle keeps here which migrations were made: they belong to the tables, not to what is in them. */
const MIGRATIONS = '__drizzle_migrations';
const MOST_ROWS_AT_ONCE = 200;

const headSchema = v.object({
	format: v.literal('bivvo-backup'),
	version: v.literal(1),
	/** Milliseconds since 1970. */
	at: v.number(),
	/** Migrations that the tables had seen. */
	migrations: v.number(),
	tables: v.array(v.pipe(v.string(), v.regex(/^[a-z_]{1,64}$/))),
});
const rowSchema = v.object({ table: v.string(), row: v.record(v.string(), v.unknown()) });
const endSchema = v.object({ rows: v.number() });

export type BackupHead = v.InferOutput<typeof headSchema>;

/** A backup that cannot be used, with a sentence why. */
export class BackupProblem extends Error {}

/**
 * Writes all rows as they are at one moment; the file appears when it is whole.
 * @param url of the database
 * @returns how many rows it has
 */
export async function writeBackup(url: string, file: string, at: number): Promise<number> {
	const connection = await mysql.createConnection({ uri: url, charset: 'utf8mb4' });
	const part = `${file}.part`;
	try {
		await connection.query('set transaction isolation level repeatable read');
		await connection.query('start transaction with consistent snapshot, read only');
		const tables = await tablesOf(connection);
		const migrations = await migrationsOf(connection);
		let rows = 0;
		async function* lines() {
			const head: BackupHead = { format: 'bivvo-backup', version: 1, at, migrations, tables };
			yield `${JSON.stringify(head)}\n`;
			for (const table of tables)
				for await (const row of rowsOf(connection, table)) {
					rows++;
					yield `${JSON.stringify({ table, row })}\n`;
				}
			yield `${JSON.stringify({ rows })}\n`;
		}
		await pipeline(lines, createGzip(), createWriteStream(part, { mode: 0o600 }));
		await rename(part, file);
		return rows;
	} finally {
		await rm(part, { force: true });
		await connection.end();
	}
}

/**
 * Puts the rows of a backup in place of all there are: all of them, or nothing is changed.
 * @throws {BackupProblem} when the file is torn, is none, or is of a later version
 */
export async function restoreBackup(url: string, file: string): Promise<BackupHead & { rows: number }> {
	const checked = await checkBackup(file);
	const connection = await mysql.createConnection({ uri: url, charset: 'utf8mb4' });
	try {
		const [tables, migrations] = [await tablesOf(connection), await migrationsOf(connection)];
		if (migrations < checked.migrations)
			throw new BackupProblem(
				'This backup was made by a later version of Bivvo. Start that version once, then restore.',
			);
		await connection.query('set foreign_key_checks = 0');
		await connection.beginTransaction();
		for (const table of tables) await connection.query('delete from ??', [table]);
		for await (const { table, rows } of groupsOf(file)) {
			if (!tables.includes(table)) continue;
			const columns = Object.keys(rows[0]!);
			const values = rows.map((row) => columns.map((column) => row[column] ?? null));
			await connection.query('insert into ?? (??) values ?', [table, columns, values]);
		}
		await connection.commit();
		return checked;
	} catch (error) {
		await connection.rollback().catch(() => {});
		throw error;
	} finally {
		await connection.end();
	}
}

/** Reads a backup from end to end. @throws {BackupProblem} when it is torn, or none */
export async function checkBackup(file: string): Promise<BackupHead & { rows: number }> {
	let head: BackupHead | null = null;
	let rows = 0;
	let end: number | null = null;
	for await (const line of linesOf(file)) {
		if (head === null) head = parsed(line, headSchema, 'This is no backup of Bivvo.');
		else if (end !== null) throw torn();
		else if (line.startsWith('{"rows":')) end = parsed(line, endSchema, 'The backup is damaged.').rows;
		else {
			parsed(line, rowSchema, 'The backup is damaged.');
			rows++;
		}
	}
	if (head === null) throw new BackupProblem('This is no backup of Bivvo.');
	if (end !== rows) throw torn();
	return { ...head, rows };
}

function torn(): BackupProblem {
	return new BackupProblem('The backup is torn: its end is missing. Nothing was changed.');
}

/** Rows of one table at a time, as many as one statement takes. */
async function* groupsOf(file: string): AsyncGenerator<{ table: string; rows: Record<string, unknown>[] }> {
	let table = '';
	let rows: Record<string, unknown>[] = [];
	let isHead = true;
	for await (const line of linesOf(file)) {
		if (isHead || line.startsWith('{"rows":')) {
			isHead = false;
			continue;
		}
		const next = parsed(line, rowSchema, 'The backup is damaged.');
		if (rows.length > 0 && (next.table !== table || rows.length >= MOST_ROWS_AT_ONCE)) {
			yield { table, rows };
			rows = [];
		}
		table = next.table;
		rows.push(next.row);
	}
	if (rows.length > 0) yield { table, rows };
}

async function* linesOf(file: string): AsyncGenerator<string> {
	const source = createReadStream(file);
	const text = source.pipe(createGunzip());
	source.on('error', (error) => text.destroy(error));
	try {
		yield* createInterface({ input: text, crlfDelay: Infinity });
	} catch (error) {
		const { code } = error as NodeJS.ErrnoException;
		if (code === 'ENOENT') throw new BackupProblem('There is no such backup.');
		throw code?.startsWith('Z_') ? torn() : error;
	} finally {
		source.destroy();
	}
}

function parsed<S extends v.GenericSchema>(line: string, schema: S, problem: string): v.InferOutput<S> {
	try {
		return v.parse(schema, JSON.parse(line));
	} catch {
		throw new BackupProblem(problem);
	}
}

async function tablesOf(connection: Connection): Promise<string[]> {
	const [rows] = await connection.query<RowDataPacket[]>(
		`select table_name as name from information_schema.tables
		 where table_schema = database() and table_type = 'BASE TABLE' order by table_name`,
	);
	return rows.map(({ name }) => name as string).filter((name) => name !== MIGRATIONS);
}

async function migrationsOf(connection: Connection): Promise<number> {
	const [rows] = await connection.query<RowDataPacket[]>('select count(*) as count from ??', [MIGRATIONS]);
	return Number(rows[0]!.count);
}

/** What the driver has beneath its promises. */
interface Beneath {
	stream: Duplex;
	query(sql: string, of: string[]): { stream(): Readable };
}

/** Row by row: a table of figures may be larger than the memory. @throws when the connection breaks */
async function* rowsOf(connection: Connection, table: string): AsyncGenerator<Record<string, unknown>> {
	const { connection: beneath } = connection as unknown as { connection: Beneath };
	const rows = beneath.query('select * from ??', [table]).stream();
	// The driver does not always tell whoever reads: what is missing would be waited for without end.
	const broke = () => rows.destroy(new Error('The connection to the database broke.'));
	beneath.stream.once('close', broke);
	if (beneath.stream.destroyed) broke();
	try {
		yield* rows as AsyncIterable<Record<string, unknown>>;
	} finally {
		beneath.stream.off('close', broke);
	}
}
