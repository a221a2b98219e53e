/** The sentences of an event's log. */
import type { LogLine } from '../../../core/show/broadcast/chapters.ts';
import type { Happening, LogEntry } from '../../../core/show/broadcast/log.ts';
import type { DestinationPhase } from '../../../core/show/messages.ts';
import { sendFaultWords } from './delivery-faults.ts';

const PHASES: Record<DestinationPhase, string> = {
	off: 'off',
	connecting: 'connecting',
	live: 'live',
	lost: 'lost',
	refused: 'refused',
};

function happeningWords(what: Happening): string {
	switch (what.is) {
		case 'onAir':
			return 'On air';
		case 'rehearses':
			return 'Rehearsal';
		case 'offAir':
			return 'Off air';
		case 'black':
			return 'Black';
		case 'cue':
			return what.name;
		case 'destination': {
			const { name, phase, fault } = what;
			return `${name}: ${PHASES[phase]}${fault ? `. ${sendFaultWords(fault)}` : ''}`;
		}
		case 'rate':
			return `The picture takes ${what.kbps} of ${what.plannedKbps} kbit/s`;
		// Nobody is told these.
		case 'focus':
		case 'words':
			return '';
		case 'holding':
			return what.holds ? 'Viewers see the holding card' : 'Viewers see the program';
	}
}

/** A line of the log in words. */
export function logLine({ at, kind, said }: LogEntry): LogLine {
	return { at, kind, text: typeof said === 'string' ? said : happeningWords(said) };
}
