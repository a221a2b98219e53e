/** A camera of the desk's machine. */
import * as v from 'valibot';
import { wholeWithin } from '../../basics.ts';
import { LIVE_PICTURE } from '../kind.ts';
import { deviceFields } from './device.ts';

export const camera = {
	...LIVE_PICTURE,
	fields: {
		...deviceFields,
		/** Size of its picture in pixels that is asked for; that of the event when absent. */
		width: v.optional(wholeWithin(16, 7680)),
		height: v.optional(wholeWithin(16, 4320)),
		/** True when the microphone that is built into it is opened as well. */
		withSound: v.optional(v.boolean(), false),
	},
};
