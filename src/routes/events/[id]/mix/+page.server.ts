import { isOnAir } from '$core/show/state.ts';
import { eventOf } from '../../../answer.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async (event) => {
	const room = await eventOf(event);
	const { state } = room.hub;
	const figures = isOnAir(state) ? await room.log.figuresOf(state.live.broadcast!.id).catch(() => []) : [];
	return {
		eventId: room.hub.eventId,
		title: state.setup.title,
		loudness: figures.flatMap(({ at, loudness }) => (loudness ? [{ at, ...loudness }] : [])),
	};
};
