/** What an owner has allowed for the whole organisation. */
import * as v from 'valibot';
import type { Db } from '../db/database.ts';
import { organisation } from '../db/schema.ts';

export const settingsSchema = v.object({
	/** Streams and questions to accounts may go to addresses of the local network. */
	reachesLocal: v.boolean(),
});
export type Settings = v.InferOutput<typeof settingsSchema>;

const USUAL: Settings = { reachesLocal: false };
const ROW = 'settings';

export class OrganisationSettings {
	readonly #db: Db;
	#settings: Settings;

	private constructor(db: Db, settings: Settings) {
		this.#db = db;
		this.#settings = settings;
	}

	static async open(db: Db): Promise<OrganisationSettings> {
		const rows = await db.select().from(organisation);
		const stored = v.safeParse(settingsSchema, rows.find(({ name }) => name === ROW)?.value);
		return new OrganisationSettings(db, stored.success ? stored.output : USUAL);
	}

	get now(): Settings {
		return this.#settings;
	}

	async set(settings: Settings): Promise<void> {
		await this.#db
			.insert(organisation)
			.values({ name: ROW, value: settings })
			.onDuplicateKeyUpdate({ set: { value: settings } });
		this.#settings = settings;
	}
}
