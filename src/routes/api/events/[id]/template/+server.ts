import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { movedTo } from '$core/show/event/moved.ts';
import { offersOf } from '$core/show/templates/offer.ts';
import { noteTemplate, templateOf } from '$server/events.ts';
import { answering, bodyOf, eventOf } from '../../../../answer.ts';
import type { RequestEvent } from './$types';

/** What the template of an event has that the event has not; null where it came from none. */
export const GET = answering(async (event: RequestEvent) => {
	const { bivvo } = event.locals;
	const { hub } = await eventOf(event);
	const from = await templateOf(bivvo.db, hub.eventId);
	const now = from && (await bivvo.templates.find(from.templateId));
	if (!from || !now) return json(null);
	const { id, name, version } = now;
	const taken = version === from.version ? null : await bivvo.templates.find(id, from.version);
	const { setup } = hub.state;
	// Times of the sheet are compared as they would be on this event's day.
	const offers = taken
		? offersOf(movedTo(taken.show.setup, setup.startsAt), movedTo(now.show.setup, setup.startsAt), setup)
		: [];
	return json({ id, name, version, offers });
});

const takenSchema = v.object({ templateId: v.string(), version: v.pipe(v.number(), v.integer(), v.minValue(1)) });

/** The event has what it wants of a version. */
export const PUT = answering(async (event: RequestEvent) => {
	const { hub } = await eventOf(event);
	const { templateId, version } = await bodyOf(event.request, takenSchema);
	await event.locals.bivvo.templates.get(templateId);
	await noteTemplate(event.locals.bivvo.db, hub.eventId, templateId, version);
	return json({});
});
