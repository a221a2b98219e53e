import { error, redirect } from '@sveltejs/kit';
import { eventOf } from '../../../answer.ts';
import type { PageServerLoad } from './$types';

/** The report of the newest broadcast. */
export const load: PageServerLoad = async (event) => {
	const { hub } = await eventOf(event);
	const { broadcast } = hub.state.live;
	if (!broadcast) error(404, 'There is no report yet: this event has not been on air.');
	redirect(307, `/events/${hub.eventId}/report/${broadcast.id}`);
};
