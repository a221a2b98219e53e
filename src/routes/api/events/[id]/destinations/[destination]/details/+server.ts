import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { detailsSchema } from '$core/show/delivery/destination.ts';
import { isOnAir } from '$core/show/state.ts';
import { sendDetails } from '$server/access/destination-form.ts';
import { answering, bodyOf, eventOf, sayingAsHost } from '../../../../../../answer.ts';
import type { RequestEvent } from './$types';

/** Tells the host what viewers are to know of this event; it answers address and key, which are stored. */
export const PUT = answering(async (event: RequestEvent) => {
	const room = await eventOf(event);
	if (isOnAir(room.hub.state)) throw refuse('whileOnAir', { what: 'details' });
	const details = await bodyOf(event.request, detailsSchema);
	await sendDetails(event.locals.bivvo, room, event.params.destination, details).catch(sayingAsHost);
	return json({ ok: true });
});
