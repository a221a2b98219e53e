/** What names, ids, places and colours may be, for all that an event is made of. */
import * as v from 'valibot';

/** Letters of a name, and of a free text, that people type. */
export const MOST_NAME_LETTERS = 120;
export const MOST_TEXT_LETTERS = 600;

export const nameSchema = v.pipe(
	v.string(),
	v.trim(),
	v.minLength(1, 'nameEmpty'),
	v.maxLength(MOST_NAME_LETTERS, 'nameLong'),
);
export const idSchema = v.pipe(v.string(), v.regex(/^[a-zA-Z0-9_-]{1,64}$/, 'idForm'));
/** Free text of a title or a ticker. */
export const textSchema = v.pipe(v.string(), v.maxLength(MOST_TEXT_LETTERS, 'textLong'));
export const colourSchema = v.pipe(v.string(), v.regex(/^#[0-9a-f]{6}$/, 'colourForm'));

/** Any number that JSON can carry: `1e999` is read as infinity and would be stored as null. */
export const numberSchema = v.pipe(v.number(), v.finite('notFinite'));
/** Milliseconds since 1970, or a span of them. */
export const timeSchema = numberSchema;
/** A whole number from 0 on that counts something. */
export const countSchema = v.pipe(numberSchema, v.integer(), v.minValue(0));
/** A place in a list; the end of the list when absent. */
export const placeSchema = v.optional(countSchema);

/** A number of `least` to `most`. */
export const within = (least: number, most: number) => v.pipe(numberSchema, v.minValue(least), v.maxValue(most));
/** A whole number of `least` to `most`. */
export const wholeWithin = (least: number, most: number) => v.pipe(within(least, most), v.integer());
/** A share of a whole. */
export const partSchema = within(0, 1);

/** The least width and height of anything placed or cropped, as a part of the whole. */
export const LEAST_PART = 0.01;

/** Where something lies in the picture, in parts of its width and height; it may hang over the edges. */
export const boxSchema = v.object({
	x: within(-2, 2),
	y: within(-2, 2),
	width: within(LEAST_PART, 4),
	height: within(LEAST_PART, 4),
});

/** A part of a picture, in parts of its width and height. */
export const cropSchema = v.pipe(
	v.object({ x: partSchema, y: partSchema, width: within(LEAST_PART, 1), height: within(LEAST_PART, 1) }),
	v.check(({ x, y, width, height }) => x + width <= 1.000001 && y + height <= 1.000001, 'cropOutside'),
);

export type Box = v.InferOutput<typeof boxSchema>;
export type Crop = v.InferOutput<typeof cropSchema>;

/** All of a picture. */
export const WHOLE: Readonly<Crop> = { x: 0, y: 0, width: 1, height: 1 };
