import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { answering, eventOf } from '../../../../../../answer.ts';
import { note } from '../../../../../access/acting.ts';
import type { RequestEvent } from './$types';

/** Hands out a key because somebody pressed "Show". That this was done is written down; the key is not. */
export const POST = answering(async (event: RequestEvent) => {
	const { params, locals } = event;
	const room = await eventOf(event);
	const found = room.hub.state.setup.destinations.find(({ id }) => id === params.destination);
	if (!found) throw refuse('notFound', { what: 'destination' });
	note(locals, 'keyRevealed', { name: found.name }, params.id);
	const { key } = await locals.bivvo.destinations.secretOf(params.destination);
	return json({ key }, { headers: { 'Cache-Control': 'no-store' } });
});
