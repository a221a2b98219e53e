/** Messages between a page and the hub, as JSON over a WebSocket. */
import * as v from 'valibot';
import { idSchema, numberSchema } from './basics.ts';
import type { CheckEntry } from '../line-check/entry.ts';
import { lookSchema, stationSchema } from '../line-check/facts.ts';
import type { View } from '../watch/views.ts';
import { saidSchema, signalSchema, type GuestPresence, type IceServer, type Signal } from '../guests/messages.ts';
import type { Command } from './command.ts';
import type { WriteFault } from './delivery/write-fault.ts';
import { MAX_PACKED_HISTORY } from '../sound/loudness.ts';
import type { SendFault } from '../delivery/send-fault.ts';
import type { AnyRole } from '../access/roles.ts';
import type { RefusalMessage } from '../refusal.ts';
import type { ShowState } from './state.ts';
import type { Unreadable } from './stored.ts';

/** What the engine counts, for whoever watches the health of a broadcast. */
export const engineReportSchema = v.object({
	/** Frames the clock asked for since the engine started, and those that reached the encoder's output. */
	due: numberSchema,
	encoded: numberSchema,
	/** Milliseconds of work per frame, mean of the last second. */
	frameMs: numberSchema,
	/** Step of what is given up on a busy machine: 0 is nothing. */
	relief: v.optional(numberSchema, 0),
	/** Bytes waiting to leave the browser. */
	uplinkQueueBytes: numberSchema,
});

/** Levels in dB relative to full scale, −120 for silence. */
const twoSides = v.tuple([numberSchema, numberSchema]);
const faultSchema = v.picklist(['silent', 'oneSide', 'outOfPhase', 'clipping', 'hum', 'idle']);
const sideSchema = v.picklist(['left', 'right']);

/** What the engine hears of a channel. */
export const heardSchema = v.object({
	id: idSchema,
	levelDb: twoSides,
	holdDb: twoSides,
	rmsDb: numberSchema,
	/** By how much it is turned down by what is automatic, 0 or less: gate, compressor, ducking with sharing. */
	gateDb: numberSchema,
	compressorDb: numberSchema,
	automaticDb: numberSchema,
	/** Samples at full scale since the mix began. */
	clips: numberSchema,
	faults: v.array(faultSchema),
	side: sideSchema,
});

/** What the engine hears of all channels, and of the mix: LUFS, LU and dBTP. */
export const soundReportSchema = v.object({
	channels: v.array(heardSchema),
	mix: v.object({
		levelDb: twoSides,
		holdDb: twoSides,
		momentary: numberSchema,
		shortTerm: numberSchema,
		integrated: numberSchema,
		range: numberSchema,
		truePeakDb: numberSchema,
		limiterDb: numberSchema,
		faults: v.array(faultSchema),
		side: sideSchema,
	}),
	/** Sounds that are noticeably before the picture they belong to, or behind it (negative). */
	apart: v.optional(v.array(v.object({ channelId: idSchema, sourceId: idSchema, beforeMs: numberSchema })), () => []),
	/** Channels that hear the headphones of the desk. */
	echo: v.optional(v.array(idSchema), () => []),
});

/** How loud a broadcast has been so far: with its id, as core/sound/loudness packs it. */
export const loudnessSchema = v.object({
	broadcastId: idSchema,
	history: v.pipe(v.array(numberSchema), v.maxLength(MAX_PACKED_HISTORY)),
});

export const pageMessageSchema = v.variant('type', [
	/** What it asks for is checked by the hub. */
	v.object({ type: v.literal('command'), id: idSchema, command: v.unknown() }),
	/** The engine has done what is due under an id, with the frame it was due at. */
	v.object({ type: v.literal('fell'), id: idSchema, dueId: idSchema }),
	/** Asks to be the engine; `takeOver` also when another page is. One that yields gives way to a desk, off air. */
	v.object({ type: v.literal('wantEngine'), takeOver: v.boolean(), yields: v.optional(v.boolean()) }),
	v.object({ type: v.literal('report'), report: engineReportSchema }),
	/** A few times a second, for those who mix on another page. */
	v.object({ type: v.literal('sound'), sound: soundReportSchema }),
	/** Now and then, for the page that makes the program when this one no longer does. */
	v.object({ type: v.literal('loudness'), loudness: loudnessSchema }),
	/** Another attempt to reach a destination that refused or is waiting. */
	v.object({ type: v.literal('retry'), destinationId: idSchema }),
	/** Asks the host to let viewers in. */
	v.object({ type: v.literal('makePublic'), destinationId: idSchema }),
	/** From the page that makes the program to a guest: a step of making their connection. */
	v.object({ type: v.literal('guestSignal'), guestId: idSchema, connection: idSchema, signal: signalSchema }),
	/** From a phone of the crew that hears the desk: how it may be reached, and a step of making their connection. */
	v.object({ type: v.literal('hear') }),
	v.object({ type: v.literal('hearSignal'), desk: idSchema, connection: idSchema, signal: signalSchema }),
	/** What the page that makes the program sees and hears, every few seconds; and what any page says of its machine. */
	v.object({ type: v.literal('look'), look: lookSchema }),
	v.object({ type: v.literal('station'), station: stationSchema }),
	/** How far a channel and a picture are apart was measured. */
	v.object({ type: v.literal('measured'), channelId: idSchema }),
	/** Asks for the line check, from now on or no more. */
	v.object({ type: v.literal('wantCheck'), wanted: v.boolean() }),
	/** To one guest, or to all. */
	v.object({ type: v.literal('guestSay'), guestId: v.nullable(idSchema), text: saidSchema }),
]);

