/** A microphone, an interface or a console at the desk's machine. */
import * as v from 'valibot';
import { ONLY_SOUND } from '../kind.ts';
import { deviceFields } from './device.ts';

export const microphone = {
	...ONLY_SOUND,
	fields: {
		...deviceFields,
		/** The browser takes out echo and noise and evens the level, as for a telephone. */
		cleaned: v.optional(v.boolean(), false),
	},
};
