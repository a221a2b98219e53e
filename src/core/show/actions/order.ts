/** What one press does, as it is written down: by a button of a panel, a step of a macro, a control surface, a request. */
import * as v from 'valibot';
import { idSchema, textSchema } from '../basics.ts';

/** What an action is about, where it needs to be told. */
export const SUBJECTS = [
	'scene',
	'overlay',
	'person',
	'cue',
	'channel',
	'group',
	'snapshot',
	'clip',
	'song',
	'macro',
] as const;
export type Subject = (typeof SUBJECTS)[number];

/** What each action is about; null for what needs no more to be said. */
export const ACTION_SUBJECTS = {
	go: null,
	'go-back': null,
	'hold-cue': null,
	'choose-cue': 'cue',
	'do-cue': 'cue',
	take: null,
	'take-scene': 'scene',
	'next-scene': 'scene',
	'choose-scene': 'scene',
	'previous-scene': null,
	'call-back': null,
	'holding-card': null,
	black: null,
	direct: null,
	overlay: 'overlay',
	name: 'person',
	words: null,
	'next-line': null,
	'previous-line': null,
	song: 'song',
	'hall-words': null,
	mute: 'channel',
	speak: 'channel',
	'mute-group': 'group',
	snapshot: 'snapshot',
	hush: null,
	clip: 'clip',
	'rewind-clip': 'clip',
	'stop-clips': null,
	marker: null,
	crew: null,
	'viewer-chat': null,
	macro: 'macro',
} as const satisfies Record<string, Subject | null>;

export type ActionId = keyof typeof ACTION_SUBJECTS;
export const ACTION_IDS = Object.keys(ACTION_SUBJECTS) as [ActionId, ...ActionId[]];

/** Actions that switch something, and may be told which way; without that they switch it over. */
export const SWITCHES: readonly ActionId[] = [
	...(['hold-cue', 'black', 'direct', 'overlay', 'name', 'words', 'hall-words', 'mute', 'mute-group'] as const),
	...(['hush', 'clip'] as const),
];
/** Actions that say something. */
export const SPOKEN: readonly ActionId[] = ['marker', 'crew', 'viewer-chat'];

export const orderSchema = v.pipe(
	v.object({
		action: v.picklist(ACTION_IDS),
		/** The id of what it is about; of a group its name. */
		of: v.optional(idSchema),
		/** Which way something is switched; the other way than it is when absent. */
		to: v.optional(v.picklist(['on', 'off'])),
		/** What is said. */
		text: v.optional(textSchema),
	}),
	v.check(({ action, of }) => (ACTION_SUBJECTS[action] === null) === (of === undefined), 'orderSubject'),
	v.check(({ action, to }) => to === undefined || SWITCHES.includes(action), 'orderSwitch'),
	v.check(({ action, text }) => SPOKEN.includes(action) === ((text ?? '').trim() !== ''), 'orderText'),
);

/** One action with all it needs. */
export type Order = v.InferOutput<typeof orderSchema>;
