/** The newest take: how the picture engine learns that the program changed, and how. */
import * as v from 'valibot';
import { countSchema, idSchema, timeSchema } from '../basics.ts';
import { transitionSchema } from '../scenes/scene.ts';

export const takeSchema = v.object({
	count: countSchema,
	/** The scene that was left; null is black. */
	from: v.nullable(idSchema),
	transition: transitionSchema,
	/** Milliseconds since 1970. */
	at: timeSchema,
	/** True when it calls back a transition under way: the picture returns from where it is. */
	calledBack: v.optional(v.boolean(), false),
});

export type Take = v.InferOutput<typeof takeSchema>;
