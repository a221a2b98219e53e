/** A card with text made from the event's own fields. */
import * as v from 'valibot';
import { colourSchema, idSchema, textSchema } from '../../basics.ts';
import { MADE_PICTURE } from '../kind.ts';

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
	lines: v.pipe(v.array(cardLineSchema), v.maxLength(6, 'cardLinesMany')),
	paper: colourSchema,
	ink: colourSchema,
});

export type CardLine = v.InferOutput<typeof cardLineSchema>;
export type Card = v.InferOutput<typeof cardSchema>;

export const card = { ...MADE_PICTURE, fields: { card: cardSchema }, canHold: true };
