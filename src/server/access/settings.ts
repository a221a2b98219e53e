/** What an owner has allowed for the whole organisation. */
import * as v from 'valibot';
import type { Db } from '../db/database.ts';
import { organisation } from '../db/schema.ts';
import { FreshReads } from '../nodes/fresh-reads.ts';
import { NO_NEWS, type News } from '../nodes/news.ts';

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

	readonly #news: News;
	readonly #reads = new FreshReads();

	private constructor(db: Db, settings: Stored, news: News) {
		this.#db = db;
		this.#settings = settings;
		this.#news = news;
		news.follow(ROW, () =>
			this.#reads.read(
				() => storedIn(db),
				(stored) => (this.#settings = stored),
			),
		);
	}

	static async open(db: Db, news = NO_NEWS): Promise<OrganisationSettings> {
		return new OrganisationSettings(db, await storedIn(db), news);
	}

	get now(): Stored {
		return this.#settings;
	}

	async set({ reachesLocal, recordingsFolder }: Settings): Promise<void> {
		const { recordingsFolder: before, earlierFolders } = this.#settings;
		const earlier = new Set([...earlierFolders, before]);
		for (const each of ['', recordingsFolder]) earlier.delete(each);
		const settings = { reachesLocal, recordingsFolder, earlierFolders: [...earlier] };
		await this.#reads.write(ROW, async () => {
			await this.#db
				.insert(organisation)
				.values({ name: ROW, value: settings })
				.onDuplicateKeyUpdate({ set: { value: settings } });
			this.#settings = settings;
		});
		this.#news.tell(ROW, ROW);
	}
}

async function storedIn(db: Db): Promise<Stored> {
	const rows = await db.select().from(organisation);
	const stored = v.safeParse(storedSchema, rows.find(({ name }) => name === ROW)?.value);
	return stored.success ? stored.output : USUAL;
}
