/** Macros: several actions from one press, with pauses between them. They run on the server, whoever is connected. */
import * as v from 'valibot';
import { orderSchema, type Order } from '../actions/order.ts';
import { countSchema, idSchema, nameSchema, timeSchema, wholeWithin } from '../basics.ts';
import { clockTimeSchema } from '../runsheet/cue.ts';

export const MOST_MACROS = 60;
export const MOST_STEPS = 60;
/** An hour. */
const LONGEST_PAUSE_MS = 3_600_000;

export const macroStepSchema = v.variant('is', [
	v.object({
		is: v.literal('order'),
		// One that ran another would end nobody knows when; what lasts while a button is held has no end in a list.
		order: v.pipe(
			orderSchema,
			v.check(({ action }) => action !== 'macro' && action !== 'speak', 'notInMacro'),
		),
	}),
	v.object({ is: v.literal('pause'), ms: wholeWithin(100, LONGEST_PAUSE_MS) }),
	/** Until a clip that plays comes to its end. */
	v.object({ is: v.literal('clip'), sourceId: idSchema }),
	/** Until a time of day; not at all once it has passed. */
	v.object({ is: v.literal('clock'), time: clockTimeSchema }),
]);

export const macroSchema = v.object({
	id: idSchema,
	name: nameSchema,
	/** True when a press asks once more before it runs. */
	asks: v.boolean(),
	/** What another press does while it runs, or once it has run: it is stopped, or what it did is taken back. */
	again: v.picklist(['stop', 'takeBack']),
	steps: v.pipe(v.array(macroStepSchema), v.maxLength(MOST_STEPS)),
});

export type MacroStep = v.InferOutput<typeof macroStepSchema>;
export type Macro = v.InferOutput<typeof macroSchema>;

/** A macro that runs, or has run and is remembered; with the commands that take it back, it is stored (show-schema.ts). */
export const macroRunSchema = v.object({
	macroId: idSchema,
	/** Names this run; milliseconds since 1970. */
	begunAt: timeSchema,
	/** When the step was reached at which it stands, likewise. */
	at: timeSchema,
	/** The step for whose end it waits; their number once it has run. */
	step: countSchema,
	isWaiting: v.boolean(),
	/** Steps that could not be done. */
	missed: v.pipe(v.array(countSchema), v.maxLength(MOST_STEPS)),
	/** The scene that it took last; null for none. */
	took: v.nullable(idSchema),
});

/** The macro that ships with Bivvo. */
export const EVERYTHING_OFF = 'everything-off';

const off = (action: Order['action'], to?: Order['to']): MacroStep => ({
	is: 'order',
	order: { action, ...(to && { to }) },
});

/** Nobody is heard, the card is on, no clip plays: for the moment in which something goes wrong that viewers must not see. */
export function everythingOff(name: string): Macro {
	return {
		id: EVERYTHING_OFF,
		name,
		asks: false,
		again: 'takeBack',
		steps: [off('hush', 'on'), off('holding-card'), off('stop-clips')],
	};
}
