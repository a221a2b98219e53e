import { markersOf } from '$core/show/broadcast/chapters.ts';
import { eventOf } from '../../../answer.ts';
import { programOf, type RecordingRow, type Recordings } from '$server/files/recordings.ts';
import { logLine } from '$lib/words/index.ts';
import type { Recorded } from '$lib/recordings/recorded.ts';
import type { PageServerLoad } from './$types';

function stateOf(recordings: Recordings, row: RecordingRow): Recorded['state'] {
	if (recordings.isElsewherePlaced(row)) return 'elsewhere';
	if (row.endedAt === null) return 'recording';
	return recordings.isFinishing(row.id) ? 'finishing' : 'finished';
}

export const load: PageServerLoad = async (event) => {
	const { bivvo } = event.locals;
	const room = await eventOf(event);
	const { eventId } = room.hub;
	const rows = await bivvo.recordings.list(eventId);
	const recordings = await Promise.all(
		rows.map(async (row): Promise<Recorded> => {
			const { id, broadcastId, startedAt, endedAt, file, bytes, kind, name } = row;
			const until = endedAt ?? Date.now();
			const entries = await room.log.around(startedAt, until);
			const durationS = (until - startedAt) / 1000;
			const there = await bivvo.recordings.find(eventId, id);
			return {
				id,
				broadcastId,
				startedAt,
				state: stateOf(bivvo.recordings, row),
				durationS,
				file,
				bytes: there?.bytes ?? bytes,
				missing: !there,
				kind,
				name,
				set: programOf(rows, { id, broadcastId, startedAt, kind }),
				markers: markersOf(entries.map(logLine), startedAt, durationS),
			};
		}),
	);
	return { eventId, title: room.hub.state.setup.title, recordings };
};
