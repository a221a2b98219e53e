/** The run sheet as it ran: when each cue was done, against its plan. */
import type { LogEntry } from '../broadcast/log.ts';

export interface AsRun {
	name: string;
	/** Milliseconds since 1970; null for a cue that was not planned for a time. */
	plannedAt: number | null;
	startedAt: number;
	/** Behind its plan; negative when ahead of it. */
	differenceMs: number | null;
	lastedMs: number;
}

/**
 * @param entries of the log, in their order
 * @param endedAt when the last of them was over, milliseconds since 1970
 */
export function asRunOf(entries: readonly LogEntry[], endedAt: number): AsRun[] {
	const all = entries.flatMap(({ at, said }) =>
		typeof said === 'object' && said.is === 'cue' ? [{ at, name: said.name, plannedAt: said.plannedAt }] : [],
	);
	// A server that was started again on air has noted the current cue once more.
	const cues = all.filter(({ at, name }, i) => all[i - 1]?.at !== at || all[i - 1]?.name !== name);
	return cues.map(({ at, name, plannedAt }, i) => ({
		name,
		plannedAt,
		startedAt: at,
		differenceMs: plannedAt === null ? null : at - plannedAt,
		lastedMs: Math.max(0, (cues[i + 1]?.at ?? endedAt) - at),
	}));
}
