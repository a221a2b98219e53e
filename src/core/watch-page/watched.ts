/** What a watch page shows of its events: which of them, and how far it has come. */
import { filled } from '../show/event/fields.ts';
import { momentOf } from '../show/runsheet/clock-time.ts';
import { isOnAir, isRehearsal, type ShowState } from '../show/state.ts';
import { isWordsShown, onStream } from '../show/words/standing.ts';

export type WatchPhase = 'before' | 'live' | 'after';

/** An event as its watch page shows it. */
export interface Watched {
	eventId: string;
	title: string;
	description: string;
	/** Milliseconds since 1970; null where nothing is planned. */
	startsAt: number | null;
	phase: WatchPhase;
	/** When its last broadcast ended, milliseconds since 1970; null while it has not. */
	endedAt: number | null;
	/** A still of the event that stands for it; null for none. */
	pictureId: string | null;
	/** Messages that somebody has hidden, by what their destination calls them. */
	hidden: string[];
}

/** An event is the coming one until so long after its planned start: evenings begin late. */
const STILL_COMES_MS = 6 * 3_600_000;

/** What an event shows on the watch page of a destination; null where it is not sent there. */
export function watchedOf(state: ShowState, destinationId: string): Watched | null {
	const { setup, live } = state;
	const destination = setup.destinations.find(({ id }) => id === destinationId);
	if (!destination?.ticked) return null;
	const { hostTitle, hostDescription, fields, title, startsAt, timeZone } = setup;
	const { broadcast } = live;
	const isSent = broadcast?.renditions.some(({ destinationIds }) => destinationIds.includes(destinationId)) ?? false;
	const isLive = isOnAir(state) && !isRehearsal(state) && isSent;
	const endedAt = broadcast && !broadcast.rehearsal ? broadcast.endedAt : null;
	return {
		eventId: state.eventId,
		title: destination.details?.title ?? (filled(hostTitle, fields) || title),
		description: destination.details?.description ?? filled(hostDescription, fields),
		startsAt: startsAt === '' ? null : momentOf(startsAt, timeZone),
		phase: isLive ? 'live' : endedAt === null ? 'before' : 'after',
		endedAt,
		pictureId: destination.details?.pictureId ?? null,
		hidden: live.hiddenMessages.flatMap((id) => (id.startsWith(`${destinationId}/`) ? [id.split('/')[1]!] : [])),
	};
}

/** The event that a page shows now: one that is live, else the next one that comes, else the one that was last. */
export function shownOf(events: readonly Watched[], now: number): Watched | null {
	const live = events.find(({ phase }) => phase === 'live');
	if (live) return live;
	const comes = events.filter(({ phase, startsAt }) => phase === 'before' && (startsAt ?? now) > now - STILL_COMES_MS);
	const times = (each: Watched) => each.startsAt ?? Infinity;
	if (comes.length > 0) return comes.toSorted((a, b) => times(a) - times(b))[0]!;
	const over = events.filter(({ phase }) => phase === 'after');
	return over.toSorted((a, b) => b.endedAt! - a.endedAt!)[0] ?? events[0] ?? null;
}

/** The words that are sung or read now, a line each, where the hall or the stream shows them; none where none stand. */
export function wordsNow(state: ShowState): string[] {
	const areShown = state.live.hall.words || isWordsShown(state);
	return areShown ? (onStream(state)?.rows.map(({ text }) => text) ?? []) : [];
}

/** What the page's script asks for every few seconds. */
export interface WatchTold {
	phase: WatchPhase;
	title: string;
	description: string;
	startsAt: number | null;
	/** The server's clock, milliseconds since 1970. */
	now: number;
	/** Address of the stream; null while there is none to be played. */
	stream: string | null;
	/** How much later viewers see what happens, seconds. */
	delayS: number;
	recording: string | null;
	picture: string | null;
	captions: boolean;
	/** What was written, the newest last; null where nobody writes. */
	messages: { id: number; at: number; from: string; text: string }[] | null;
}
