import { json } from '@sveltejs/kit';
import { mediaChangeSchema } from '$core/media/media.ts';
import { answering, bodyOf } from '../../../answer.ts';
import type { RequestHandler } from './$types';

/** Changes what is set and known of a file; deletes it, or brings it back. */
export const PATCH: RequestHandler = answering(async ({ params, request, locals }) => {
	await locals.bivvo.media.change(params.media, await bodyOf(request, mediaChangeSchema));
	return json({ ok: true });
});
