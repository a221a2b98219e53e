/** One colour all over. */
import { colourSchema } from '../../basics.ts';
import { MADE_PICTURE } from '../kind.ts';

export const colour = { ...MADE_PICTURE, fields: { colour: colourSchema }, hasColours: false };
