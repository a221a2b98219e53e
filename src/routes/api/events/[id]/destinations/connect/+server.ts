import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { connectDestination, connectFormSchema } from '$server/access/destination-form.ts';
import type { RequestHandler } from './$types';

/** Makes a destination of a place of a host's account. */
export const POST: RequestHandler = async ({ params, request, locals }) => {
	const room = await locals.bivvo.roomOf(params.id);
	if (!room) error(404, 'There is no such event.');
	const form = v.safeParse(connectFormSchema, await request.json().catch(() => null));
	if (!form.success) error(400, form.issues[0].message);
	const problem = await connectDestination(locals.bivvo, room, form.output).catch((reason: Error) => reason.message);
	if (problem) error(422, problem);
	return json({ ok: true });
};
