import { error } from '@sveltejs/kit';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const room = await locals.bivvo.roomOf(params.id);
	if (!room) error(404, 'There is no such event.');
	return { eventId: params.id, title: room.hub.state.title, rehearsalWatchUrl: locals.bivvo.config.rehearsalWatchUrl };
};
