/** What an event still lacks, in the order in which one sets it up; and what there is to do when it is over. */
import { isOnAir, type ShowState } from './state.ts';
import { kindOf } from './sources/source.ts';

/**
 * The next thing to do before an evening; `after` when a broadcast has ended; null when nothing is missing. `take` and `rehearse` are for
 * who has never made one: once there is a run sheet, people know what they do.
 */
export type NextStep = 'camera' | 'sound' | 'destination' | 'take' | 'rehearse' | 'after' | null;

/** The steps of a first event, in order. */
export const FIRST_STEPS = ['camera', 'sound', 'destination', 'take', 'rehearse'] as const;

export function nextStep(state: Pick<ShowState, 'setup' | 'live'>): NextStep {
	const { setup, live } = state;
	if (isOnAir(state)) return null;
	if (live.broadcast?.endedAt != null) return 'after';
	if (!setup.sources.some((source) => kindOf(source).isLive)) return 'camera';
	if (setup.channels.length === 0) return 'sound';
	if (!setup.destinations.some(({ ticked }) => ticked)) return 'destination';
	if (setup.cues.length > 0) return null;
	return live.program === null ? 'take' : 'rehearse';
}
