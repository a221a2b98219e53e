import { eventOf } from '../../answer.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async (event) => {
	const { hub } = await eventOf(event);
	const { rehearsalWatchUrl } = event.locals.bivvo.config;
	return { eventId: hub.eventId, title: hub.state.setup.title, rehearsalWatchUrl };
};
