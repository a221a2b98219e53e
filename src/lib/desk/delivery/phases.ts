import type { DestinationStatus } from '../../../core/show/messages.ts';
import { delivery as words } from '../../words/index.ts';

/** State of a destination in a word or two. */
export function phaseWord(status: DestinationStatus | undefined, onAir: boolean): string {
	if (!status || status.phase === 'off') return onAir ? words.waitsForProgram : words.ready;
	return words.phase[status.phase];
}
