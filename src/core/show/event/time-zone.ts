/** When and in which time zone an event takes place. */
import * as v from 'valibot';
import { isTimeZone } from '../runsheet/clock-time.ts';

/** Planned start, ISO 8601 local time without zone, or empty. */
export const startSchema = v.pipe(v.string(), v.maxLength(40));

export const timeZoneSchema = v.union([
	v.literal(''),
	v.pipe(v.string(), v.maxLength(60), v.check(isTimeZone, 'timeZone')),
]);
