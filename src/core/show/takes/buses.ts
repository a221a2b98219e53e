/** Program, Next and Previous when their scenes are removed, and when these come back. */
import type { Change } from '../slice.ts';
import { withLive } from '../slice.ts';
import { isOnAir, type ShowState } from '../state.ts';

export interface Buses {
	program: string | null;
	next: string | null;
	previous: string | null;
}

/** Removes scenes from the buses. */
export function emptyBuses(state: ShowState, gone: ReadonlySet<string>): Change {
	const kept = (id: string | null) => (id !== null && gone.has(id) ? null : id);
	const { program, next, previous, take, lever } = state.live;
	const emptied = withLive(state, {
		program: kept(program),
		next: kept(next),
		previous: kept(previous),
		take: { ...take, from: kept(take.from) },
		// The lever leads to Next.
		lever: kept(next) === null ? 0 : lever,
	});
	const lost = [program, next, previous].some((id) => kept(id) !== id);
	return { state: emptied, inverse: lost ? [{ type: 'fillBuses', program, next, previous }] : [] };
}

/** Puts scenes where nothing is now. What viewers see stays as it is: on air the program is left alone. */
export function fillBuses(state: ShowState, buses: Buses): ShowState {
	const there = (id: string | null) => (state.setup.scenes.some((scene) => scene.id === id) ? id : null);
	const { live } = state;
	return withLive(state, {
		program: live.program ?? (isOnAir(state) ? null : there(buses.program)),
		next: live.next ?? there(buses.next),
		previous: live.previous ?? there(buses.previous),
	});
}
