/** Which cue is current, which comes next, and when the current one is over by itself. Pure questions to the show. */
import { clipEndsAt } from '../clips/source.ts';
import { scatter } from '../clips/clip.ts';
import { isOnAir, type ShowState } from '../state.ts';
import { momentOf, timeNear } from './clock-time.ts';
import type { Cue } from './cue.ts';

type Part = Pick<ShowState, 'setup' | 'live'>;

export function cueOf({ setup }: Pick<ShowState, 'setup'>, cueId: string | null): Cue | null {
	return setup.cues.find(({ id }) => id === cueId) ?? null;
}

export function isDoable({ heading, skipped }: Cue): boolean {
	return !heading && !skipped;
}

/** True while lines of the run sheet cannot be changed: on air, until somebody unlocks it. */
export function isSheetLocked(state: Pick<ShowState, 'live'>): boolean {
	return isOnAir(state) && !state.live.sheetUnlocked;
}

/** The cue that was done last, if it is still there. */
export function currentCue(state: Part): Cue | null {
	return cueOf(state, state.live.progress.current);
}

/** The cue that Go does: the one that was chosen, or the first one after the current that is not passed over. */
export function nextCue(state: Part): Cue | null {
	const { chosen, current } = state.live.progress;
	const picked = cueOf(state, chosen);
	if (picked && isDoable(picked)) return picked;
	return cueAfter(state, current);
}

/** The first cue after another one that is not passed over; the first of all after none. */
export function cueAfter({ setup }: Pick<ShowState, 'setup'>, cueId: string | null): Cue | null {
	const place = setup.cues.findIndex(({ id }) => id === cueId);
	return setup.cues.slice(place + 1).find(isDoable) ?? null;
}

/** The cue that was done before the current one, if it is still there. */
export function previousCue(state: Part): Cue | null {
	const before = state.live.progress.done.at(-2);
	return before ? cueOf(state, before.cueId) : null;
}

/** The planned start of the event, milliseconds since 1970; null where none is planned. */
export function plannedStart({ setup }: Pick<ShowState, 'setup'>): number | null {
	return momentOf(setup.startsAt, setup.timeZone);
}

/** A time of day of this evening, milliseconds since 1970. */
export function timeOfEvening(state: Pick<ShowState, 'setup'>, time: string, now: number): number {
	return timeNear(time, plannedStart(state) ?? now, state.setup.timeZone);
}

/** What happens by itself in the current cue: it ends, or the next scene of its rotation has its turn. */
export interface Following {
	/** Milliseconds since 1970. */
	at: number;
	is: 'over' | 'turn';
	/** The clip at whose last frame it is; null when it is a matter of time alone. */
	clipId: string | null;
}

/** What happens by itself next; null while nothing does, or it is held. */
export function following(state: Part): Following | null {
	const cue = currentCue(state);
	const { since, held, count, turn } = state.live.progress;
	if (!cue || held) return null;
	const { follow } = cue;
	switch (follow.by) {
		case 'go':
			return null;
		case 'after':
			return { at: since + follow.ms, is: 'over', clipId: null };
		case 'clock': {
			const at = follow.time === '' ? -Infinity : timeOfEvening(state, follow.time, since);
			// A time that had passed when the cue began is none to wait for: it waits for a press instead.
			return at <= since ? null : { at, is: 'over', clipId: null };
		}
		case 'clip': {
			const at = clipEndsAt(state, follow.sourceId);
			return at === null ? null : { at, is: 'over', clipId: follow.sourceId };
		}
		case 'rotation':
			return { at: since + turnMs(follow, count, turn), is: 'turn', clipId: null };
	}
}

/** When a turn is over, milliseconds from the beginning of the rotation. */
function turnMs({ everyMs, variesMs }: { everyMs: number; variesMs: number }, seed: number, turn: number): number {
	// Varied around a steady beat, so that what varies does not add up.
	return (turn + 1) * everyMs + Math.round((2 * scatter(seed, turn) - 1) * Math.min(variesMs, everyMs / 2));
}
