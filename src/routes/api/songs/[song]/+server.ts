import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse } from '$core/refusal.ts';
import { idSchema } from '$core/show/basics.ts';
import { songSchema } from '$core/words/song.ts';
import { answering, bodyOf } from '../../../answer.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = answering(async ({ locals, params }) =>
	json(await locals.bivvo.songs.get(params.song)),
);

/** Changes a song, or brings back one that was removed. */
export const PUT: RequestHandler = answering(async ({ locals, params, request }) => {
	const song = await bodyOf(request, songSchema);
	if (!v.is(idSchema, params.song)) throw refuse('gone', { what: 'song' });
	await locals.bivvo.songs.put(params.song, song);
	return json({});
});

export const DELETE: RequestHandler = answering(async ({ locals, params }) => {
	await locals.bivvo.songs.remove(params.song);
	return json({});
});
