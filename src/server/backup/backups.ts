/** Backups of each day, in the data folder: the newest fourteen are kept. */
import { mkdir, readdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import { ORGANISATION } from '../../core/nodes/lease-of.ts';
import type { Db } from '../db/database.ts';
import { events } from '../db/schema.ts';
import { log } from '../log.ts';
import type { Leases } from '../nodes/leases.ts';
import { writeBackup } from './backup-file.ts';

export const KEPT_BACKUPS = 14;
const DAY_MS = 24 * 3_600_000;
const LOOK_EVERY_MS = 10 * 60_000;
/** Names of those of each day; any other file is left alone. */
const DAILY = /^\d{4}-\d{2}-\d{2}T\d{2}-\d{2}-\d{2}\.backup\.gz$/;

/** A name that tells when it was made, in UTC. */
export function backupName(at: number): string {
	return `${new Date(at).toISOString().slice(0, 19).replaceAll(':', '-')}.backup.gz`;
}

/** Milliseconds since 1970 of a daily backup's name; null for any other name. */
export function backupTime(name: string): number | null {
	if (!DAILY.test(name)) return null;
	const at = Date.parse(`${name.slice(0, 10)}T${name.slice(11, 19).replaceAll('-', ':')}Z`);
	return Number.isNaN(at) ? null : at;
}

/** Those of each day, the newest first. */
export async function listBackups(folder: string): Promise<{ name: string; at: number }[]> {
	const names = await readdir(folder).catch(() => []);
	const daily = names.flatMap((name) => {
		const at = backupTime(name);
		return at === null ? [] : [{ name, at }];
	});
	return daily.toSorted((a, b) => b.at - a.at);
}

/** Of several nodes that one makes them, for all, which has what belongs to the organisation; while none has an event on air. */
export async function mayBackUp(db: Db, leases: Pick<Leases, 'holds'>): Promise<boolean> {
	return leases.holds(ORGANISATION) && (await db.$count(events, eq(events.onAir, true))) === 0;
}

export class Backups {
	readonly #url: string;
	readonly #folder: string;
	readonly #mayDisturb: () => Promise<boolean>;
	readonly #timer: NodeJS.Timeout;
	#running: Promise<void> | null = null;

	/**
	 * @param url of the database
	 * @param mayDisturb false while something is on air: then it waits
	 */
	constructor(url: string, folder: string, mayDisturb: () => Promise<boolean>) {
		this.#url = url;
		this.#folder = folder;
		this.#mayDisturb = mayDisturb;
		this.#timer = setInterval(() => void this.look(Date.now()), LOOK_EVERY_MS);
	}

	/** Makes one where the last is a day old, or there is none. */
	async look(now: number): Promise<void> {
		if (this.#running) return this.#running;
		this.#running = this.#look(now)
			.catch((error: unknown) => log.error({ err: error }, 'No backup was made'))
			.finally(() => (this.#running = null));
		return this.#running;
	}

	async #look(now: number): Promise<void> {
		const [newest] = await listBackups(this.#folder);
		if (newest && now - newest.at < DAY_MS) return;
		if (!(await this.#mayDisturb())) return;
		await mkdir(this.#folder, { recursive: true });
		await writeBackup(this.#url, path.join(this.#folder, backupName(now)), now);
		for (const { name } of (await listBackups(this.#folder)).slice(KEPT_BACKUPS))
			await rm(path.join(this.#folder, name), { force: true });
	}

	async close(): Promise<void> {
		clearInterval(this.#timer);
		await this.#running;
	}
}
