import { json } from '@sveltejs/kit';
import type { RequestHandler } from './$types';

/** Whether the server is well, for whoever watches over it; how the events go, for who may see them. */
export const GET: RequestHandler = async ({ locals }) => {
	const health = await locals.bivvo.health();
	const { actor } = locals.admitted;
	const seesAll = actor?.role === 'owner' || actor?.role === 'director';
	const { database } = health;
	return json(seesAll ? health : { database }, { status: database === 'ok' ? 200 : 503 });
};
