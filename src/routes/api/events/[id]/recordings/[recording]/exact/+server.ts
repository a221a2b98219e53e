import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { partSchema, wantRecording } from '../../want.ts';
import type { RequestHandler } from './$types';

/** Keeps an excerpt that was encoded anew, exact to the frame; the body is its MP4 file. */
export const POST: RequestHandler = async ({ params, locals, request, url }) => {
	const found = await wantRecording(locals.bivvo, params);
	const part = v.safeParse(partSchema, {
		fromS: Number(url.searchParams.get('fromS') ?? NaN),
		toS: Number(url.searchParams.get('toS') ?? NaN),
	});
	if (!part.success) error(400, part.issues[0].message);
	if (!request.body) error(400, 'The excerpt is missing.');
	const id = await locals.bivvo.recordings
		.keepExcerpt(found, part.output, request.body)
		.catch((problem: Error) => error(422, `The excerpt cannot be kept: ${problem.message}`));
	return json({ id });
};
