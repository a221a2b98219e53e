/** A clock, a countdown or a stopwatch. */
import * as v from 'valibot';
import { colourSchema, textSchema, timeSchema, wholeWithin } from '../../basics.ts';
import { MADE_PICTURE } from '../kind.ts';
import { dressSchema, groundSchema } from './card.ts';

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

/** What a clock is made of beside its times, in the event's look. */
export function plainClock(clock: Clock, says = '') {
	return { clock, says, dress: 'event', ground: 'drawn', paper: '#12161c', ink: '#ece7db' } as const;
}

export const clock = {
	...MADE_PICTURE,
	fields: {
		clock: clockSchema,
		/** Words above the figures, such as “We begin in”. */
		says: v.optional(textSchema, ''),
		dress: dressSchema,
		ground: groundSchema,
		paper: colourSchema,
		ink: colourSchema,
	},
};
