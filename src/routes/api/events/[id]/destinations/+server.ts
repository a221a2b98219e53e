import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { idSchema } from '$core/show/basics.ts';
import { attachDestination, destinationFormSchema, saveDestination } from '$server/access/destination-form.ts';
import { answering, bodyOf, eventOf } from '../../../../answer.ts';
import { note } from '../../../access/acting.ts';
import type { RequestEvent } from './$types';

/** Stores a destination's key and password, and tells the show the rest of it. */
export const PUT = answering(async (event: RequestEvent) => {
	const room = await eventOf(event);
	const form = await bodyOf(event.request, destinationFormSchema);
	await saveDestination(event.locals.bivvo, room, form);
	note(event.locals, 'destinationSaved', { name: form.name }, event.params.id);
	return json({ ok: true });
});

const attachSchema = v.object({ destinationId: idSchema });

/** Adds a destination to this event that the organisation has used before. */
export const POST = answering(async (event: RequestEvent) => {
	const room = await eventOf(event);
	const { destinationId } = await bodyOf(event.request, attachSchema);
	await attachDestination(event.locals.bivvo, room, destinationId);
	return json({ ok: true });
});
