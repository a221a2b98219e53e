import { createReadStream } from 'node:fs';
import { error } from '@sveltejs/kit';
import { serveFile } from '../../../serve-file.ts';
import type { RequestHandler } from './$types';

/** A file of the media library, or a range of it. What it is, players find in it; browsers are not to guess. */
export const GET: RequestHandler = async ({ params, locals, request }) => {
	const found = await locals.bivvo.media.find(params.media);
	if (!found) error(404, 'There is no such file.');
	const read = (start: number, end: number) => createReadStream(found.path, { start, end });
	return serveFile({ bytes: found.bytes, read }, request, {
		'Content-Type': 'application/octet-stream',
		'Cache-Control': 'max-age=31536000',
	});
};
