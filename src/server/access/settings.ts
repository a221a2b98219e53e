/** What an owner has allowed for the whole organisation. */
import * as v from 'valibot';
import type { Db } from '../db/database.ts';
import { organisation } from '../db/schema.ts';

export const settingsSchema = v.object({
	/** Streams and questions to accounts may go to addresses of the local network. */
	reachesLocal: v.boolean(),
	/** Where recordings go, an absolute path on the server; '' for the data folder. */
	recordingsFolder: v.optional(v.pipe(v.string(), v.trim(), v.maxLength(300)), ''),
});
export type Settings = v.InferOutput<typeof settingsSchema>;

const storedSchema = v.object({
	...settingsSchema.entries,
	/** Where recordings went before, and still lie. */
	earlierFolders: v.optional(v.array(v.string()), []),
});
type Stored = v.InferOutput<typeof storedSchema>;

const USUAL: Stored = { reachesLocal: false, recordingsFolder: '', earlierFolders: [] };
const ROW = 'settings';

export class OrganisationSettings {
	readonly #db: Db;
	#settings: Stored;

	private constructor(db: Db, settings: Stored) {
		this.#db = db;
		this.#settings = settings;
	}

	static async open(db: Db): Promise<OrganisationSettings> {
		const rows = await db.select().from(organisation);
		const stored = v.safeParse(storedSchema, rows.find(({ name }) => name === ROW)?.value);
		return new OrganisationSettings(db, stored.success ? stored.output : USUAL);
	}

	get now(): Stored {
		return this.#settings;
	}

	async set({ reachesLocal, recordingsFolder }: Settings): Promise<void> {
		const { recordingsFolder: before, earlierFolders } = this.#settings;
		const earlier = new Set([...earlierFolders, before]);
		for (const each of ['', recordingsFolder]) earlier.delete(each);
		const settings = { reachesLocal, recordingsFolder, earlierFolders: [...earlier] };
		await this.#db
			.insert(organisation)
			.values({ name: ROW, value: settings })
			.onDuplicateKeyUpdate({ set: { value: settings } });
		this.#settings = settings;
	}
}
