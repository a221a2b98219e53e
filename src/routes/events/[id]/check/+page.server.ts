import { eventOf } from '../../../answer.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async (event) => {
	const { hub } = await eventOf(event);
	return { eventId: hub.eventId, title: hub.state.setup.title };
};
