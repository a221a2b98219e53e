import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse } from '$core/refusal.ts';
import { nameSchema } from '$core/show/basics.ts';
import { pictureSchema } from '$core/show/event/picture.ts';
import { startSchema } from '$core/show/event/time-zone.ts';
import { isOnAir } from '$core/show/state.ts';
import { putAway } from '$server/events.ts';
import { answering, bodyOf, eventOf } from '../../../answer.ts';
import type { RequestEvent } from './$types';

const changeSchema = v.object({
	title: v.optional(nameSchema),
	startsAt: v.optional(startSchema),
	picture: v.optional(pictureSchema),
	archived: v.optional(v.boolean()),
	deleted: v.optional(v.boolean()),
});

/** Changes what lists of events show, or puts an event out of sight. */
export const PATCH = answering(async (event: RequestEvent) => {
	const { hub } = await eventOf(event);
	const { title, startsAt, picture, ...away } = await bodyOf(event.request, changeSchema);
	if (away.deleted && isOnAir(hub.state)) throw refuse('whileOnAir', { what: 'delete' });
	if (title !== undefined) await hub.submitAsServer({ type: 'renameEvent', title });
	const { timeZone } = hub.state.setup;
	if (startsAt !== undefined) await hub.submitAsServer({ type: 'setStart', startsAt, timeZone });
	if (picture !== undefined) await hub.submitAsServer({ type: 'setPicture', picture });
	if (Object.keys(away).length > 0) {
		await putAway(event.locals.bivvo.db, hub.eventId, away);
		// What is out of sight is not announced to viewers either.
		const { watch } = event.locals.bivvo;
		if (away.archived || away.deleted) await watch.forgetEvent(hub.eventId);
		else watch.follow(hub.state);
	}
	return json({});
});
