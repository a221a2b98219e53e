import { asRunCsv } from '$server/files/as-run-csv.ts';
import { eventOf } from '../../../../../../answer.ts';
import { wantRecording } from '../../want.ts';
import { logLine } from '$lib/words/index.ts';
import type { RequestHandler } from './$types';

/** What happened while this was recorded, as CSV. */
export const GET: RequestHandler = async (event) => {
	const found = await wantRecording(event.locals.bivvo, event.params);
	const room = await eventOf(event);
	const entries = await room.log.around(found.startedAt, found.endedAt ?? Date.now());
	const name = found.file.replace(/\.mp4$/, '.csv');
	return new Response(asRunCsv(entries.map(logLine)), {
		headers: { 'Content-Type': 'text/csv; charset=utf-8', 'Content-Disposition': `attachment; filename="${name}"` },
	});
};
