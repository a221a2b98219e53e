/** Times of day of an event, in the time zone in which it takes place. */
import { TZDate, tzOffset } from '@date-fns/tz';

const HALF_DAY_MS = 43_200_000;

/** True for a zone of the IANA database that this machine knows. */
export function isTimeZone(zone: string): boolean {
	return !Number.isNaN(tzOffset(zone, new Date(0)));
}

/**
 * A local time without zone as a moment.
 * @param local ISO 8601, `2026-11-28T19:00`
 * @param zone of the IANA database; UTC when empty
 * @returns milliseconds since 1970; null when it is no such time
 */
export function momentOf(local: string, zone: string): number | null {
	if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(local)) return null;
	const [year, month, day, hour, minute, second] = numbers(local);
	const date = new TZDate(year, month - 1, day, hour, minute, second, zone || 'UTC');
	return Number.isNaN(date.getTime()) ? null : date.getTime();
}

/**
 * The moment of a time of day that is nearest to another moment: an evening may go on after midnight.
 * @param time `19:00` or `19:00:30`
 * @param near milliseconds since 1970
 */
export function timeNear(time: string, near: number, zone: string): number {
	const day = new TZDate(near, zone || 'UTC');
	const [hour, minute, second] = numbers(time);
	const on = (days: number) =>
		new TZDate(day.getFullYear(), day.getMonth(), day.getDate() + days, hour, minute, second, zone || 'UTC').getTime();
	const today = on(0);
	if (today - near > HALF_DAY_MS) return on(-1);
	return near - today > HALF_DAY_MS ? on(1) : today;
}

/** A time of day as somebody types it, `9.05` or `19:00:30`, in the form of a cue; empty for none, null for anything else. */
export function readClockTime(text: string): string | null {
	if (text.trim() === '') return '';
	const [, hour, minute, second] = /^(\d{1,2})[:.](\d{2})(?:[:.](\d{2}))?$/.exec(text.trim()) ?? [];
	if (hour === undefined || Number(hour) > 23 || Number(minute) > 59 || Number(second ?? 0) > 59) return null;
	return [hour.padStart(2, '0'), minute, ...(second === undefined ? [] : [second])].join(':');
}

/** The numbers in a text, in order; 0 for those that it does not have. */
function numbers(text: string): [number, number, number, number, number, number] {
	const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = (text.match(/\d+/g) ?? []).map(Number);
	return [a, b, c, d, e, f];
}

/** A moment as a time of day, `19:00:30`. */
export function timeOfDay(at: number, zone: string): string {
	const there = new Date(at + tzOffset(zone || 'UTC', new Date(at)) * 60_000);
	return there.toISOString().slice(11, 19);
}

/** The day of a moment, `2026-11-28`. */
export function dayOf(at: number, zone: string): string {
	return new Date(at + tzOffset(zone || 'UTC', new Date(at)) * 60_000).toISOString().slice(0, 10);
}
