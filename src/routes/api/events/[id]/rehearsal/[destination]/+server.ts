import { json } from '@sveltejs/kit';
import { eventOf } from '../../../../../answer.ts';
import type { RequestHandler } from './$types';

/** Whether something is received, whether it can be played, and how far it is behind the desk, seconds. */
export const GET: RequestHandler = async (event) => {
	const { hub } = await eventOf(event);
	const place = event.locals.bivvo.rehearsals?.placeOf(hub.eventId, event.params.destination);
	return json({
		isReceiving: place?.isReceiving ?? false,
		isPlayable: place ? place.shelf.playlist() !== null : false,
		delayS: place?.shelf.expectedDelayS ?? 0,
	});
};
