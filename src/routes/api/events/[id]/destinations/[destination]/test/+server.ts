import { error, json } from '@sveltejs/kit';
import { isOnAir } from '$core/show/state.ts';
import { testDestination } from '$server/broadcast/destination-test.ts';
import type { RequestHandler } from './$types';

/** Asks the host whether it would take the stream, without going on air. Takes up to ten seconds. */
export const POST: RequestHandler = async ({ params, locals }) => {
	const room = await locals.bivvo.roomOf(params.id);
	const destination = room?.hub.state.destinations.find(({ id }) => id === params.destination);
	if (!room || !destination) error(404, 'There is no such destination.');
	// Many hosts take one stream at a time: a second one would throw out the first.
	if (isOnAir(room.hub.state)) error(409, 'The event is on air. Test before or after.');
	return json({ problem: await testDestination(await room.keeper.orderFor(destination)) });
};
