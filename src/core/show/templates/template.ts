/** Templates: the setup of an event without its evening, kept for the next one. */
import * as v from 'valibot';
import { idSchema, nameSchema } from '../basics.ts';
import { carriedOf } from '../event/carried.ts';
import { MOST_FIELDS } from '../event/fields.ts';
import { movedTo } from '../event/moved.ts';
import { startSchema, timeZoneSchema } from '../event/time-zone.ts';
import { emptyLive, type Setup, type ShowState } from '../state.ts';

/** What is asked anew each time. */
export const asksSchema = v.object({
	title: v.boolean(),
	start: v.boolean(),
	/** Title and description at hosts. */
	hostTexts: v.boolean(),
	/** Ids of the event's own fields. */
	fields: v.pipe(v.array(idSchema), v.maxLength(MOST_FIELDS)),
});

export const answersSchema = v.object({
	title: nameSchema,
	startsAt: v.pipe(startSchema, v.regex(/^$|^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/u, 'startForm')),
	timeZone: timeZoneSchema,
	hostTitle: v.optional(v.pipe(v.string(), v.maxLength(600, 'textLong'))),
	hostDescription: v.optional(v.pipe(v.string(), v.maxLength(2000, 'descriptionLong'))),
	/** By field. */
	fields: v.record(idSchema, v.pipe(v.string(), v.maxLength(600, 'textLong'))),
});

export type Asks = v.InferOutput<typeof asksSchema>;
/** What one short form asks for. */
export type Answers = v.InferOutput<typeof answersSchema>;

/** Everything that can change is asked for. */
export function plainAsks({ fields }: Pick<Setup, 'fields'>): Asks {
	return { title: true, start: true, hostTexts: false, fields: fields.map(({ id }) => id) };
}

/** A setup without what belongs to one evening: what hosts were told, and when a stopwatch was started. */
export function withoutEvening(setup: Setup): Setup {
	return {
		...setup,
		destinations: setup.destinations.map((destination) => ({
			...destination,
			details: null,
			hostBroadcast: null,
		})),
		sources: setup.sources.map((source) => {
			if (source.kind === 'seat') return { ...source, reservedFor: null };
			const runs = source.kind === 'clock' && 'startedAt' in source.clock;
			return runs ? { ...source, clock: { ...source.clock, startedAt: null } } : source;
		}),
	};
}

/** A new event from the setup of a template or of another event. Whatever named somebody there is to be looked at. */
export function eventFrom(from: ShowState, eventId: string, answers: Answers): ShowState {
	const { title, startsAt, timeZone, hostTitle, hostDescription, fields } = answers;
	const setup = movedTo(withoutEvening(from.setup), startsAt);
	return {
		version: from.version,
		eventId,
		setup: {
			...setup,
			title,
			timeZone,
			hostTitle: hostTitle ?? setup.hostTitle,
			hostDescription: hostDescription ?? setup.hostDescription,
			fields: setup.fields.map((field) => ({ ...field, value: fields[field.id] ?? field.value })),
		},
		live: { ...emptyLive(), carried: carriedOf(setup) },
	};
}
