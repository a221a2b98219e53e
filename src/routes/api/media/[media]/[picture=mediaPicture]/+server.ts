import { error, json } from '@sveltejs/kit';
import { answering } from '../../../../answer.ts';
import type { RequestHandler } from './$types';

/** The poster of a file, or its strip of thumbnails; a JPEG. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const bytes = await locals.bivvo.media.picture(params.media, params.picture);
	if (!bytes) error(404, 'There is no such picture.');
	const headers = { 'Content-Type': 'image/jpeg', 'Cache-Control': 'no-cache' };
	return new Response(new Uint8Array(bytes), { headers });
};

export const PUT: RequestHandler = answering(async ({ params, request, locals }) => {
	await locals.bivvo.media.setPicture(params.media, params.picture, new Uint8Array(await request.arrayBuffer()));
	return json({ ok: true });
});
