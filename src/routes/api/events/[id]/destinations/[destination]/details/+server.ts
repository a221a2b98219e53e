import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { detailsSchema, isOnAir } from '$core/show/state.ts';
import { sendDetails } from '$server/access/destination-form.ts';
import type { RequestHandler } from './$types';

/** Tells the host what viewers are to know of this event; it answers address and key, which are stored. */
export const PUT: RequestHandler = async ({ params, request, locals }) => {
	const room = await locals.bivvo.roomOf(params.id);
	if (!room) error(404, 'There is no such event.');
	if (isOnAir(room.hub.state)) error(409, 'The event is on air. Tell the host before or after.');
	const details = v.safeParse(detailsSchema, await request.json().catch(() => null));
	if (!details.success) error(400, details.issues[0].message);
	const problem = await sendDetails(locals.bivvo, room, params.destination, details.output).catch(
		(reason: Error) => reason.message,
	);
	if (problem) error(422, problem);
	return json({ ok: true });
};
