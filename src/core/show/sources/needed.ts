/** What uses a source needs it to be there. */
import { refuse, type Thing } from '../../refusal.ts';
import type { ShowState } from '../state.ts';

/**
 * @param sourceIds of those that are used; null uses none
 * @param what uses them
 * @throws {Refusal} when one of them is not there
 */
export function needSources({ setup }: ShowState, sourceIds: readonly (string | null)[], what: Thing): void {
	const isThere = (id: string | null) => id === null || setup.sources.some((source) => source.id === id);
	if (!sourceIds.every(isThere)) throw refuse('sourceMissing', { what });
}
