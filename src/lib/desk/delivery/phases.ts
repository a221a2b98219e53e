import type { DestinationStatus } from '../../../core/show/messages.ts';

/** State of a destination in a word or two. */
export function phaseWord(status: DestinationStatus | undefined, onAir: boolean): string {
	switch (status?.phase) {
		case 'connecting':
			return 'connecting…';
		case 'live':
			return 'live';
		case 'lost':
			return 'lost, trying again';
		case 'refused':
			return 'refused';
		default:
			return onAir ? 'waiting for the program' : 'ready';
	}
}
