/** A camera or an encoder in the network, which sends its picture to this server by RTMP or WHIP. */
import * as v from 'valibot';
import { idSchema, wholeWithin } from '../../basics.ts';
import { LIVE_PICTURE } from '../kind.ts';

/** Size of a picture in pixels. */
export const sizeSchema = v.object({ width: wholeWithin(16, 7680), height: wholeWithin(16, 4320) });

export const network = {
	...LIVE_PICTURE,
	fields: {
		/** The organisation's name for it: its key belongs to that, so that a camera of the venue keeps it from event to event. */
		cameraId: idSchema,
		/** The largest picture that it could send, as somebody has said; null while nobody has. */
		could: v.optional(v.nullable(sizeSchema), null),
	},
};
