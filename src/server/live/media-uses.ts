/** Which events play which files of the media library. */
import { like, or, sql } from 'drizzle-orm';
import { isClip } from '../../core/show/clips/source.ts';
import type { Db } from '../db/database.ts';
import { commands, events } from '../db/schema.ts';
import type { EventDirectory } from './directory.ts';

/** An event that plays a file. */
export interface MediaUse {
	eventId: string;
	title: string;
}

/** By the file's id, the events that play it, as they are now. */
export async function mediaUses(db: Db, directory: EventDirectory): Promise<Record<string, MediaUse[]>> {
	// Only those that mention a file at all are asked: in their snapshot, or in what came since.
	const mention = '%"mediaId"%';
	const since = sql`${events.id} IN (SELECT ${commands.eventId} FROM ${commands} WHERE ${commands.command} LIKE ${mention})`;
	const rows = await db
		.select({ id: events.id })
		.from(events)
		.where(or(like(events.snapshot, mention), since));
	const uses: Record<string, MediaUse[]> = {};
	for (const { id } of rows) {
		const { setup } = await directory.stateOf(id);
		const played = new Set(setup.sources.filter(isClip).flatMap(({ items }) => items.map(({ mediaId }) => mediaId)));
		for (const mediaId of played) (uses[mediaId] ??= []).push({ eventId: id, title: setup.title });
	}
	return uses;
}
