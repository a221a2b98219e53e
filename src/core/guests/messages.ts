/**
 * What a guest's page and the server say to each other, as JSON over a WebSocket. A guest is told of their own place and of
 * nobody else; what they send is checked and bounded before anybody sees it.
 */
import * as v from 'valibot';
import { idSchema, nameSchema, numberSchema, within } from '../show/basics.ts';
import type { Situation, Treatment, WantedPicture } from '../show/guests/guest.ts';

/** Bytes of a message at most: a description of many tracks has some thousands. */
export const MOST_GUEST_BYTES = 80_000;
/** Letters of what guest and crew write to each other. */
export const MOST_SAID = 500;

const textOf = (most: number) => v.pipe(v.string(), v.maxLength(most));

/** A step of making a connection (W3C WebRTC 1.0, 4.7 and 4.8): a description of the media, or an address to try. */
export const signalSchema = v.variant('is', [
	v.object({
		is: v.literal('description'),
		type: v.picklist(['offer', 'answer', 'rollback']),
		sdp: v.optional(textOf(60_000), ''),
	}),
	v.object({
		is: v.literal('candidate'),
		candidate: textOf(2000),
		sdpMid: v.nullable(textOf(64)),
		sdpMLineIndex: v.nullable(within(0, 64)),
		usernameFragment: v.optional(v.nullable(textOf(256)), null),
	}),
]);

/** What guest and crew write to each other. */
export const saidSchema = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(MOST_SAID));

export type Signal = v.InferOutput<typeof signalSchema>;

/** How a guest's own side does, as their browser measures it. */
export const guestLineSchema = v.object({
	/** What may be sent, kbit/s; null while that is not known. */
	availableKbps: v.nullable(numberSchema),
	roundTripMs: v.nullable(numberSchema),
	/** Part of the packets that were lost on the way to the desk. */
	lost: v.nullable(within(0, 1)),
	/** Shorter side of the camera's picture that is sent, pixels, and pictures a second; null without one. */
	height: v.optional(v.nullable(within(0, 8192)), null),
	fps: v.optional(v.nullable(within(0, 240)), null),
	/** True when less is sent than the desk has asked for, since the line or the machine takes no more. */
	isLess: v.optional(v.boolean(), false),
	/** True when their microphone hears what they hear. */
	echo: v.optional(v.boolean(), false),
});

export const fromGuestSchema = v.variant('type', [
	/** Wants to be let in, under a name that everybody will see. */
	v.object({ type: v.literal('knock'), name: nameSchema }),
	/** @property connection names the attempt: what belongs to an earlier one is left out */
	v.object({ type: v.literal('signal'), desk: idSchema, connection: idSchema, signal: signalSchema }),
	v.object({
		type: v.literal('about'),
		muted: v.boolean(),
		cameraOff: v.boolean(),
		sharing: v.boolean(),
		hand: v.boolean(),
		/** How full the battery is, 0 to 1; null while it is being charged, and where that is not told. */
		battery: v.optional(v.nullable(within(0, 1)), null),
		/** True while their browser keeps a recording of its own. */
		records: v.optional(v.boolean(), false),
	}),
	v.object({ type: v.literal('line'), line: guestLineSchema }),
	/** Wants to see a view, or none any more. */
	v.object({ type: v.literal('watch'), view: v.nullable(v.picklist(['program', 'forGuests'])) }),
	/** Wants to read what viewers write, or not any more. */
	v.object({ type: v.literal('readViewers'), wanted: v.boolean() }),
	v.object({ type: v.literal('say'), text: saidSchema }),
	/** Goes, and does not come back by itself. */
	v.object({ type: v.literal('leave') }),
]);

export type FromGuest = v.InferOutput<typeof fromGuestSchema>;
export type GuestLine = v.InferOutput<typeof guestLineSchema>;
export type AboutGuest = Omit<Extract<FromGuest, { type: 'about' }>, 'type'>;

/** A server that helps two browsers to find each other, or carries what they send (W3C WebRTC 1.0, RTCIceServer). */
export interface IceServer {
	urls: string[];
	username?: string;
	credential?: string;
}

/** One sentence between a guest and the crew. */
export interface Said {
	by: 'guest' | 'crew';
	text: string;
	/** Milliseconds since 1970. */
	at: number;
}

/** What a viewer has written, as guests read it. */
export interface ViewerWrote {
	from: string;
	text: string;
	/** Milliseconds since 1970. */
	at: number;
}

/** Why a guest is there no more. `elsewhere`: the same link was opened on another device. */
export type GuestEnd = 'removed' | 'elsewhere' | 'over';

export type ToGuest =
	| {
			type: 'welcome';
			title: string;
			startsAt: string;
			timeZone: string;
			/** As they were called last; empty before they have said. */
			name: string;
			said: Said[];
			iceServers: IceServer[];
	  }
	/** @property desk the page that makes the program, by a name; null while there is none */
	| {
			type: 'situation';
			situation: Situation;
			treatment: Treatment;
			picture: WantedPicture;
			desk: string | null;
			/** True while the crew has chosen a scene for guests to see. */
			hasScene: boolean;
			/** The broadcast beside which the guest's browser may record; null while there is none. */
			broadcast: string | null;
			/** Milliseconds since 1970, by the server's clock. */
			now: number;
	  }
	| { type: 'signal'; connection: string; signal: Signal }
	| { type: 'said'; said: Said }
	/** What viewers have written, the newest last, but for what the crew has hidden. */
	| { type: 'viewers'; wrote: ViewerWrote[] }
	| { type: 'ended'; why: GuestEnd };

/** A guest as the crew sees them, besides what the show knows. */
export interface GuestPresence extends AboutGuest {
	id: string;
	/** False while their line is broken. */
	isThere: boolean;
	/** Since when, milliseconds since 1970. */
	since: number;
	line: GuestLine | null;
	/** The newest last. */
	said: Said[];
}

/** A message of a guest's page; null for one that is none. */
export function readGuestMessage(text: string): FromGuest | null {
	if (text.length > MOST_GUEST_BYTES) return null;
	try {
		const read = v.safeParse(fromGuestSchema, JSON.parse(text));
		return read.success ? read.output : null;
	} catch {
		return null;
	}
}
