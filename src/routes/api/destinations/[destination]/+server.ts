import { json } from '@sveltejs/kit';
import { log } from '$server/log.ts';
import type { RequestHandler } from './$types';

/** Forgets a saved destination with its key. */
export const DELETE: RequestHandler = async ({ params, locals }) => {
	log.info({ destination: params.destination }, 'A destination was forgotten');
	await locals.bivvo.destinations.forget(params.destination);
	return json({ ok: true });
};
