import { json } from '@sveltejs/kit';
import { apiActionsOf } from '$core/programs/api.ts';
import { eventOf } from '../../../../../answer.ts';
import type { RequestHandler } from './$types';

/** All that can be done, and what each can be about. */
export const GET: RequestHandler = async (event) => {
	const { hub } = await eventOf(event);
	return json(apiActionsOf(hub.state, Date.now()));
};
