/** Plan against actual: when each cue should begin, when it will, and how far the evening is over or under. */
import { clipOf } from '../clips/source.ts';
import { roundMs } from '../clips/clip.ts';
import type { ShowState } from '../state.ts';
import type { Cue } from './cue.ts';
import { currentCue, isDoable, plannedStart, timeOfEvening } from './order.ts';

type Part = Pick<ShowState, 'setup' | 'live'>;

/** When a cue should begin, milliseconds since 1970, and how long it should last. */
export interface Planned {
	at: number | null;
	lengthMs: number | null;
	/** The time of day at which it is over, whatever it lasts; null where it has none. */
	until: number | null;
}

/** How long a cue should last: as it is planned, as its clip lasts, or as its follow says; null when nobody knows. */
export function lengthOf(state: Pick<ShowState, 'setup'>, cue: Cue): number | null {
	if (cue.lengthMs !== null) return cue.lengthMs;
	if (cue.follow.by === 'after') return cue.follow.ms;
	const clip = cue.follow.by === 'clip' ? clipOf(state.setup, cue.follow.sourceId) : null;
	return clip && !clip.repeats ? roundMs(clip) : null;
}

/** The plan, by cue. A cue without a time of its own begins when the one before it should be over. */
export function plannedTimes(state: Pick<ShowState, 'setup'>): ReadonlyMap<string, Planned> {
	const times = new Map<string, Planned>();
	const near = plannedStart(state);
	let comes: number | null = near;
	for (const cue of state.setup.cues.filter(isDoable)) {
		const at = cue.plannedAt === '' || near === null ? comes : timeOfEvening(state, cue.plannedAt, near);
		const until =
			cue.follow.by === 'clock' && cue.follow.time !== '' && near !== null
				? timeOfEvening(state, cue.follow.time, near)
				: null;
		const lengthMs = until !== null && at !== null ? Math.max(0, until - at) : lengthOf(state, cue);
		times.set(cue.id, { at, lengthMs, until });
		comes = until ?? (at === null || lengthMs === null ? null : at + lengthMs);
	}
	return times;
}

/** How long the whole evening should last, milliseconds; null where nobody has said so. */
export function eveningMs(state: Pick<ShowState, 'setup'>): number | null {
	const starts = plannedStart(state);
	if (starts === null) return null;
	const planned = [...plannedTimes(state).values()].flatMap(({ at, lengthMs }) =>
		at === null ? [] : [at + (lengthMs ?? 0)],
	);
	const { overAt } = state.setup;
	const ends = [...planned, ...(overAt === '' ? [] : [timeOfEvening(state, overAt, starts)])];
	const last = Math.max(starts, ...ends);
	return last > starts ? last - starts : null;
}

/** How the evening stands against its plan. */
export interface Standing {
	/** Milliseconds behind the plan; negative when ahead of it; null where nothing is planned. */
	overMs: number | null;
	/** How long the current cue has lasted, milliseconds. */
	lastedMs: number;
	/** Milliseconds that are left of the current cue as it is planned; negative beyond it; null when nobody knows. */
	leftMs: number | null;
	/** True when the current cue has lasted longer than its limit. */
	overLimit: boolean;
	/** When each cue will begin as things stand, milliseconds since 1970, from the current one on; null when nobody knows. */
	expected: ReadonlyMap<string, number | null>;
	/** When the last cue will be over; null when nobody knows. */
	endsAt: number | null;
}

/**
 * @param now milliseconds since 1970, by the server's clock
 * @param plan as `plannedTimes` gives it, for those who ask often
 */
export function standing(state: Part, now: number, plan = plannedTimes(state)): Standing {
	const { progress } = state.live;
	const current = currentCue(state);
	const lastedMs = current ? Math.max(0, now - progress.since) : 0;
	const expected = new Map<string, number | null>();
	const cues = state.setup.cues.filter(isDoable);
	const place = cues.findIndex(({ id }) => id === current?.id);
	let comes: number | null = null;
	/** Whether the cue before waits for a press, which nobody makes ahead of a planned time. */
	let isPressed = true;
	for (const cue of cues.slice(Math.max(0, place))) {
		const { at, lengthMs, until } = plan.get(cue.id)!;
		const isNow = cue.id === current?.id;
		// It begins as it is planned, and never before the one before it is over.
		const planned = cue.plannedAt !== '' && isPressed ? at : null;
		const begins: number | null = isNow ? progress.since : beginsAt(planned, comes, now);
		expected.set(cue.id, begins);
		comes = begins === null ? null : overAt(begins, lengthMs, until, isNow ? now : begins);
		isPressed = cue.follow.by === 'go' || cue.follow.by === 'rotation';
	}
	const plannedNow = current ? (plan.get(current.id)?.at ?? null) : null;
	const currentLength = current ? (plan.get(current.id)?.lengthMs ?? null) : null;
	const started = plannedNow === null ? null : progress.since - plannedNow;
	// One that lasts longer than planned makes the evening late while it lasts.
	const beyond = currentLength === null ? 0 : lastedMs - currentLength;
	return {
		overMs: started === null ? null : Math.max(started, started + beyond),
		lastedMs,
		leftMs: currentLength === null ? null : currentLength - lastedMs,
		overLimit: current?.limitMs != null && lastedMs > current.limitMs,
		expected,
		endsAt: comes,
	};
}

function beginsAt(planned: number | null, comes: number | null, now: number): number | null {
	if (planned === null && comes === null) return null;
	return Math.max(planned ?? now, comes ?? now, now);
}

/** When a cue that begins at some time is over. */
function overAt(begins: number, lengthMs: number | null, until: number | null, now: number): number | null {
	if (until !== null) return Math.max(until, now);
	return lengthMs === null ? null : Math.max(begins + lengthMs, now);
}
