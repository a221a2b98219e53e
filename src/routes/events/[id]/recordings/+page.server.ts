import { error } from '@sveltejs/kit';
import { markersOf } from '$core/show/chapters.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { bivvo } = locals;
	const room = await bivvo.roomOf(params.id);
	if (!room) error(404, 'There is no such event.');
	const rows = await bivvo.recordings.list(params.id);
	const recordings = await Promise.all(
		rows.map(async ({ id, broadcastId, startedAt, endedAt, file, bytes, kind, name }) => {
			const until = endedAt ?? Date.now();
			const lines = await room.log.between(startedAt - 60_000, until);
			const durationS = (until - startedAt) / 1000;
			const there = await bivvo.recordings.find(params.id, id);
			return {
				id,
				broadcastId,
				startedAt,
				running: endedAt === null,
				durationS,
				file,
				bytes: there?.bytes ?? bytes,
				missing: !there,
				kind,
				name,
				set: kind === 'source' || kind === 'channel' ? id.replace(/-\d+$/, '') : id,
				markers: markersOf(lines, startedAt, durationS),
			};
		}),
	);
	return { eventId: params.id, title: room.hub.state.title, recordings };
};