export type Heard = v.InferOutput<typeof heardSchema>;
export type SoundReport = v.InferOutput<typeof soundReportSchema>;
export type BroadcastLoudness = v.InferOutput<typeof loudnessSchema>;
export type EngineReport = v.InferOutput<typeof engineReportSchema>;
export type PageMessage = v.InferOutput<typeof pageMessageSchema>;

/** A command as the hub ordered it. */
export interface Applied {
	type: 'applied';
	seq: number;
	at: number;
	by: string;
	id: string;
	command: Command;
	/**
	 * True while it could not be written: `done` follows when it is. Until then it may be lost with its server, and whoever
	 * has said it says it again to the next one.
	 */
	kept?: boolean;
}

export type DestinationPhase = 'off' | 'connecting' | 'live' | 'lost' | 'refused';

/** How a stream that a host takes comes to viewers. */
export interface Audience {
	/** False while the host shows it to nobody. */
	public: boolean;
	/** How many watch now. */
	viewers: number;
}

/** How sending to one destination goes. */
export interface DestinationStatus {
	id: string;
	phase: DestinationPhase;
	/** Since when, milliseconds since 1970. */
	since: number;
	/** What went wrong, also while it is tried again; null when nothing did. */
	fault: SendFault | null;
	/** When the next attempt comes, milliseconds since 1970; 0 when none is planned. */
	retryAt: number;
	rateKbps: number;
	lostFrames: number;
	/** Bytes accepted but not yet taken by the network. */
	queueBytes: number;
	attempts: number;
	/** What the host tells of it; null while it tells nothing. */
	audience: Audience | null;
}

/** How the file of something recorded apart goes. */
export interface TrackStatus {
	id: string;
	name: string;
	phase: 'waiting' | 'recording' | 'failed';
	fault: WriteFault | null;
	bytes: number;
}

export interface RecordingStatus {
	phase: 'off' | 'recording' | 'failed';
	file: string;
	bytes: number;
	fault: WriteFault | null;
	/** How long the disk has room for at the rate of the program, seconds; null when that cannot be told. */
	roomS: number | null;
	/** True while the disk that was chosen for recordings is gone: they go to the data folder. */
	elsewhere: boolean;
	/** What is recorded beside the program. */
	tracks: TrackStatus[];
}

/** What is so right now and is not worth keeping. */
export interface LiveStatus {
	type: 'status';
	/** The server's clock, milliseconds since 1970. */
	now: number;
	destinations: DestinationStatus[];
	recording: RecordingStatus;
	/** The page that makes the program, or null. */
	engine: string | null;
	/** Views that somebody watches from afar: they are made for them. */
	watched: View[];
	/** True while packets of the program arrive. */
	receiving: boolean;
	/** Since when viewers see the holding card, milliseconds since 1970; null while they see the program. */
	holdingSince: number | null;
	/** What each rendition takes now, and what was planned, kbit/s. */
	rates: { kbps: number; plannedKbps: number }[];
	/** Cores that the server takes. */
	serverCores: number;
	/** False while changes cannot be written to the database; they are kept and written later. */
	stored: boolean;
	/** What of the event could not be read when it was opened, and was left out. */
	unreadable: readonly Unreadable[];
}

/** What a viewer has written at a host. */
export interface ViewerMessage {
	/** Names it among those of all destinations. */
	id: string;
	destinationId: string;
	/** Milliseconds since 1970. */
	at: number;
	from: string;
	text: string;
}

export type HubMessage =
	| {
			type: 'welcome';
			/** The page's name at this event, given by the server. */
			client: string;
			/** What whoever sits at the page may do. */
			role: AnyRole;
			/** As in `lease`. */
			lease: string | null;
			seq: number;
			state: ShowState;
			status: LiveStatus;
			loudness: BroadcastLoudness | null;
	  }
	| Applied
	/** It had been done before, and was sent again after a connection was lost; or what was kept is written. */
	| { type: 'done'; id: string; kept?: boolean }
	/** What the page shows when it sends the program; null while another page, or none, makes it. */
	| { type: 'lease'; secret: string | null }
	| { type: 'refused'; id: string; reason: RefusalMessage }
	| { type: 'sound'; sound: SoundReport }
	| { type: 'loudness'; loudness: BroadcastLoudness }
	/** All that viewers have written at this broadcast, as far as it is kept. */
	| { type: 'viewers'; messages: ViewerMessage[] }
	/** How the guests do, besides where they are. */
	| { type: 'guests'; guests: GuestPresence[] }
	/** To the page that makes the program alone, with what helps it to find the guest's browser. */
	| { type: 'guestSignal'; guestId: string; connection: string; signal: Signal; iceServers: IceServer[] }
	/** To a phone of the crew that hears the desk. */
	| { type: 'hears'; iceServers: IceServer[] }
	| { type: 'hearSignal'; connection: string; signal: Signal }
	/** The line check, to pages that have asked for it. */
	| { type: 'check'; entries: CheckEntry[] }
	| LiveStatus;

/** A destination to which nothing is sent. */
export function idleStatus(id: string, now: number): DestinationStatus {
	return {
		id,
		phase: 'off',
		since: now,
		fault: null,
		retryAt: 0,
		rateKbps: 0,
		lostFrames: 0,
		queueBytes: 0,
		attempts: 0,
		audience: null,
	};
}
