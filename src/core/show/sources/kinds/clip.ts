/** Video files of the media library, one or a reel; and sound files. */
import * as v from 'valibot';
import { clipFields } from '../../clips/clip.ts';
import { MADE_PICTURE, ONLY_SOUND } from '../kind.ts';

export const clip = {
	...MADE_PICTURE,
	fields: clipFields,
	brings: { picture: true, sound: 'always' },
} as const;

export const soundClip = {
	...ONLY_SOUND,
	fields: {
		...clipFields,
		/** A music bed: heard under cards, and gone by itself when the program starts. */
		bed: v.optional(v.boolean(), false),
	},
};
