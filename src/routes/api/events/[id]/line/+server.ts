import { randomUUID } from 'node:crypto';
import { error, json } from '@sveltejs/kit';
import { isOnAir } from '$core/show/state.ts';
import { measureLine } from '$server/broadcast/line-test.ts';
import type { RequestHandler } from './$types';

/** Measures the line, and tells the show what it carries. Takes some seconds. */
export const POST: RequestHandler = async ({ params, locals }) => {
	const { bivvo } = locals;
	const room = await bivvo.roomOf(params.id);
	if (!room) error(404, 'There is no such event.');
	const { lineTestUrl } = bivvo.config;
	if (lineTestUrl === null)
		error(
			400,
			'No test endpoint is set. Start Bivvo with BIVVO_LINE_TEST, the address that your host gives for tests.',
		);
	if (isOnAir(room.hub.state)) error(409, 'The broadcast needs all of the line. Measure it before or after.');
	const runsKbps = await measureLine(lineTestUrl).catch((problem: Error) => error(502, problem.message));
	const refused = await room.hub.submit('server', randomUUID(), {
		type: 'addLine',
		line: { runsKbps, at: Date.now() },
	});
	if (refused) error(400, refused);
	return json({ ok: true });
};
