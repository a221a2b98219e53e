/** The sentences for what is wrong with an evening: what, since when, what to do. */
import { formatDistanceStrict } from 'date-fns';
import type { SendFault } from '../../../core/delivery/send-fault.ts';
import type { What } from '../../../core/show/troubles.ts';
import type { Fault } from '../../../engine/sources/fault.ts';
import type { Trouble } from '../../../engine/trouble.ts';
import { recordingFaultWords, sendFaultWords, writeFaultWords } from './delivery-faults.ts';
import { troubleWords } from './engine-faults.ts';
import { durationOf, rateOf } from './figures.ts';
import { guestFaultWords } from './guest-faults.ts';
import { apartWords, channelFaultWords, echoWords, loudnessWords, mixFaultWords } from './sound.ts';
import { faultWords } from './source-faults.ts';

/** Parts of a stored event, as people call them. */
const STORED: Partial<Record<string, string>> = {
	sources: 'the source',
	scenes: 'the scene',
	drafts: 'changes of the scene',
	people: 'the person',
	overlays: 'the overlay',
	patches: 'the patch',
	channels: 'the channel',
	destinations: 'the destination',
	mix: 'the settings of the mix',
	delivery: 'the settings of delivery',
	command: 'a change',
};

interface Context {
	/** Milliseconds since 1970, by this machine's clock. */
	now: number;
	/** The card that viewers see while the program is away. */
	holdingCard: string;
	/** After so many minutes without the program the broadcast ends. */
	holdMinutes: number;
}

/** A sentence, or empty where nothing is to be said. */
export function wordsFor(what: What<Fault, Trouble>, { now, holdingCard, holdMinutes }: Context): string {
	const since = (at: number) => formatDistanceStrict(at, now);
	switch (what.is) {
		case 'unreachable':
			return 'The desk cannot reach the server. It tries again by itself; your changes are kept.';
		case 'watching':
			return 'Another tab makes the program of this event. Here you can watch and switch.';
		case 'needsPress':
			return 'The browser holds sound and picture back until you press something on this page.';
		case 'engine':
			return troubleWords(what.trouble);
		case 'notStored':
			return 'The database does not take changes. They are kept and written when it is back.';
		case 'unreadable': {
			const parts = what.unreadable.map(({ what: part, name }) => `${STORED[part] ?? part} ${name}`.trim());
			return `Parts of this event could not be read and were left out: ${parts.join(', ')}. They are kept in the database, table set_aside.`;
		}
		case 'serverBusy':
			return `The server is busy: it takes ${Math.round(100 * what.cores)} % of a core. Close other programs on its machine, or untick a destination next time.`;
		case 'recordingFailed':
			return recordingFaultWords(what.write);
		case 'recordsElsewhere':
			return 'The disk for recordings is gone. What is recorded goes to the server’s data folder until it is back.';
		case 'tracksStopped':
			return `${what.names.join(', ')}: no longer recorded separately. ${writeFaultWords(what.write)}`;
		case 'littleRoom':
			return `The server’s disk has room for ${durationOf(what.roomS)} of recording. Move or delete old recordings.`;
		case 'holding':
			return `Viewers see the card “${holdingCard}”: nothing has come from the desk for ${since(what.at)}. The program returns by itself when it is back; without it the broadcast ends after ${holdMinutes} min.`;
		case 'noProgram':
			return 'The server gets no program. Viewers see nothing new.';
		case 'black':
			return BLACK[what.why];
		case 'rateDown':
			return `The line is too slow now, so the picture takes ${rateOf(what.kbps)} instead of ${rateOf(what.plannedKbps)}. It comes back by itself.`;
		case 'notPublic':
			return `${what.name} gets the stream, but shows it to nobody yet.`;
		case 'refused':
			return `${what.name} refuses the stream${becauseOf(what.send)}`;
		case 'lost':
			return `${what.name} is lost for ${since(what.at)}${becauseOf(what.send)} It is tried again by itself.`;
		case 'source': {
			const text = faultWords(what.fault, what.name);
			// A device is named as its maker does.
			const whose = text.includes(what.name) ? 'For' : `${what.name}, for`;
			return `${whose} ${since(what.at)}: ${text}`;
		}
		case 'mix':
			return mixFaultWords(what.fault, what.side);
		case 'channel':
			return channelFaultWords(what.name, what.fault, what.side);
		case 'guest':
			return guestFaultWords(what.name, what.fault, what.lost, what.isLess);
		case 'echo':
			return echoWords(what.names);
		case 'apart':
			return apartWords(what.channel, what.camera, what.beforeMs);
		case 'loudness':
			return loudnessWords(what.integrated, what.targetLufs);
	}
}

const BLACK = {
	asked: 'Black is on, so viewers see nothing. Press Black again to show the program.',
	nothing: 'Nothing is on air, so viewers see black. Take a scene.',
	picture: 'Viewers see black. Check what is on air, or take another scene.',
} as const;

/** The end of a sentence: why, for those who are told. */
function becauseOf(fault: SendFault | null): string {
	return fault ? `: ${sendFaultWords(fault)}` : '.';
}
