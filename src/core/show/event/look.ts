/** How what Bivvo draws for viewers looks: cards, clocks, lower thirds and tickers of an event share a family and colours. */
import * as v from 'valibot';
import { colourSchema, MOST_NAME_LETTERS } from '../basics.ts';

/** `plain` is a flat ground, `frame` a fine double line, `hills` a landscape at the foot, `beam` light that falls in. */
export const FAMILIES = ['plain', 'frame', 'hills', 'beam'] as const;

export const lookSchema = v.object({
	family: v.picklist(FAMILIES),
	/** The ground, and the letters upon it. */
	paper: colourSchema,
	ink: colourSchema,
	/** Rules, bars and what is drawn on the ground. */
	accent: colourSchema,
	/** Who invites, as cards name it. */
	organisation: v.pipe(v.string(), v.maxLength(MOST_NAME_LETTERS)),
});

export type Look = v.InferOutput<typeof lookSchema>;
export type Family = Look['family'];

export function plainLook(): Look {
	return { family: 'plain', paper: '#12161c', ink: '#ece7db', accent: '#f0a830', organisation: '' };
}
