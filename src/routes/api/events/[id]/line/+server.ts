import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { isOnAir } from '$core/show/state.ts';
import { measureLine } from '$server/broadcast/line-test.ts';
import { answering, eventOf, sayingAsHost } from '../../../../answer.ts';
import { note } from '../../../access/acting.ts';
import type { RequestEvent } from './$types';

/** Measures the line, and tells the show what it carries. Takes some seconds. */
export const POST = answering(async (event: RequestEvent) => {
	const room = await eventOf(event);
	const { lineTestUrl } = event.locals.bivvo.config;
	if (lineTestUrl === null) throw refuse('noLineTest', {});
	if (isOnAir(room.hub.state)) throw refuse('whileOnAir', { what: 'line' });
	note(event.locals, 'lineTested', {}, event.params.id);
	const runsKbps = await measureLine(lineTestUrl).catch(sayingAsHost);
	await room.hub.submitAsServer({ type: 'addLine', line: { runsKbps, at: Date.now() } });
	return json({ ok: true });
});
