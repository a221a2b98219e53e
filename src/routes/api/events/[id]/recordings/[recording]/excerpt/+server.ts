import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { partSchema, wantRecording } from '../../want.ts';
import type { RequestHandler } from './$types';

/** Cuts a part out as a recording of its own, at the key frame before its start. */
export const POST: RequestHandler = async ({ params, locals, request }) => {
	const found = await wantRecording(locals.bivvo, params);
	const part = v.safeParse(partSchema, await request.json().catch(() => null));
	if (!part.success) error(400, part.issues[0].message);
	const id = await locals.bivvo.recordings
		.cut(found, part.output)
		.catch((problem: Error) => error(422, `The excerpt cannot be cut: ${problem.message}`));
	return json({ id });
};
