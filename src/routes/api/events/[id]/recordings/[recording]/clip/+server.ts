import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { wantRecording } from '../../want.ts';
import type { RequestHandler } from './$types';

const clipSchema = v.pipe(
	v.object({ fromS: v.pipe(v.number(), v.minValue(0)), toS: v.pipe(v.number(), v.minValue(0)) }),
	v.check(({ fromS, toS }) => toS > fromS, 'The end of the clip lies before its start.'),
);

/** Cuts a part out as a recording of its own, at the key frame before its start. */
export const POST: RequestHandler = async ({ params, locals, request }) => {
	const found = await wantRecording(locals.bivvo, params);
	const part = v.safeParse(clipSchema, await request.json().catch(() => null));
	if (!part.success) error(400, part.issues[0].message);
	const id = await locals.bivvo.recordings
		.cut(found, part.output)
		.catch((problem: Error) => error(422, `The clip cannot be cut: ${problem.message}`));
	return json({ id });
};
