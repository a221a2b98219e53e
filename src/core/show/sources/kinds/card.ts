/** A card with text made from the event's own fields. */
import * as v from 'valibot';
import { colourSchema, idSchema, textSchema } from '../../basics.ts';
import { MADE_PICTURE } from '../kind.ts';

/** What fits a QR code of the level that is drawn, whatever the letters: 2331 bytes (ISO/IEC 18004, table 7, 40-M). */
export const MOST_CODE_LETTERS = 500;

/** What one line of a card says: something of the event, somebody's name, or words of its own. */
export const cardLineSchema = v.variant('says', [
	v.object({ says: v.literal('event') }),
	v.object({ says: v.literal('date') }),
	/** When it begins, a time of day. */
	v.object({ says: v.literal('time') }),
	v.object({ says: v.literal('organisation') }),
	v.object({ says: v.literal('person'), personId: idSchema }),
	v.object({ says: v.literal('role'), personId: idSchema }),
	v.object({ says: v.literal('text'), text: textSchema }),
	/** An address or a text as a QR code (ISO/IEC 18004). */
	v.object({ says: v.literal('code'), text: v.pipe(v.string(), v.maxLength(MOST_CODE_LETTERS, 'textLong')) }),
]);

export const CARD_LAYOUTS = ['centred', 'left', 'band'] as const;

/** Whose colours a picture has that is drawn: its own, or those and the family of the event's look. */
export const dressSchema = v.optional(v.picklist(['own', 'event']), 'own');
/** `none` lets see what stands behind it in its scene. */
export const groundSchema = v.optional(v.picklist(['drawn', 'none']), 'drawn');

export const cardSchema = v.object({
	dress: dressSchema,
	ground: groundSchema,
	layout: v.picklist(CARD_LAYOUTS),
	/** The first line is the largest. */
	lines: v.pipe(v.array(cardLineSchema), v.maxLength(6, 'cardLinesMany')),
	paper: colourSchema,
	ink: colourSchema,
});

export type CardLine = v.InferOutput<typeof cardLineSchema>;
export type Card = v.InferOutput<typeof cardSchema>;

/** A card in the event's look. */
export function plainCard(part: Partial<Card> = {}): Card {
	return v.parse(cardSchema, {
		dress: 'event',
		layout: 'centred',
		lines: [],
		paper: '#12161c',
		ink: '#ece7db',
		...part,
	});
}

export const card = { ...MADE_PICTURE, fields: { card: cardSchema }, canHold: true };
