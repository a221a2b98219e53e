/** What comes of a command. */
import type { ShowState } from './state.ts';

/** The new state, or a sentence for the person who asked. */
export type Outcome = { state: ShowState } | { refused: string };

export function changed(state: ShowState, part: Partial<ShowState>): Outcome {
	return { state: { ...state, ...part } };
}

export function refused(sentence: string): Outcome {
	return { refused: sentence };
}

export function inserted<T>(list: readonly T[], items: T | readonly T[], at = list.length): T[] {
	return list.toSpliced(at, 0, ...(Array.isArray(items) ? items : [items as T]));
}
