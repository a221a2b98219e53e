import { error, json } from '@sveltejs/kit';
import { MAX_STILL_BYTES } from '$core/picture/still-header.ts';
import { eventOf } from '../../../../answer.ts';
import type { RequestHandler } from './$types';

/** Keeps a picture for an event; the body is the file. Answers its id. */
export const POST: RequestHandler = async (event) => {
	const { params, request, locals } = event;
	await eventOf(event);
	if (Number(request.headers.get('content-length') ?? 0) > MAX_STILL_BYTES)
		error(413, 'The file is too large; 25 MB is the most.');
	const bytes = Buffer.from(await request.arrayBuffer());
	try {
		return json({ id: await locals.bivvo.stills.keep(params.id, bytes) });
	} catch (problem) {
		error(400, (problem as Error).message);
	}
};
