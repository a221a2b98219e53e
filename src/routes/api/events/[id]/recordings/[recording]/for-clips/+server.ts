import { json } from '@sveltejs/kit';
import type { ForClips } from '$core/afterwards/for-clips.ts';
import { eventOf } from '../../../../../../answer.ts';
import { wantRecording } from '../../want.ts';
import type { RequestHandler } from './$types';

/** Where what was on air stood, and the words, as a clip may follow and bear them. */
export const GET: RequestHandler = async (event) => {
	const found = await wantRecording(event.locals.bivvo, event.params);
	const room = await eventOf(event);
	const entries = await room.log.forClips(found.startedAt, found.endedAt ?? Date.now());
	const source = room.hub.state.setup.sources.find(({ name }) => found.kind === 'source' && name === found.name);
	const told: ForClips = { sourceId: source?.id ?? null, focus: [], words: [] };
	for (const { at, said } of entries) {
		const atS = (at - found.startedAt) / 1000;
		if (typeof said === 'string') continue;
		if (said.is === 'focus') told.focus.push({ atS, program: said.program, sources: said.sources });
		else if (said.is === 'words') told.words.push({ atS, lines: said.lines });
	}
	return json(told);
};
