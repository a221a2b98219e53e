import { error, json } from '@sveltejs/kit';
import { log } from '$server/log.ts';
import type { RequestHandler } from './$types';

/** Hands out a key because somebody pressed "Show". That this was done is logged; the key is not. */
export const POST: RequestHandler = async ({ params, locals, request }) => {
	// A form of another site cannot send this type.
	if (request.headers.get('content-type') !== 'application/json') error(415, 'This asks for JSON.');
	const room = await locals.bivvo.roomOf(params.id);
	if (!room?.hub.state.destinations.some(({ id }) => id === params.destination))
		error(404, 'There is no such destination.');
	log.info({ event: params.id, destination: params.destination }, 'A key was revealed');
	const { key } = await locals.bivvo.destinations.secretOf(params.destination);
	return json({ key }, { headers: { 'Cache-Control': 'no-store' } });
};
