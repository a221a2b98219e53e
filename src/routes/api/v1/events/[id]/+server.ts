import { json } from '@sveltejs/kit';
import { apiStateOf } from '$core/programs/api.ts';
import { eventOf } from '../../../../answer.ts';
import type { RequestHandler } from './$types';

/** How an event stands. */
export const GET: RequestHandler = async (event) => {
	const { hub } = await eventOf(event);
	return json(apiStateOf(hub.state, hub.seq));
};
