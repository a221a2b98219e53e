import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { isOnAir } from '$core/show/state.ts';
import { testDestination } from '$server/broadcast/destination-test.ts';
import { answering, eventOf } from '../../../../../../answer.ts';
import { note } from '../../../../../access/acting.ts';
import type { RequestEvent } from './$types';

/** Asks the host whether it would take the stream, without going on air. Takes up to ten seconds. */
export const POST = answering(async (event: RequestEvent) => {
	const room = await eventOf(event);
	const destination = room.hub.state.setup.destinations.find(({ id }) => id === event.params.destination);
	if (!destination) throw refuse('notFound', { what: 'destination' });
	// Many hosts take one stream at a time: a second one would throw out the first.
	if (isOnAir(room.hub.state)) throw refuse('whileOnAir', { what: 'test' });
	await event.locals.bivvo.access.limit('outgoing', event.locals.admitted.address);
	note(event.locals, 'destinationTested', { name: destination.name }, event.params.id);
	const fault = await testDestination(await room.keeper.orderFor(destination));
	room.checks.tried(destination.id, fault, Date.now());
	return json({ fault });
});
