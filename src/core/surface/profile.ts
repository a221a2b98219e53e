/** What the controls of a surface do: learnt by touching them, kept with the event, carried elsewhere as a JSON file. */
import * as v from 'valibot';
import { idSchema, nameSchema, wholeWithin } from '../show/basics.ts';
import { groupSchema } from '../show/mix/mix.ts';
import { orderSchema } from '../show/actions/order.ts';
import { CONTROL_KINDS } from './midi.ts';

export const MOST_ASSIGNED = 300;

export const controlSchema = v.object({
	is: v.picklist(CONTROL_KINDS),
	channel: wholeWithin(0, 15),
	number: wholeWithin(0, 127),
});

export const assignmentSchema = v.object({
	control: controlSchema,
	does: v.variant('is', [
		v.object({ is: v.literal('order'), order: orderSchema }),
		v.object({ is: v.literal('fader'), channelId: idSchema }),
		v.object({ is: v.literal('group'), group: groupSchema }),
	]),
	/** True for a fader that moves by itself: it needs no pick-up. */
	motor: v.optional(v.boolean(), false),
});

export const surfaceProfileSchema = v.object({
	format: v.literal('bivvo surface 1'),
	name: nameSchema,
	assignments: v.pipe(v.array(assignmentSchema), v.maxLength(MOST_ASSIGNED)),
});

export type Assignment = v.InferOutput<typeof assignmentSchema>;
export type SurfaceProfile = v.InferOutput<typeof surfaceProfileSchema>;

export function emptyProfile(name: string): SurfaceProfile {
	return { format: 'bivvo surface 1', name, assignments: [] };
}
