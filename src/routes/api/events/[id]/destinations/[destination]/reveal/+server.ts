import { error, json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { log } from '$server/log.ts';
import { answering, eventOf } from '../../../../../../answer.ts';
import type { RequestEvent } from './$types';

/** Hands out a key because somebody pressed "Show". That this was done is logged; the key is not. */
export const POST = answering(async (event: RequestEvent) => {
	const { params, locals, request } = event;
	// A form of another site cannot send this type.
	if (request.headers.get('content-type') !== 'application/json') error(415, 'This asks for JSON.');
	const room = await eventOf(event);
	if (!room.hub.state.setup.destinations.some(({ id }) => id === params.destination))
		throw refuse('notFound', { what: 'destination' });
	log.info({ event: params.id, destination: params.destination }, 'A key was revealed');
	const { key } = await locals.bivvo.destinations.secretOf(params.destination);
	return json({ key }, { headers: { 'Cache-Control': 'no-store' } });
});
