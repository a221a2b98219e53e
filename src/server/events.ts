/** Events as stored things: made, from nothing, from a template or from another one; listed; put away. */
import { randomUUID } from 'node:crypto';
import { and, desc, eq, isNotNull, isNull, lt } from 'drizzle-orm';
import { MOST_DESTINATIONS } from '../core/show/delivery/destination.ts';
import { refuse } from '../core/refusal.ts';
import { emptyShow, type Picture, type ShowState } from '../core/show/state.ts';
import { withSetup } from '../core/show/slice.ts';
import { eventFrom, type Answers } from '../core/show/templates/template.ts';
import type { Bivvo } from './bivvo.ts';
import type { Db } from './db/database.ts';
import { events } from './db/schema.ts';
import { serverTimeZone } from './time-zone.ts';

export interface EventLine {
	id: string;
	title: string;
	/** ISO 8601 local time without zone, or empty. */
	startsAt: string;
	/** Milliseconds since 1970; null for one that is not archived. */
	archivedAt: number | null;
	templateId: string | null;
}

/** A deleted event can be brought back for so long. */
export const DELETED_FOR_MS = 7 * 24 * 3_600_000;

/** All that were not deleted, those made last first. */
export async function listEvents(db: Db): Promise<EventLine[]> {
	const { id, title, startsAt, archivedAt, templateId } = events;
	return db
		.select({ id, title, startsAt, archivedAt, templateId })
		.from(events)
		.where(isNull(events.deletedAt))
		.orderBy(desc(events.createdAt), desc(events.id));
}

/** Makes an event with nothing in it but the organisation's destinations, none of them ticked; returns its id. */
export async function createEvent(
	{ db, destinations }: Pick<Bivvo, 'db' | 'destinations'>,
	title: string,
	startsAt: string,
	picture: Picture,
	timeZone = serverTimeZone(),
): Promise<string> {
	const id = newEventId(title);
	const saved = await destinations.list();
	const offered = saved.slice(0, MOST_DESTINATIONS).map((each) => ({
		...each,
		ticked: false,
		details: null,
		hostBroadcast: null,
	}));
	await insertEvent(db, withSetup(emptyShow(id, title, startsAt, picture), { destinations: offered, timeZone }));
	return id;
}

/** Makes an event of a template. @returns its id @throws {Refusal} when the template is gone */
export async function createFromTemplate(
	{ db, templates, stills }: Pick<Bivvo, 'db' | 'templates' | 'stills'>,
	templateId: string,
	answers: Answers,
): Promise<string> {
	const { show, version } = await templates.get(templateId);
	const made = eventFrom(show, newEventId(answers.title), inZone(answers, show));
	await stills.copy(templateId, made.eventId);
	await insertEvent(db, made, { templateId, templateVersion: version });
	return made.eventId;
}

/** Makes an event that has what another one has. @returns its id @throws {Refusal} when that is gone */
export async function createCopy(
	{ db, events: directory, stills }: Pick<Bivvo, 'db' | 'events' | 'stills'>,
	ofEvent: string,
	answers: Answers,
): Promise<string> {
	const { hub } = await directory.owner(ofEvent);
	const made = eventFrom(hub.state, newEventId(answers.title), inZone(answers, hub.state));
	await stills.copy(hub.eventId, made.eventId);
	const { templateId, templateVersion } = events;
	const [from] = await db.select({ templateId, templateVersion }).from(events).where(eq(events.id, hub.eventId));
	await insertEvent(db, made, from);
	return made.eventId;
}

/** The zone of a form is the browser's only where nothing else is known. */
function inZone(answers: Answers, { setup }: ShowState): Answers {
	return { ...answers, timeZone: setup.timeZone || answers.timeZone || serverTimeZone() };
}

/** Stores a whole show as a new event. */
export async function insertEvent(
	db: Db,
	show: ShowState,
	from: { templateId: string | null; templateVersion: number } = { templateId: null, templateVersion: 0 },
): Promise<void> {
	await db.insert(events).values({
		id: show.eventId,
		title: show.setup.title,
		startsAt: show.setup.startsAt,
		createdAt: Date.now(),
		snapshotSeq: 0,
		snapshot: show,
		...from,
	});
}

/** Puts an event out of sight, or deletes it, or brings it back. @throws {Refusal} when there is none */
export async function putAway(db: Db, id: string, change: { archived?: boolean; deleted?: boolean }): Promise<void> {
	if (!(await hasEvent(db, id))) throw refuse('noEvent', {});
	const at = (is: boolean | undefined) => (is === undefined ? undefined : is ? Date.now() : null);
	await db
		.update(events)
		.set({ archivedAt: at(change.archived), deletedAt: at(change.deleted) })
		.where(eq(events.id, id));
}

/** Deletes for good what was deleted long enough ago. @returns ids of what is gone */
export async function forgetDeleted(db: Db, now: number): Promise<string[]> {
	const isOver = and(isNotNull(events.deletedAt), lt(events.deletedAt, now - DELETED_FOR_MS));
	const gone = await db.select({ id: events.id }).from(events).where(isOver);
	if (gone.length > 0) await db.delete(events).where(isOver);
	return gone.map(({ id }) => id);
}

/** Whether an id is in use, be it by an event that was deleted and may come back. */
export async function hasEvent(db: Db, id: string): Promise<boolean> {
	return (await db.select({ id: events.id }).from(events).where(eq(events.id, id))).length > 0;
}

/** Removes an event for good. */
export async function removeEvent(db: Db, id: string): Promise<void> {
	await db.delete(events).where(eq(events.id, id));
}

/** The template that an event came from, and the version of it whose changes it has; null for none. */
export async function templateOf(db: Db, id: string): Promise<{ templateId: string; version: number } | null> {
	const { templateId, templateVersion: version } = events;
	const [row] = await db.select({ templateId, version }).from(events).where(eq(events.id, id));
	return row?.templateId ? { templateId: row.templateId, version: row.version } : null;
}

/** An event has, or does not want, the changes of its template up to a version. */
export async function noteTemplate(db: Db, id: string, templateId: string, version: number): Promise<void> {
	await db.update(events).set({ templateId, templateVersion: version }).where(eq(events.id, id));
}

/** An id that tells people which event it is. */
export function newEventId(title: string): string {
	return `${slug(title)}-${randomUUID().slice(0, 8)}`;
}

function slug(title: string): string {
	const plain = title
		.toLowerCase()
		.replace(/[^a-z0-9]+/g, '-')
		.replace(/^-+|-+$/g, '');
	return plain.slice(0, 40) || 'event';
}
