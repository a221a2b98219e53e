import { json } from '@sveltejs/kit';
import { roleOf } from '$core/access/roles.ts';
import { listEvents } from '$server/events.ts';
import type { RequestHandler } from './$types';

/** Events at which whoever asks has a role. */
export const GET: RequestHandler = async ({ locals }) => {
	const actor = locals.admitted.actor!;
	const events = (await listEvents(locals.bivvo.db)).filter(({ id }) => roleOf(actor, id) !== null);
	return json({ events: events.map(({ id, title, startsAt }) => ({ id, title, startsAt })) });
};
