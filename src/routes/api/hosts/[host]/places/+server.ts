import { json } from '@sveltejs/kit';
import { listSignedPlaces } from '$server/hosts/signed-account.ts';
import { answering, sayingAsHost } from '../../../../answer.ts';
import type { RequestHandler } from './$types';

/** The places at a host that its account may post to. */
export const GET: RequestHandler = answering(async ({ params, locals }) => {
	await locals.bivvo.access.limit('outgoing', locals.admitted.address);
	const { signIns } = locals.bivvo.destinations;
	return json({ places: await listSignedPlaces(signIns, params.host).catch(sayingAsHost) });
});
