/** The organisation's destinations: kept once, for all its events, with keys and passwords sealed. */
import { asc, eq } from 'drizzle-orm';
import { parseAddress } from '../../core/delivery/address.ts';
import type { SavedDestination } from '../../core/show/state.ts';
import type { Db } from '../db/database.ts';
import { destinations } from '../db/schema.ts';
import type { Reach } from '../broadcast/reach.ts';
import type { SignIns } from '../hosts/sign-ins.ts';
import { log } from '../log.ts';
import { NO_NEWS, type News } from '../nodes/news.ts';
import { isUnbound, seal, unseal } from './secrets.ts';

/** Secrets of a destination: key, password, token. */
export interface DestinationSecret {
	key: string;
	password: string;
	/** Opens the host's account, where one is connected. */
	token: string;
}

const NEWS = 'destinations';
const NO_SECRET: Readonly<DestinationSecret> = { key: '', password: '', token: '' };

export class SavedDestinations {
	#db: Db;
	#key: Buffer;

	/** Where streams and questions to accounts may go. */
	readonly reach: Reach;

	/** Hosts that are signed in to. */
	readonly signIns: SignIns;

	readonly #news: News;

	/** @param key that seals secrets, 32 bytes */
	constructor(db: Db, key: Buffer, reach: Reach, signIns: SignIns, news = NO_NEWS) {
		this.#news = news;
		this.signIns = signIns;
		this.#db = db;
		this.#key = key;
		this.reach = reach;
	}

	/** Lets somebody follow what other nodes save or forget. */
	follow(read: () => Promise<void>): void {
		this.#news.follow(NEWS, read);
	}

	/** Called when one was saved or forgotten here. */
	onChange: () => Promise<void> = () => Promise.resolve();

	async save(about: SavedDestination, secret: DestinationSecret): Promise<void> {
		const sealed = seal(this.#key, JSON.stringify(secret), boundTo(about));
		const isSame = (await this.secretOf(about.id)).key === secret.key;
		const typed = isSame ? {} : { keyTypedAt: Date.now() };
		await this.#db
			.insert(destinations)
			.values({ id: about.id, about, sealed, ...typed })
			.onDuplicateKeyUpdate({ set: { about, sealed, ...typed } });
		this.#news.tell(NEWS, about.id);
		await this.onChange();
	}

	/** Something is sent there now. */
	async noteSent(id: string): Promise<void> {
		await this.#db.update(destinations).set({ sentAt: Date.now() }).where(eq(destinations.id, id));
	}

	/** When the key of each was typed, and when something was sent there last, milliseconds since 1970; 0 for never. */
	async times(): Promise<Map<string, { typedAt: number; sentAt: number }>> {
		const { id, keyTypedAt: typedAt, sentAt } = destinations;
		const rows = await this.#db.select({ id, typedAt, sentAt }).from(destinations);
		return new Map(rows.map((row) => [row.id, { typedAt: row.typedAt, sentAt: row.sentAt }]));
	}

	/** Secrets of one destination; empty strings when none were stored. */
	async secretOf(id: string): Promise<DestinationSecret> {
		const [row] = await this.#db.select().from(destinations).where(eq(destinations.id, id));
		if (!row) return { ...NO_SECRET };
		const about = row.about ? boundTo(row.about) : '';
		try {
			return { ...NO_SECRET, ...(JSON.parse(unseal(this.#key, row.sealed, about)) as Partial<DestinationSecret>) };
		} catch (error) {
			// Somebody has changed the row in the database; what was sealed for another address goes nowhere.
			log.error({ destination: id, err: error }, 'What is sealed of a destination does not belong to it');
			return { ...NO_SECRET };
		}
	}

	/** Binds what a former version has sealed. */
	async bindAll(): Promise<void> {
		for (const { id, about, sealed } of await this.#db.select().from(destinations))
			if (about && isUnbound(sealed)) await this.save(about, await this.secretOf(id));
	}

	/** All of them, by name. */
	async list(): Promise<SavedDestination[]> {
		const rows = await this.#db.select({ about: destinations.about }).from(destinations).orderBy(asc(destinations.id));
		// What a former version has saved knew of no lasting keys, and of no signing in.
		const known = rows.flatMap(({ about }) =>
			about
				? [{ ...about, keyLasts: about.keyLasts === true, signed: about.signed ?? null, watch: about.watch ?? null }]
				: [],
		);
		return known.toSorted((a, b) => a.name.localeCompare(b.name));
	}

	/** Adopts a destination that only an event of a former version has. */
	async adopt(about: SavedDestination): Promise<void> {
		const sealed = seal(this.#key, JSON.stringify(NO_SECRET), boundTo(about));
		await this.#db
			.insert(destinations)
			.values({ id: about.id, about, sealed })
			.onDuplicateKeyUpdate({ set: { about } });
	}

	/** Deletes one with its secrets. Events that have it keep its name and address. */
	async forget(id: string): Promise<void> {
		await this.#db.delete(destinations).where(eq(destinations.id, id));
		this.#news.tell(NEWS, id, true);
		await this.onChange();
	}
}

/** Where a destination's key and password go, and where its access code does: host and port, and origin. */
export function partiesOf({ address, accountUrl }: Pick<SavedDestination, 'address' | 'accountUrl'>): {
	host: string;
	account: string;
} {
	const parsed = parseAddress(address);
	const host = 'problem' in parsed ? '' : `${parsed.address.host}:${parsed.address.port}`;
	return { host, account: accountUrl === null ? '' : new URL(accountUrl).origin };
}

/** Secrets open for this destination only, and while it leads to where they were typed for. */
function boundTo(about: SavedDestination): string {
	const { host, account } = partiesOf(about);
	return JSON.stringify([about.id, host, account]);
}

/** What the organisation keeps of a destination. */
export function savedOf(destination: SavedDestination): SavedDestination {
	const { id, name, address, userName, hasKey, keyLasts, maxHeight, maxKbps, maxFps, accountUrl, signed, watch } =
		destination;
	return { id, name, address, userName, hasKey, keyLasts, maxHeight, maxKbps, maxFps, accountUrl, signed, watch };
}
