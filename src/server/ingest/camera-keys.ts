/** The key of each camera in the network: typed into the camera once, kept sealed, and found without asking the database. */
import { randomInt } from 'node:crypto';
import { seal, unseal } from '../access/secrets.ts';
import { hashOf } from '../access/tokens.ts';
import type { Db } from '../db/database.ts';
import { cameras } from '../db/schema.ts';
import { log } from '../log.ts';
import { FreshReads } from '../nodes/fresh-reads.ts';
import { NO_NEWS, type News } from '../nodes/news.ts';

/** Small letters and figures that are not taken for each other: a key is typed on a camera's own small screen. */
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';
const [GROUPS, GROUP] = [4, 4];
const NEWS = 'cameras';

/** Sixteen of 31 characters, 79 bits, in four groups. */
function newKey(): string {
	const letter = () => LETTERS[randomInt(LETTERS.length)];
	const group = () => Array.from({ length: GROUP }, letter).join('');
	return Array.from({ length: GROUPS }, group).join('-');
}

export class CameraKeys {
	readonly #db: Db;
	readonly #secret: Buffer;
	readonly #keys = new Map<string, string>();
	/** Cameras by the SHA-256 of their keys. */
	readonly #byHash = new Map<string, string>();
	/** Keys that are being made, so that two pages that ask at once are told the same. */
	readonly #making = new Map<string, Promise<string>>();

	readonly #news: News;
	readonly #reads = new FreshReads();
	/** Told of each camera to which another node has given another key. */
	onRenewed: (id: string) => void = () => {};

	private constructor(db: Db, secret: Buffer, news: News) {
		this.#db = db;
		this.#secret = secret;
		this.#news = news;
	}

	/** @param secret that seals keys */
	static async open(db: Db, secret: Buffer, news = NO_NEWS): Promise<CameraKeys> {
		const all = new CameraKeys(db, secret, news);
		news.follow(NEWS, () => all.#read());
		await all.#read();
		return all;
	}

	#read(): Promise<void> {
		return this.#reads.read(
			() => this.#db.select().from(cameras),
			(rows) => this.#take(rows),
		);
	}

	#take(rows: (typeof cameras.$inferSelect)[]): void {
		for (const { id, sealed } of rows)
			try {
				const key = unseal(this.#secret, sealed, `camera ${id}`);
				const before = this.#keys.get(id);
				if (before === key) continue;
				this.#know(id, key);
				if (before !== undefined) this.onRenewed(id);
			} catch {
				log.warn({ camera: id }, 'The key of a camera cannot be read; it gets another one when somebody asks');
			}
	}

	#know(id: string, key: string): void {
		this.#byHash.delete(hashOf(this.#keys.get(id) ?? ''));
		this.#keys.set(id, key);
		this.#byHash.set(hashOf(key), id);
	}

	/** The camera with a key as it was typed: capital letters, blanks and dashes do not matter. Null for nobody's. */
	find(typed: string): string | null {
		const plain = typed.toLowerCase().replace(/[^a-z0-9]/g, '');
		if (plain.length !== GROUPS * GROUP) return null;
		const groups = plain.match(new RegExp(`.{${GROUP}}`, 'g'))!;
		return this.#byHash.get(hashOf(groups.join('-'))) ?? null;
	}

	/** The key of a camera; one that has none is given one. */
	async keyOf(id: string): Promise<string> {
		return this.#keys.get(id) ?? this.#making.get(id) ?? this.renew(id);
	}

	/** Gives a camera another key: what was typed before is good for nothing any more. */
	renew(id: string): Promise<string> {
		const made = this.#reads.write(id, () => this.#store(id)).finally(() => this.#making.delete(id));
		this.#making.set(id, made);
		return made;
	}

	async #store(id: string): Promise<string> {
		const key = newKey();
		const row = { id, sealed: seal(this.#secret, key, `camera ${id}`), keyMadeAt: Date.now() };
		await this.#db.insert(cameras).values(row).onDuplicateKeyUpdate({ set: row });
		this.#know(id, key);
		this.#news.tell(NEWS, id);
		return key;
	}
}
