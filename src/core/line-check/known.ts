/** What a line check goes by. */
import type { GuestPresence } from '../guests/messages.ts';
import type { ShowState } from '../show/state.ts';
import type { CheckEntry, CheckGroup, CheckMend, CheckState, CheckWhat } from './entry.ts';
import type { Facts, Station, StationPage } from './facts.ts';

/** A machine that has a page of the event open. */
export interface ConnectedStation extends Station {
	/** What it is called: the paired device, or whoever is signed in there. */
	name: string;
	/** The paired device; null for a machine that was not paired. */
	deviceId: string | null;
	/** The engine of its browser, and the browser's first number; null where it does not say. */
	browser: { name: string; version: number } | null;
}

export interface Known {
	show: ShowState;
	facts: Facts;
	stations: readonly ConnectedStation[];
	/** Devices that were paired for this event, and the page that each is for. */
	devices: readonly { id: string; name: string; page: StationPage }[];
	/** Links of this event that nobody has taken back. */
	links: readonly { id: string; name: string; isGuest: boolean; expiresAt: number; usesLeft: number; uses: number }[];
	guests: readonly Pick<GuestPresence, 'id' | 'isThere'>[];
	/** Files of the media library: whether they can be played. Those that are gone are not among them. */
	media: ReadonlyMap<string, 'good' | 'damaged'>;
	/** Of each destination: when its key was typed, and when something was sent there last, from any event; 0 for never. */
	keys: ReadonlyMap<string, { typedAt: number; sentAt: number }>;
	/** How long the disk has room for at the rate of the program, seconds; null where that cannot be told. */
	roomS: number | null;
	/** False while changes cannot be written to the database. */
	stored: boolean;
	/** Milliseconds since 1970, by the server's clock. */
	now: number;
}

/** What was seen longer ago is looked at again: cables are pulled between a rehearsal and the evening. */
export const FRESH_MS = 4 * 3_600_000;

/** What a page looks at all the time is only known while one looks: soon after, it may be another way. */
export const WATCHED_MS = 10 * 60_000;

/** @param forMs how long what was seen counts */
export function isFresh(at: number | null | undefined, now: number, forMs = FRESH_MS): at is number {
	return at != null && now - at < forMs;
}

export type Add = (
	key: string,
	state: CheckState,
	what: CheckWhat,
	more?: { at?: number | null; mend?: CheckMend | null },
) => void;

/** Collects entries of a group. */
export function adder(entries: CheckEntry[], group: CheckGroup): Add {
	return (key, state, what, { at = null, mend = null } = {}) =>
		entries.push({ key: `${group} ${key}`, group, state, what, at, mend });
}
