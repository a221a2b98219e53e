import { chaptersOf, markersOf, webVtt } from '$core/show/broadcast/chapters.ts';
import { eventOf } from '../../../../../../answer.ts';
import { wantRecording } from '../../want.ts';
import { logLine } from '$lib/words/index.ts';
import type { RequestHandler } from './$types';

/** Takes and markers as WebVTT chapters. */
export const GET: RequestHandler = async (event) => {
	const found = await wantRecording(event.locals.bivvo, event.params);
	const endedAt = found.endedAt ?? Date.now();
	const room = await eventOf(event);
	const durationS = (endedAt - found.startedAt) / 1000;
	const entries = await room.log.around(found.startedAt, endedAt);
	const markers = chaptersOf(markersOf(entries.map(logLine), found.startedAt, durationS));
	const name = found.file.replace(/\.mp4$/, '.vtt');
	return new Response(webVtt(markers, durationS), {
		headers: { 'Content-Type': 'text/vtt; charset=utf-8', 'Content-Disposition': `attachment; filename="${name}"` },
	});
};
