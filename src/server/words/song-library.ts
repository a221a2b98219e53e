/** The organisation's songs and texts. */
import { randomUUID } from 'node:crypto';
import { dequal } from 'dequal/lite';
import { asc, eq, like, or, sql } from 'drizzle-orm';
import * as v from 'valibot';
import {
	likeness,
	plainForm,
	SAME_SONG,
	searchText,
	songSchema,
	type Song,
	type SongLine,
} from '../../core/words/song.ts';
import { refuse } from '../../core/refusal.ts';
import type { Db } from '../db/database.ts';
import { songs } from '../db/schema.ts';
import { log } from '../log.ts';

/** As many as a list shows; a search finds the others. */
const MOST_LISTED = 2000;
/** Lines by which the same song is looked for. */
const COMPARED_LINES = 4;

type Row = typeof songs.$inferSelect;

/** What has become of a song that was to be added. */
export type Added = { id: string } | { sameAs: { id: string; title: string } };

export class SongLibrary {
	readonly #db: Db;

	constructor(db: Db) {
		this.#db = db;
	}

	/** Songs by title. @param search in titles, authors and lines, whatever the accents and the punctuation; '' for all */
	async list(search = ''): Promise<SongLine[]> {
		const wanted = plainForm(search);
		const rows = await this.#db
			.select()
			.from(songs)
			.where(wanted === '' ? undefined : contains(wanted))
			.orderBy(asc(songs.title), asc(songs.id))
			.limit(MOST_LISTED);
		return rows.flatMap((row) => {
			const song = songOf(row);
			if (!song) return [];
			const { kind, title, authors, languages, sections } = song;
			return [
				{
					id: row.id,
					kind,
					title,
					authors,
					languages,
					begins: sections[0]?.lines[0]?.[0] ?? '',
					changedAt: row.changedAt,
				},
			];
		});
	}

	/** @throws {Refusal} when there is none */
	async get(id: string): Promise<Song> {
		const [row] = await this.#db.select().from(songs).where(eq(songs.id, id));
		const song = row && songOf(row);
		if (!song) throw refuse('gone', { what: 'song' });
		return song;
	}

	/** All of them, to be written to files. */
	async all(): Promise<{ id: string; song: Song; changedAt: number }[]> {
		const rows = await this.#db.select().from(songs).orderBy(asc(songs.title), asc(songs.id));
		return rows.flatMap((row) => {
			const song = songOf(row);
			return song ? [{ id: row.id, song, changedAt: row.changedAt }] : [];
		});
	}

	/** The id under which a song can come in: its own, unless another song has that; and whether it is here already. */
	async freeIdFor(id: string, song: Song): Promise<{ id: string; isKnown: boolean }> {
		const [row] = await this.#db.select().from(songs).where(eq(songs.id, id));
		if (row && dequal(songOf(row), song)) return { id, isKnown: true };
		// It may have come before, and have got another id then.
		const titled = await this.#db.select().from(songs).where(eq(songs.title, song.title));
		const same = titled.find((each) => dequal(songOf(each), song));
		if (same) return { id: same.id, isKnown: true };
		return { id: row ? randomUUID() : id, isKnown: false };
	}

	/** Adds a song, unless the library has it. @param anyway also then */
	async add(song: Song, anyway = false): Promise<Added> {
		const same = anyway ? null : await this.sameAs(song);
		if (same) return { sameAs: same };
		const id = randomUUID();
		await this.put(id, song);
		return { id };
	}

	/** Changes a song, or brings back one that was removed. */
	async put(id: string, song: Song, changedAt = Date.now()): Promise<void> {
		const row = { title: song.title, song, search: searchText(song), changedAt };
		await this.#db
			.insert(songs)
			.values({ id, ...row })
			.onDuplicateKeyUpdate({ set: row });
	}

	/** Removes a song. Events that have it keep the words they were given. */
	async remove(id: string): Promise<void> {
		await this.#db.delete(songs).where(eq(songs.id, id));
	}

	/** The song of the library that this one is, written a little otherwise perhaps; null when it is new. */
	async sameAs(song: Song): Promise<{ id: string; title: string } | null> {
		const lines = song.sections
			.flatMap((section) => section.lines.map((line) => plainForm(line[0] ?? '')))
			.toSorted((a, b) => b.length - a.length)
			.slice(0, COMPARED_LINES);
		const alike = await this.#db
			.select()
			.from(songs)
			.where(or(eq(songs.title, song.title), ...lines.filter((line) => line !== '').map(contains)))
			.limit(20);
		const found = alike.find((row) => likeness(songOf(row) ?? { sections: [] }, song) >= SAME_SONG);
		return found ? { id: found.id, title: found.title } : null;
	}
}

/** @param text in plain form, which has no letters that LIKE reads otherwise */
const contains = (text: string) => like(songs.search, sql`concat('%', ${text}, '%')`);

/** Null when it is not what it should be. */
function songOf(row: Row): Song | null {
	const parsed = v.safeParse(songSchema, row.song);
	if (parsed.success) return parsed.output;
	log.error({ song: row.id }, 'A song of the library cannot be read');
	return null;
}
