import { eventOf } from '../../../../answer.ts';
import type { PageServerLoad } from './$types';

/** Of the event a guest learns its title, and nothing else. */
export const load: PageServerLoad = async (event) => {
	const { hub } = await eventOf(event);
	return {
		eventId: hub.eventId,
		title: hub.state.setup.title,
		guestId: event.params.guest,
		name: event.locals.admitted.actor!.name,
	};
};
