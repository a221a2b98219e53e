import { refuse } from '$core/refusal.ts';
import { eventOf } from '../../../../answer.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async (event) => {
	const { hub } = await eventOf(event);
	const { title, destinations } = hub.state.setup;
	const destination = destinations.find(({ id }) => id === event.params.destination);
	if (!destination) throw refuse('notFound', { what: 'destination' });
	return { eventId: hub.eventId, title, destination: { id: destination.id, name: destination.name } };
};
