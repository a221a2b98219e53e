import { error } from '@sveltejs/kit';
import * as v from 'valibot';
import { idSchema } from '$core/show/basics.ts';
import { asRunOf } from '$core/show/runsheet/as-run.ts';
import { eventOf } from '../../../../answer.ts';
import { logLine } from '$lib/words/index.ts';
import type { PageServerLoad } from './$types';

/** What happened so soon after a broadcast belongs to it. */
const AFTER_END_MS = 5000;
/** A line of the run sheet that was begun so soon before going on air belongs to it. */
const EARLIER_MS = 60_000;

export const load: PageServerLoad = async (event) => {
	const { params } = event;
	const room = await eventOf(event);
	if (!v.is(idSchema, params.broadcast)) error(404, 'There is no such broadcast.');
	const figures = await room.log.figuresOf(params.broadcast);
	const [first, last] = [figures[0], figures.at(-1)];
	if (!first || !last)
		error(404, 'Nothing was written down of this broadcast. It may have been shorter than a second.');
	const { broadcast } = room.hub.state.live;
	const known = broadcast?.id === params.broadcast ? broadcast : null;
	// Of a former broadcast the log tells when it began and ended.
	const entries = await room.log.around(first.at, last.at);
	const lines = entries.map(logLine);
	const bounds = lines.filter(({ kind }) => kind === 'broadcast' || kind === 'rehearsal');
	const beginning = bounds.findLast(({ at }) => at <= first.at);
	const end = bounds.find(({ at }) => at >= last.at);
	const startedAt = known?.startedAt ?? beginning?.at ?? first.at;
	const endedAt = known ? (known.endedAt ?? Date.now()) : (end?.at ?? last.at);
	return {
		eventId: room.hub.eventId,
		title: room.hub.state.setup.title,
		running: known !== null && known.endedAt === null,
		rehearsal: known?.rehearsal ?? beginning?.kind === 'rehearsal',
		startedAt,
		endedAt,
		targetLufs: room.hub.state.setup.mix.master.targetLufs,
		figures,
		asRun: asRunOf(
			entries.filter(({ at }) => at <= endedAt),
			endedAt,
		).filter((row) => row.startedAt >= startedAt - EARLIER_MS),
		timeZone: room.hub.state.setup.timeZone,
		lines: lines.filter(({ at }) => at >= startedAt && at <= endedAt + AFTER_END_MS),
	};
};
