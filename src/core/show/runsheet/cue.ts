/** The run sheet: what happens at an event in order, line by line. A line is a cue, or the heading of a section. */
import * as v from 'valibot';
import { countSchema, idSchema, MOST_TEXT_LETTERS, nameSchema, timeSchema, wholeWithin, within } from '../basics.ts';
import { fadeMsSchema, MOST_CHANNELS } from '../mix/mix.ts';
import { transitionSchema } from '../scenes/scene.ts';

export const MOST_CUES = 300;
/** Scenes, clips or overlays of one cue. */
const MOST_THINGS = 20;
/** A day. */
const LONGEST_MS = 86_400_000;

/** A time of day, `19:00` or `19:00:30`; empty for none. */
export const clockTimeSchema = v.union([
	v.literal(''),
	v.pipe(v.string(), v.regex(/^([01]\d|2[0-3]):[0-5]\d(:[0-5]\d)?$/, 'clockTime')),
]);

/** How a cue ends. */
export const followSchema = v.variant('by', [
	/** When somebody presses Go. */
	v.object({ by: v.literal('go') }),
	/** So long after it has begun. */
	v.object({ by: v.literal('after'), ms: within(100, LONGEST_MS) }),
	/** At a time of day. */
	v.object({ by: v.literal('clock'), time: clockTimeSchema }),
	/** When a clip that it plays comes to its end. */
	v.object({ by: v.literal('clip'), sourceId: idSchema }),
	/** By Go; until then these scenes take turns, each for so long, more or less by so much. */
	v.object({
		by: v.literal('rotation'),
		sceneIds: v.pipe(v.array(idSchema), v.minLength(1), v.maxLength(MOST_THINGS)),
		everyMs: within(1000, LONGEST_MS),
		variesMs: within(0, LONGEST_MS),
	}),
]);

/** What a cue does to the stream mix. */
const cueMixSchema = v.object({
	snapshotId: v.nullable(idSchema),
	fadeMs: fadeMsSchema,
	mute: v.pipe(v.array(idSchema), v.maxLength(MOST_CHANNELS)),
	unmute: v.pipe(v.array(idSchema), v.maxLength(MOST_CHANNELS)),
});

/** A line of the run sheet. What is not set in it stays as it is when it is done. */
export const cueSchema = v.object({
	id: idSchema,
	/** What happens, in words. */
	name: nameSchema,
	/** A heading, which does nothing and is passed over. */
	heading: v.optional(v.boolean(), false),
	/** Greyed out: passed over. */
	skipped: v.optional(v.boolean(), false),
	/** The scene that it takes, and how; as the scene or the desk has it when null. */
	sceneId: v.optional(v.nullable(idSchema), null),
	transition: v.optional(v.nullable(transitionSchema), null),
	/** Clips that it plays from their beginning; countdowns and stopwatches that it starts. */
	plays: v.optional(v.pipe(v.array(idSchema), v.maxLength(MOST_THINGS)), () => []),
	shows: v.optional(
		v.pipe(v.array(v.object({ overlayId: idSchema, personId: v.optional(idSchema) })), v.maxLength(MOST_THINGS)),
		() => [],
	),
	hides: v.optional(v.pipe(v.array(idSchema), v.maxLength(MOST_THINGS)), () => []),
	mix: v.optional(v.nullable(cueMixSchema), null),
	/** The song or text whose first line it brings, in the hall and for viewers; or that words are put away when its id is null. */
	words: v.optional(v.nullable(v.object({ itemId: v.nullable(idSchema) })), null),
	/** What the crew should know. */
	note: v.optional(v.pipe(v.string(), v.maxLength(MOST_TEXT_LETTERS)), ''),
	/** When it should begin, a time of day; after the one before it when empty. */
	plannedAt: v.optional(clockTimeSchema, ''),
	/** How long it should last, milliseconds; as long as its clip when null. */
	lengthMs: v.optional(v.nullable(wholeWithin(0, LONGEST_MS)), null),
	/** The crew is warned when it lasts longer. */
	limitMs: v.optional(v.nullable(wholeWithin(1000, LONGEST_MS)), null),
	follow: v.optional(followSchema, () => ({ by: 'go' as const })),
	/** When it is over, so is the broadcast. */
	endsBroadcast: v.optional(v.boolean(), false),
});

/** A cue that was done, with what was planned of it. */
export const doneSchema = v.object({
	cueId: idSchema,
	name: nameSchema,
	plannedAt: v.nullable(timeSchema),
	startedAt: timeSchema,
});

/** How far the evening has come on its sheet. */
export const progressSchema = v.object({
	/** The cue that was done last; null before the first. */
	current: v.nullable(idSchema),
	/** When it was done, milliseconds since 1970. */
	since: timeSchema,
	/** Cues done so far, again ones among them: names one doing of a cue. */
	count: countSchema,
	/** The cue that Go does, where somebody has chosen it; the one after the current when null. */
	chosen: v.nullable(idSchema),
	/** What would follow by itself waits for a press. */
	held: v.boolean(),
	/** Turns of the current rotation. */
	turn: countSchema,
	done: v.pipe(v.array(doneSchema), v.maxLength(1000)),
});

export type Cue = v.InferOutput<typeof cueSchema>;
export type Follow = v.InferOutput<typeof followSchema>;
export type Progress = v.InferOutput<typeof progressSchema>;
export type Done = v.InferOutput<typeof doneSchema>;

/** Nothing was done yet. */
export function noProgress(): Progress {
	return { current: null, since: 0, count: 0, chosen: null, held: false, turn: 0, done: [] };
}

/** A cue that does nothing yet. */
export function plainCue(id: string, name: string): Cue {
	return {
		id,
		name,
		heading: false,
		skipped: false,
		sceneId: null,
		transition: null,
		plays: [],
		shows: [],
		hides: [],
		mix: null,
		words: null,
		note: '',
		plannedAt: '',
		lengthMs: null,
		limitMs: null,
		follow: { by: 'go' },
		endsBroadcast: false,
	};
}
