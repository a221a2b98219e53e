import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { answering, bodyOf, sayingAsHost } from '../../../answer.ts';
import { note } from '../../access/acting.ts';
import type { RequestHandler } from './$types';

/** How signing in to it goes. */
export const GET: RequestHandler = answering(async ({ params, locals }) =>
	json(locals.bivvo.destinations.signIns.get(params.host)),
);

const orderSchema = v.object({ way: v.picklist(['browser', 'code']) });

/** Begins to sign in; answers what somebody has to do next. */
export const POST: RequestHandler = answering(async ({ params, request, locals }) => {
	const { access, destinations } = locals.bivvo;
	await access.limit('outgoing', locals.admitted.address);
	const { way } = await bodyOf(request, orderSchema);
	const { name } = destinations.signIns.get(params.host);
	note(locals, 'hostSignedIn', { name });
	const redirectUri = new URL('/hosts/back', locals.admitted.origin).href;
	return json(await destinations.signIns.begin(params.host, way, redirectUri).catch(sayingAsHost));
});

/** Signs out and forgets the host. Its destinations keep their last address and key. */
export const DELETE: RequestHandler = answering(async ({ params, locals }) => {
	const { signIns } = locals.bivvo.destinations;
	const { name } = signIns.get(params.host);
	await signIns.remove(params.host);
	note(locals, 'hostRemoved', { name });
	return json({ ok: true });
});
