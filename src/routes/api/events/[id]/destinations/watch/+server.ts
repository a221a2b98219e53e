import { json } from '@sveltejs/kit';
import { saveWatchPage, watchFormSchema } from '$server/access/destination-form.ts';
import { answering, bodyOf, eventOf } from '../../../../../answer.ts';
import { note } from '../../../../access/acting.ts';
import type { RequestHandler } from './$types';

/** Stores a watch page, and adds it to the event where it is new. */
export const PUT: RequestHandler = answering(async (event) => {
	const room = await eventOf(event);
	const form = await bodyOf(event.request, watchFormSchema);
	await saveWatchPage(event.locals.bivvo, room, form);
	note(event.locals, 'destinationSaved', { name: form.name }, event.params.id);
	return json({ ok: true });
});
