/** A picture that was given to the event as a file; it may move. */
import * as v from 'valibot';
import { idSchema } from '../../basics.ts';
import { MADE_PICTURE } from '../kind.ts';

export const still = {
	...MADE_PICTURE,
	fields: { fileId: idSchema, fileName: v.pipe(v.string(), v.maxLength(200)) },
};
