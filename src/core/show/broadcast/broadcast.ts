/** A broadcast of the event: when it is on air, how it is encoded, what is recorded beside it. */
import * as v from 'valibot';
import { idSchema, timeSchema } from '../basics.ts';
import { renditionSchema } from '../delivery/delivery.ts';
import { trackSchema } from '../delivery/tracks.ts';

/** Hidden messages of viewers that are remembered. */
export const MOST_HIDDEN = 500;

/** Names a viewer's message: destination and number. */
export const messageIdSchema = v.pipe(v.string(), v.regex(/^[a-zA-Z0-9_-]{1,64}\/\d{1,15}$/));

export const broadcastSchema = v.object({
	id: idSchema,
	/** Milliseconds since 1970, by the server's clock. */
	startedAt: timeSchema,
	endedAt: v.nullable(timeSchema),
	/** True when it goes to a private stand-in only. */
	rehearsal: v.optional(v.boolean(), false),
	/** How it is encoded, fixed at its start; the first one is recorded. */
	renditions: v.optional(v.array(renditionSchema), () => []),
	/** What is recorded beside the program, likewise. */
	tracks: v.optional(v.array(trackSchema), () => []),
});

export type Broadcast = v.InferOutput<typeof broadcastSchema>;
