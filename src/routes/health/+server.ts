import { json } from '@sveltejs/kit';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals }) => {
	const health = await locals.bivvo.health();
	return json(health, { status: health.database === 'ok' ? 200 : 503 });
};
