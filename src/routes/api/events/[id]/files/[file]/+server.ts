import { error } from '@sveltejs/kit';
import * as v from 'valibot';
import { idSchema } from '$core/show/basics.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params, locals }) => {
	const ids = [params.id, params.file].every((id) => v.is(idSchema, id));
	const kept = ids ? await locals.bivvo.stills.read(params.id, params.file) : null;
	if (!kept) error(404, 'There is no such file.');
	// A file is named by what is in it, so it never changes.
	const headers = {
		'Content-Type': kept.type,
		'X-Content-Type-Options': 'nosniff',
		'Cache-Control': 'max-age=31536000',
	};
	return new Response(new Uint8Array(kept.bytes), { headers });
};
