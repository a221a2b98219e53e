import { error } from '@sveltejs/kit';
import * as v from 'valibot';
import { idSchema } from '$core/show/basics.ts';
import type { Bivvo } from '$server/bivvo.ts';
import type { Found } from '$server/files/recordings.ts';

/** The recording that a route is about. @throws the answer that there is none */
export async function wantRecording(
	{ recordings }: Bivvo,
	{ id, recording }: { id: string; recording: string },
): Promise<Found> {
	const ids = [id, recording].every((each) => v.is(idSchema, each));
	const found = ids ? await recordings.find(id, recording) : null;
	if (!found) error(404, 'There is no such recording, or its file is gone.');
	return found;
}

/** A part of a recording, seconds from its start. */
export const partSchema = v.pipe(
	v.object({ fromS: v.pipe(v.number(), v.minValue(0)), toS: v.pipe(v.number(), v.minValue(0)) }),
	v.check(({ fromS, toS }) => toS > fromS, 'The end of the excerpt lies before its start.'),
);
