/** The evening as it is planned: its day, its sheet, what is played and sung, whose names are shown; and whether it was tried. */
import type { PageCommand } from '../show/command.ts';
import { isClip } from '../show/clips/source.ts';
import { stillCarried } from '../show/event/carried.ts';
import { textsOf, unfilled } from '../show/event/fields.ts';
import type { Conflict } from '../show/runsheet/missing.ts';
import { dryRun } from '../show/runsheet/dry-run.ts';
import { dayOf } from '../show/runsheet/clock-time.ts';
import { isDoable } from '../show/runsheet/order.ts';
import { isFresh, type Add, type Known } from './known.ts';

export function checkEvening(known: Known, add: Add): void {
	const { show, media, facts, now } = known;
	const { setup } = show;
	const { startsAt, timeZone } = setup;
	const [day, today] = [startsAt.slice(0, 10), dayOf(now, timeZone)];
	const what = { is: 'start', startsAt, today: day === today } as const;
	add('start', day === '' || day < today ? 'weak' : 'good', what, { mend: { does: 'open', page: 'prepare' } });
	checkSheet(known, add);
	for (const clip of setup.sources.filter(isClip)) {
		const states = clip.items.map(({ mediaId }) => media.get(mediaId));
		const { id, name } = clip;
		const mend = { does: 'editSource', sourceId: id } as const;
		if (states.includes(undefined)) add(`clip ${id}`, 'wrong', { is: 'clipGone', name }, { at: now, mend });
		else if (states.includes('damaged')) add(`clip ${id}`, 'wrong', { is: 'clipDamaged', name }, { at: now, mend });
		else add(`clip ${id}`, 'good', { is: 'clip', name }, { at: now });
	}
	const songs = setup.words.items.length;
	if (songs > 0) add('songs', 'good', { is: 'songs', count: songs });
	for (const carried of stillCarried(show)) {
		const { key, what, name, text } = carried;
		const command: PageCommand = { type: 'confirmCarried', keys: [key] };
		add(`carried ${key}`, 'weak', { is: 'carried', what, name, text }, { mend: { does: 'command', command } });
	}
	const empty = new Set(textsOf(setup).flatMap((text) => unfilled(text, setup.fields)));
	for (const name of empty) add(`field ${name}`, 'wrong', { is: 'fieldEmpty', name }, { mend: { does: 'editFields' } });
	const { changedAt, rehearsedAt } = facts;
	const at = rehearsedAt === 0 ? null : rehearsedAt;
	const changedSince = changedAt > rehearsedAt;
	const isTried = isFresh(at, now) && !changedSince;
	add(
		'rehearsal',
		isTried ? 'good' : 'unseen',
		{ is: 'rehearsal', at, changedSince },
		{
			at,
			mend: isTried ? null : { does: 'rehearse' },
		},
	);
}

const OF_TIMES: readonly Conflict['is'][] = ['late', 'tooLong'];

function checkSheet({ show, media, now }: Known, add: Add): void {
	const cues = show.setup.cues.filter(isDoable);
	if (cues.length === 0) return;
	const { startsAt } = show.setup;
	// Without a date nothing is late.
	const conflicts = dryRun(show, (mediaId) => media.has(mediaId)).conflicts.filter(
		({ is }) => startsAt !== '' || !OF_TIMES.includes(is),
	);
	for (const [i, conflict] of conflicts.entries()) {
		const cue = cues.find(({ id }) => id === conflict.cueId)?.name ?? '';
		const state = OF_TIMES.includes(conflict.is) || conflict.is === 'twoNamed' ? 'weak' : 'wrong';
		const mend = { does: 'editCue', cueId: conflict.cueId } as const;
		add(`sheet ${i}`, state, { is: 'sheetConflict', conflict, cue }, { at: now, mend });
	}
	if (conflicts.length === 0) add('sheet', 'good', { is: 'sheet', cues: cues.length }, { at: now });
}
