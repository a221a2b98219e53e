/** What cards, lower thirds and clocks say: texts made from the event's own fields. */
import { momentOf, timeOfDay } from '../runsheet/clock-time.ts';
import type { Look } from '../event/look.ts';
import type { Person } from '../overlays/overlay.ts';
import type { CardLine } from './kinds/card.ts';
import type { Clock } from './kinds/clock.ts';

/** What texts are made from. */
export interface TextFields {
	title: string;
	/** ISO 8601 local time without zone, or empty. */
	startsAt: string;
	/** Of the event, IANA; UTC when empty. */
	timeZone: string;
	people: readonly Person[];
	look: Look;
}

/** The text of one line of a card; empty when what it names is not there. */
export function cardText(line: CardLine, { title, startsAt, people, look }: TextFields): string {
	switch (line.says) {
		case 'event':
			return title;
		case 'date':
			return dateText(startsAt);
		case 'time':
			return /T(\d\d:\d\d)/.exec(startsAt)?.[1] ?? '';
		case 'organisation':
			return look.organisation;
		case 'person':
			return people.find(({ id }) => id === line.personId)?.name ?? '';
		case 'role':
			return people.find(({ id }) => id === line.personId)?.role ?? '';
		case 'text':
		case 'code':
			return line.text;
	}
}

const DATE = new Intl.DateTimeFormat('en-GB', { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' });

/** "Saturday, 28 November 2026" as people write it, or empty. */
export function dateText(startsAt: string): string {
	const date = new Date(startsAt);
	return startsAt === '' || Number.isNaN(date.getTime()) ? '' : DATE.format(date);
}

/**
 * What a clock shows.
 * @param now milliseconds since 1970
 * @param timeZone of the event
 */
export function clockText(clock: Clock, now: number, timeZone: string): string {
	switch (clock.shows) {
		case 'time':
			return timeOfDay(now, timeZone);
		case 'countdownTo': {
			const to = momentOf(clock.to, timeZone);
			// Rounded up, so that 0:00 comes at the time itself and not a second before.
			return to === null ? '' : durationText(Math.ceil((to - now) / 1000));
		}
		case 'countdown': {
			const gone = clock.startedAt === null ? 0 : Math.max(0, now - clock.startedAt);
			return durationText(Math.ceil((clock.durationS * 1000 - gone) / 1000));
		}
		case 'countUp':
			return durationText(clock.startedAt === null ? 0 : Math.floor((now - clock.startedAt) / 1000));
	}
}

/** "4:05" or "1:04:05"; never below nothing. */
function durationText(seconds: number): string {
	const s = Math.max(0, seconds);
	const minutes = Math.floor(s / 60) % 60;
	const hours = Math.floor(s / 3600);
	const tail = twoDigits(s % 60);
	return hours > 0 ? `${hours}:${twoDigits(minutes)}:${tail}` : `${minutes}:${tail}`;
}

function twoDigits(value: number): string {
	return String(value).padStart(2, '0');
}
