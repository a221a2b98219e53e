import { json } from '@sveltejs/kit';
import { connectDestination, connectFormSchema } from '$server/access/destination-form.ts';
import { answering, bodyOf, eventOf, sayingAsHost } from '../../../../../answer.ts';
import type { RequestEvent } from './$types';

/** Makes a destination of a place of a host's account. */
export const POST = answering(async (event: RequestEvent) => {
	const room = await eventOf(event);
	const form = await bodyOf(event.request, connectFormSchema);
	await connectDestination(event.locals.bivvo, room, form).catch(sayingAsHost);
	return json({ ok: true });
});
