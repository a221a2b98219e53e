import { error } from '@sveltejs/kit';
import { isOnAir } from '$core/show/state.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const room = await locals.bivvo.roomOf(params.id);
	if (!room) error(404, 'There is no such event.');
	const { state } = room.hub;
	const figures = isOnAir(state) ? await room.log.figuresOf(state.broadcast!.id).catch(() => []) : [];
	return {
		eventId: params.id,
		title: state.title,
		loudness: figures.flatMap(({ at, loudness }) => (loudness ? [{ at, ...loudness }] : [])),
	};
};
