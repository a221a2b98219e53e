/** Days on which an event takes place again, by rules as calendars know them (RFC 5545, section 3.3.10). */
import { RRule, type Options } from 'rrule';

/** How often: every week, every other week, or on one weekday of each month. */
export const RHYTHMS = ['weekly', 'fortnightly', 'first', 'second', 'third', 'fourth', 'last'] as const;
export type Rhythm = (typeof RHYTHMS)[number];

const NTH: Partial<Record<Rhythm, number>> = { first: 1, second: 2, third: 3, fourth: 4, last: -1 };
const DAYS = [RRule.SU, RRule.MO, RRule.TU, RRule.WE, RRule.TH, RRule.FR, RRule.SA];

/**
 * @param startsAt of the first one, ISO 8601 local time without zone
 * @param count of all, the first one among them
 * @returns starts of the others, in the same form: the same weekday at the same time of day
 */
export function repeatsOf(startsAt: string, rhythm: Rhythm, count: number): string[] {
	// The rule is reckoned in UTC: a local time has no change to summer time in it.
	const dtstart = new Date(`${startsAt}:00Z`);
	if (startsAt === '' || Number.isNaN(dtstart.getTime()) || count < 2) return [];
	const nth = NTH[rhythm];
	const day = DAYS[dtstart.getUTCDay()]!;
	const options: Partial<Options> = nth
		? { freq: RRule.MONTHLY, byweekday: [day.nth(nth)] }
		: { freq: RRule.WEEKLY, interval: rhythm === 'fortnightly' ? 2 : 1 };
	// The first one may lie on any day: those after it follow the rule.
	const all = new RRule({ ...options, dtstart, count: count + 1 }).all();
	return all
		.filter((each) => each > dtstart)
		.slice(0, count - 1)
		.map((each) => each.toISOString().slice(0, 16));
}
