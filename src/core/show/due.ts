/** Commands that are done by themselves at a time: entries under `live.due`, which the hub does when they are due. */
import type { SingleCommand } from './command.ts';
import { withLive } from './slice.ts';
import type { Live, ShowState } from './state.ts';

export type Due = Live['due'][number];

/** Lets commands be done at a time, in place of a former entry of that id. */
export function withDue(state: ShowState, id: string, at: number, batch: SingleCommand[]): ShowState {
	return withLive(state, { due: [...withoutDue(state, id).live.due, { id, at, batch }] });
}

/** Lets nothing be done any more under that id. */
export function withoutDue(state: ShowState, id: string): ShowState {
	const due = state.live.due.filter((entry) => entry.id !== id);
	return due.length === state.live.due.length ? state : withLive(state, { due });
}

/** The entry that is due first; null when there is none. */
export function firstDue({ live }: Pick<ShowState, 'live'>): Due | null {
	return live.due.reduce<Due | null>((first, entry) => (first === null || entry.at < first.at ? entry : first), null);
}
