/** The organisation's destinations: kept once, for all its events, with keys and passwords sealed. */
import { asc, eq } from 'drizzle-orm';
import type { SavedDestination } from '../../core/show/state.ts';
import type { Db } from '../db/database.ts';
import { destinations } from '../db/schema.ts';
import { seal, unseal } from './secrets.ts';

/** Secrets of a destination: key, password, token. */
export interface DestinationSecret {
	key: string;
	password: string;
	/** Opens the host's account, where one is connected. */
	token: string;
}

const NO_SECRET: Readonly<DestinationSecret> = { key: '', password: '', token: '' };

export class SavedDestinations {
	#db: Db;
	#key: Buffer;

	/** @param key that seals secrets, 32 bytes */
	constructor(db: Db, key: Buffer) {
		this.#db = db;
		this.#key = key;
	}

	async save(about: SavedDestination, secret: DestinationSecret): Promise<void> {
		const sealed = seal(this.#key, JSON.stringify(secret));
		await this.#db
			.insert(destinations)
			.values({ id: about.id, about, sealed })
			.onDuplicateKeyUpdate({ set: { about, sealed } });
	}

	/** Secrets of one destination; empty strings when none were stored. */
	async secretOf(id: string): Promise<DestinationSecret> {
		const [row] = await this.#db.select().from(destinations).where(eq(destinations.id, id));
		if (!row) return { ...NO_SECRET };
		return { ...NO_SECRET, ...(JSON.parse(unseal(this.#key, row.sealed)) as Partial<DestinationSecret>) };
	}

	/** All of them, by name. */
	async list(): Promise<SavedDestination[]> {
		const rows = await this.#db.select({ about: destinations.about }).from(destinations).orderBy(asc(destinations.id));
		const known = rows.flatMap(({ about }) => (about ? [about] : []));
		return known.toSorted((a, b) => a.name.localeCompare(b.name));
	}

	/** Adopts a destination that only an event of a former version has. */
	async adopt(about: SavedDestination): Promise<void> {
		const sealed = seal(this.#key, JSON.stringify(NO_SECRET));
		await this.#db
			.insert(destinations)
			.values({ id: about.id, about, sealed })
			.onDuplicateKeyUpdate({ set: { about } });
	}

	/** Deletes one with its secrets. Events that have it keep its name and address. */
	async forget(id: string): Promise<void> {
		await this.#db.delete(destinations).where(eq(destinations.id, id));
	}
}

/** What the organisation keeps of a destination. */
export function savedOf(destination: SavedDestination): SavedDestination {
	const { id, name, address, userName, hasKey, maxHeight, maxKbps, maxFps, accountUrl } = destination;
	return { id, name, address, userName, hasKey, maxHeight, maxKbps, maxFps, accountUrl };
}
