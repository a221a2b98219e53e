/**
 * A place for a guest, which stands in scenes before anybody calls: it shows whoever has been given it. A guest's shared
 * screen has a place of its own.
 */
import * as v from 'valibot';
import { idSchema } from '../../basics.ts';
import { LIVE_PICTURE } from '../kind.ts';

/** What a seat shows while nobody has it. */
export const EMPTY_SEAT = ['nothing', 'card', 'name'] as const;

export const seat = {
	...LIVE_PICTURE,
	// Nobody is there for most of the evening.
	mayStandStill: true,
	fields: {
		shows: v.optional(v.picklist(['camera', 'screen']), 'camera'),
		empty: v.optional(v.picklist(EMPTY_SEAT), 'nothing'),
		/** Whose it is from the first moment on, by their link: a phone that is a camera. */
		reservedFor: v.optional(v.nullable(idSchema), null),
	},
};
