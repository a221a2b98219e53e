import { refuse } from '$core/refusal.ts';
import { eventOf } from '../../../../../../answer.ts';
import type { RequestHandler } from './$types';

/** Playlist and segments (RFC 8216) of what a destination gets of a rehearsal. */
export const GET: RequestHandler = async (event) => {
	const { hub } = await eventOf(event);
	const place = event.locals.bivvo.rehearsals?.placeOf(hub.eventId, event.params.destination);
	const isPlaylist = event.params.file === 'live.m3u8';
	const body = isPlaylist ? place?.shelf.playlist() : place?.shelf.file(event.params.file);
	if (!body) throw refuse('notFound', { what: 'file' });
	const type = isPlaylist ? 'application/vnd.apple.mpegurl' : 'video/mp4';
	return new Response(body as BodyInit, { headers: { 'Content-Type': type, 'Cache-Control': 'no-store' } });
};
