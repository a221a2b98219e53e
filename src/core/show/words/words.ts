/** Words of an event: the songs and texts of its evening, how they are shown, and how far they have come. */
import * as v from 'valibot';
import { colourSchema, idSchema, partSchema, wholeWithin } from '../basics.ts';
import { fitSchema } from '../../words/cutting.ts';
import { HALL, STREAM } from '../../words/plain-fits.ts';
import { songSchema } from '../../words/song.ts';

export const MOST_WORDS = 60;

/** A song or a text of the evening: a copy, so that what is changed in the library changes no event. */
export const wordsItemSchema = v.object({
	id: idSchema,
	/** In the library; null for one that was written for this event. */
	songId: v.nullable(idSchema),
	song: songSchema,
});

export const hallLookSchema = v.object({
	fit: fitSchema,
	paper: colourSchema,
	ink: colourSchema,
	/** Empty room at each side of the projector's picture, as a part of it: some screens hide their edges. */
	margin: v.pipe(partSchema, v.maxValue(0.2)),
});

export const wordsLookSchema = v.object({
	hall: hallLookSchema,
	/** For viewers words are cut once; what they stand on is a matter of the overlays that show them. */
	stream: v.object({ fit: fitSchema }),
});

export const wordsSchema = v.object({
	/** In the order in which they come. */
	items: v.pipe(v.array(wordsItemSchema), v.maxLength(MOST_WORDS)),
	look: wordsLookSchema,
});

/** How far the words have come. */
export const wordsPlaceSchema = v.object({
	/** What is sung or read; null before anything was chosen. */
	itemId: v.nullable(idSchema),
	/** The step that stands, from 0; −1 before the first, as many as there are after the last: nothing stands then. */
	step: wholeWithin(-1, 20_000),
});

/** What the hall's screen shows. */
export const hallSchema = v.object({
	/** True while words that stand are seen there. */
	words: v.boolean(),
	/** What is seen behind them, or instead: the colour of its ground, what viewers get, or a scene of its own. */
	behind: v.variant('is', [
		v.object({ is: v.literal('ground') }),
		v.object({ is: v.literal('program') }),
		v.object({ is: v.literal('scene'), sceneId: idSchema }),
	]),
});

export type WordsItem = v.InferOutput<typeof wordsItemSchema>;
export type HallLook = v.InferOutput<typeof hallLookSchema>;
export type WordsLook = v.InferOutput<typeof wordsLookSchema>;
export type Words = v.InferOutput<typeof wordsSchema>;
export type WordsPlace = v.InferOutput<typeof wordsPlaceSchema>;
export type Hall = v.InferOutput<typeof hallSchema>;

export function plainWords(): Words {
	return {
		items: [],
		look: {
			hall: { fit: { ...HALL }, paper: '#000000', ink: '#ffffff', margin: 0.04 },
			stream: { fit: { ...STREAM } },
		},
	};
}

export function noWords(): WordsPlace {
	return { itemId: null, step: -1 };
}

export function plainHall(): Hall {
	return { words: true, behind: { is: 'ground' } };
}
