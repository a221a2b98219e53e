import { json } from '@sveltejs/kit';
import { answering, eventOf } from '../../../../answer.ts';
import type { RequestEvent } from './$types';

/** Where a desk sends its program, if that is another address than this one. */
export const POST = answering(async (event: RequestEvent) => {
	const { hub } = await eventOf(event);
	const { bivvo, admitted } = event.locals;
	return json({ address: bivvo.uplinkTickets.issue(hub.eventId, admitted) });
});
