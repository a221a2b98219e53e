import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { destinationFormSchema, saveDestination } from '$server/access/destination-form.ts';
import type { RequestHandler } from './$types';

/** Stores a destination's key and password, and tells the show the rest of it. */
export const PUT: RequestHandler = async ({ params, request, locals }) => {
	const room = await locals.bivvo.roomOf(params.id);
	if (!room) error(404, 'There is no such event.');
	const form = v.safeParse(destinationFormSchema, await request.json().catch(() => null));
	if (!form.success) error(400, form.issues[0].message);
	const problem = await saveDestination(locals.bivvo, room, form.output);
	if (problem) error(400, problem);
	return json({ ok: true });
};
