/** A clock, a countdown or a stopwatch. */
import * as v from 'valibot';
import { colourSchema, timeSchema, wholeWithin } from '../../basics.ts';
import { MADE_PICTURE } from '../kind.ts';

export const clockSchema = v.variant('shows', [
	v.object({ shows: v.literal('time') }),
	/** To a time of day, ISO 8601 local time without zone. */
	v.object({ shows: v.literal('countdownTo'), to: v.pipe(v.string(), v.maxLength(40)) }),
	/** For a duration; runs from `startedAt` (milliseconds since 1970), stands still while that is null. */
	v.object({
		shows: v.literal('countdown'),
		durationS: wholeWithin(1, 86_400),
		startedAt: v.nullable(timeSchema),
	}),
	v.object({ shows: v.literal('countUp'), startedAt: v.nullable(timeSchema) }),
]);

export type Clock = v.InferOutput<typeof clockSchema>;

export const clock = { ...MADE_PICTURE, fields: { clock: clockSchema, paper: colourSchema, ink: colourSchema } };
