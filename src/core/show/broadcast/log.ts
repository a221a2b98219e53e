/** The log of an event: what happened, as data; sentences are made where it is shown. */
import type { SendFault } from '../../delivery/send-fault.ts';
import type { Focus } from '../../afterwards/focus.ts';
import type { DestinationPhase } from '../messages.ts';

export const LOG_KINDS = [
	...(['broadcast', 'rehearsal', 'take', 'cue', 'marker', 'destination', 'holding', 'rate'] as const),
	...(['focus', 'words'] as const),
] as const;
export type LogKind = (typeof LOG_KINDS)[number];

/** Kinds that nobody reads: clips are made by them afterwards. */
export const FOR_CLIPS: readonly LogKind[] = ['focus', 'words'];

/** What happened, where that is not a name or a text of people. */
export type Happening =
	| { is: 'onAir' | 'rehearses' | 'offAir' }
	/** Nothing was taken. */
	| { is: 'black' }
	/** A cue of the run sheet was done; `plannedAt` is milliseconds since 1970, null where none was planned. */
	| { is: 'cue'; name: string; plannedAt: number | null }
	| { is: 'destination'; name: string; phase: DestinationPhase; fault: SendFault | null }
	/** The picture takes less of the line than planned, or more of it again. */
	| { is: 'rate'; kbps: number; plannedKbps: number }
	| { is: 'holding'; holds: boolean }
	/** What was to be seen where; and the words that stood, none when none did. */
	| ({ is: 'focus' } & Focus)
	| { is: 'words'; lines: string[] };

/** A line of the log. */
export interface LogEntry {
	/** Milliseconds since 1970. */
	at: number;
	kind: LogKind;
	/** The scene that was taken, the text of a marker, a sentence of a former version, or what happened. */
	said: string | Happening;
}

/** Begins what is stored of a happening; no name or text of people is stored behind it. */
const MARK = '\u0001';

/** As it is stored. */
export function storedSaid(said: LogEntry['said'], longest: number): string {
	if (typeof said === 'string') return said.replaceAll(MARK, '').slice(0, longest);
	const stored = MARK + JSON.stringify(said);
	if (stored.length <= longest || said.is !== 'destination') return stored;
	return MARK + JSON.stringify({ ...said, fault: null });
}

/** As it was said; what cannot be read is given as it is stored. */
export function readSaid(stored: string): LogEntry['said'] {
	if (!stored.startsWith(MARK)) return stored;
	try {
		return JSON.parse(stored.slice(MARK.length)) as Happening;
	} catch {
		return stored.slice(MARK.length);
	}
}
