/** Sources: all that brings a picture or a sound, and how its picture is treated wherever it is shown. */
import * as v from 'valibot';
import {
	colourSchema,
	cropSchema,
	idSchema,
	nameSchema,
	textSchema,
	timeSchema,
	wholeWithin,
	within,
} from '../basics.ts';

/** What one line of a card says: something of the event, somebody's name, or words of its own. */
export const cardLineSchema = v.variant('says', [
	v.object({ says: v.literal('event') }),
	v.object({ says: v.literal('date') }),
	v.object({ says: v.literal('person'), personId: idSchema }),
	v.object({ says: v.literal('role'), personId: idSchema }),
	v.object({ says: v.literal('text'), text: textSchema }),
]);

export const CARD_LAYOUTS = ['centred', 'left', 'band'] as const;

export const cardSchema = v.object({
	layout: v.picklist(CARD_LAYOUTS),
	/** The first line is the largest. */
	lines: v.pipe(v.array(cardLineSchema), v.maxLength(6, 'A card has six lines at most.')),
	paper: colourSchema,
	ink: colourSchema,
});

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

/** Where a source comes from. */
export const originSchema = v.variant('from', [
	/** A stand-in that ships with Bivvo. */
	v.object({ from: v.literal('standIn'), standIn: v.pipe(v.string(), v.maxLength(40)) }),
	/** A device of the desk's machine. */
	v.object({
		from: v.literal('device'),
		/** The browser's id, which may change between sessions; the label finds the device again. */
		deviceId: v.pipe(v.string(), v.maxLength(200)),
		label: v.pipe(v.string(), v.maxLength(200)),
		/** Asked size of a camera's picture in pixels; the device's own choice when absent. */
		width: v.optional(wholeWithin(16, 7680)),
		height: v.optional(wholeWithin(16, 4320)),
		/** Sound only: the browser takes out echo and noise and evens the level, as for a telephone. */
		cleaned: v.optional(v.boolean(), false),
	}),
	/** A screen, window or tab that a person shares with the desk. */
	v.object({ from: v.literal('share') }),
	/** A picture that was given to the event. */
	v.object({ from: v.literal('file'), fileId: idSchema, fileName: v.pipe(v.string(), v.maxLength(200)) }),
	v.object({ from: v.literal('card'), card: cardSchema }),
	v.object({ from: v.literal('colour'), colour: colourSchema }),
	v.object({ from: v.literal('clock'), clock: clockSchema, paper: colourSchema, ink: colourSchema }),
]);

/** How a picture is corrected. The neutral values change nothing. */
export const adjustSchema = v.object({
	/** Added to luma, in parts of its range. */
	brightness: within(-0.5, 0.5),
	/** Factors around the middle. */
	contrast: within(0, 2),
	saturation: within(0, 2),
	gamma: within(0.3, 3),
	/** The chroma that is taken for grey, less 128: what a picked grey spot had. */
	grey: v.object({ u: within(-64, 64), v: within(-64, 64) }),
});
export const NEUTRAL: Readonly<Adjust> = {
	brightness: 0,
	contrast: 1,
	saturation: 1,
	gamma: 1,
	grey: { u: 0, v: 0 },
};

/** A named crop of a source, used as if it were a camera of its own. */
export const framingSchema = v.object({ id: idSchema, name: nameSchema, crop: cropSchema });

export const MOST_SOURCES = 60;
export const MOST_FRAMINGS = 24;

export const SOURCE_KINDS = ['camera', 'screen', 'still', 'card', 'clock', 'colour', 'sound'] as const;

export const sourceSchema = v.object({
	id: idSchema,
	name: nameSchema,
	/** `sound` is a console, an interface or a microphone; all others bring a picture. */
	kind: v.picklist(SOURCE_KINDS),
	origin: originSchema,
	framings: v.optional(v.pipe(v.array(framingSchema), v.maxLength(MOST_FRAMINGS)), () => []),
	adjust: v.optional(adjustSchema, () => ({ ...NEUTRAL })),
});

export type CardLine = v.InferOutput<typeof cardLineSchema>;
export type Card = v.InferOutput<typeof cardSchema>;
export type Clock = v.InferOutput<typeof clockSchema>;
export type Origin = v.InferOutput<typeof originSchema>;
export type Adjust = v.InferOutput<typeof adjustSchema>;
export type Framing = v.InferOutput<typeof framingSchema>;
export type Source = v.InferOutput<typeof sourceSchema>;

/** A source without framings or corrections. */
export function plainSource(id: string, name: string, kind: Source['kind'], origin: Origin): Source {
	return { id, name, kind, origin, framings: [], adjust: { ...NEUTRAL } };
}
