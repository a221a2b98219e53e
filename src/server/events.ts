/** Events as stored things: made, listed, and the demo event of the made-up Lantern Night. */
import { randomUUID } from 'node:crypto';
import { desc } from 'drizzle-orm';
import { MOST_DESTINATIONS } from '../core/show/delivery/destination.ts';
import { emptyShow, type Picture, type ShowState } from '../core/show/state.ts';
import { withSetup } from '../core/show/slice.ts';
import type { Bivvo } from './bivvo.ts';
import type { Db } from './db/database.ts';
import { events } from './db/schema.ts';
import { serverTimeZone } from './time-zone.ts';

export interface EventLine {
	id: string;
	title: string;
	startsAt: string;
}

export async function listEvents(db: Db): Promise<EventLine[]> {
	const columns = { id: events.id, title: events.title, startsAt: events.startsAt };
	return db.select(columns).from(events).orderBy(desc(events.createdAt));
}

/** Makes an event with nothing in it but the organisation's destinations, none of them ticked; returns its id. */
export async function createEvent(
	{ db, destinations }: Pick<Bivvo, 'db' | 'destinations'>,
	title: string,
	startsAt: string,
	picture: Picture,
	timeZone = serverTimeZone(),
): Promise<string> {
	const id = `${slug(title)}-${randomUUID().slice(0, 8)}`;
	const saved = await destinations.list();
	const offered = saved.slice(0, MOST_DESTINATIONS).map((each) => ({ ...each, ticked: false, details: null }));
	await insertEvent(db, withSetup(emptyShow(id, title, startsAt, picture), { destinations: offered, timeZone }));
	return id;
}

/** Stores a whole show as a new event. */
export async function insertEvent(db: Db, show: ShowState): Promise<void> {
	await db.insert(events).values({
		id: show.eventId,
		title: show.setup.title,
		startsAt: show.setup.startsAt,
		createdAt: Date.now(),
		snapshotSeq: 0,
		snapshot: show,
	});
}

function slug(title: string): string {
	const plain = title
		.toLowerCase()
		.replace(/[^a-z0-9]+/g, '-')
		.replace(/^-+|-+$/g, '');
	return plain.slice(0, 40) || 'event';
}
