import * as v from 'valibot';
import { answering, bodyOf } from '../../../answer.ts';
import { withCookie } from '../acting.ts';
import { secretSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

const formSchema = v.object({ secret: secretSchema });

/** Opens a link: its secret comes from the part of the address that no server and no log sees. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	await access.limit('link', locals.admitted.address);
	const { secret } = await bodyOf(request, formSchema);
	const { id, name, eventId, role } = await access.links.use(secret);
	access.audit.add('linkUsed', { kind: 'link', id, name }, locals.admitted.address, {}, eventId);
	const isGuest = role === 'guest';
	const cookie = isGuest ? access.letIn(id, locals.admitted, name) : access.signIn('link', id, locals.admitted, name);
	return withCookie({ eventId, role, ...(isGuest && { guestId: id }) }, await cookie);
});
