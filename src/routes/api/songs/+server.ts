import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { songSchema } from '$core/words/song.ts';
import { answering, bodyOf } from '../../answer.ts';
import type { RequestHandler } from './$types';

/** As many as a page sends at a time. */
const MOST_AT_ONCE = 50;
const addSchema = v.object({
	songs: v.pipe(v.array(songSchema), v.minLength(1), v.maxLength(MOST_AT_ONCE)),
	/** Also songs that the library has. */
	anyway: v.optional(v.boolean(), false),
});

/** Songs of the library by title, those that match `search`. */
export const GET: RequestHandler = async ({ locals, url }) =>
	json(await locals.bivvo.songs.list(url.searchParams.get('search') ?? ''));

/** Adds songs; says of each which it is, or which one of the library is the same. */
export const POST: RequestHandler = answering(async ({ locals, request }) => {
	const { songs, anyway } = await bodyOf(request, addSchema);
	const added = [];
	// One after the other: the same song may be among them twice.
	for (const song of songs) added.push(await locals.bivvo.songs.add(song, anyway));
	return json({ added });
});
