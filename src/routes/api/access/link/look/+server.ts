import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse } from '$core/refusal.ts';
import { answering, bodyOf } from '../../../../answer.ts';
import { secretSchema } from '../../fields.ts';
import type { RequestHandler } from './$types';

const lookSchema = v.object({ secret: secretSchema });

/** What a link is for, before it is opened; what nobody has been invited to is told to nobody. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { access, events } = locals.bivvo;
	await access.limit('link', locals.admitted.address);
	const { secret } = await bodyOf(request, lookSchema);
	const { id, name, eventId, role, usesLeft } = access.links.look(secret);
	const isIn = role === 'guest' && access.isIn(id, request.headers.get('cookie'), locals.admitted);
	if (usesLeft <= 0 && !isIn) throw refuse('linkGone', { why: 'used' });
	const { title, startsAt, timeZone, look } = (await events.stateOf(eventId)).setup;
	const invitation = { title, startsAt, timeZone, organisation: look.organisation };
	return json({ role, name, eventId, ...(role === 'guest' && { guestId: id, isIn, invitation }) });
});
