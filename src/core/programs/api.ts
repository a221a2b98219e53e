/** What other programs read of an event and ask of it: the bodies of `/api/v1`, from which its description is made. */
import * as v from 'valibot';
import { ACTION_IDS, ACTION_SUBJECTS, type ActionId, type Order } from '../show/actions/order.ts';
import { standOf } from '../show/actions/actions.ts';
import { subjectsOf } from '../show/actions/subjects.ts';
import { currentCue, nextCue } from '../show/runsheet/order.ts';
import { isOnAir, isRehearsal, type ShowState } from '../show/state.ts';
import { onStream } from '../show/words/standing.ts';
import { isWordsShown } from '../show/words/standing.ts';

const id = v.pipe(v.string(), v.description('Stable over the event’s life.'));
const named = v.object({ id, name: v.string() });
const maybeNamed = v.nullable(named);

export const apiEventSchema = v.object({
	id,
	title: v.string(),
	startsAt: v.pipe(v.string(), v.description('Local time of the event, ISO 8601 without zone; empty for none.')),
});
export const apiEventsSchema = v.object({ events: v.array(apiEventSchema) });

export const apiStateSchema = v.object({
	event: apiEventSchema,
	seq: v.pipe(v.number(), v.description('Grows with every change.')),
	onAir: v.picklist(['off', 'onAir', 'rehearsal']),
	since: v.pipe(v.nullable(v.number()), v.description('Milliseconds since 1970; null while off air.')),
	program: v.pipe(maybeNamed, v.description('The scene that viewers see; null is black.')),
	next: maybeNamed,
	black: v.boolean(),
	hushed: v.boolean(),
	cue: v.object({ current: maybeNamed, next: maybeNamed, since: v.nullable(v.number()) }),
	words: v.object({
		shown: v.boolean(),
		song: maybeNamed,
		lines: v.pipe(v.array(v.string()), v.description('What viewers read now, where words are shown.')),
	}),
	overlays: v.pipe(v.array(named), v.description('Those that are shown.')),
	muted: v.pipe(v.array(named), v.description('Channels that are muted.')),
	running: v.pipe(v.array(named), v.description('Macros that run.')),
});

export const apiOrderSchema = v.object({
	of: v.optional(v.pipe(v.string(), v.description('Id of what the action is about.'))),
	to: v.optional(v.pipe(v.picklist(['on', 'off']), v.description('Which way; the other way than it is when absent.'))),
	text: v.optional(v.pipe(v.string(), v.maxLength(300), v.description('What is said.'))),
});

export const apiDoneSchema = v.object({
	done: v.pipe(v.boolean(), v.description('False when there was nothing to do.')),
	stored: v.pipe(
		v.boolean(),
		v.description(
			'False while the database does not take it: it is stored later, or lost if the server ends before that.',
		),
	),
	state: apiStateSchema,
});

export const apiActionsSchema = v.object({
	actions: v.array(
		v.object({
			action: v.picklist(ACTION_IDS),
			about: v.nullable(v.pipe(v.string(), v.description('What `of` names; null for an action that needs none.'))),
			subjects: v.array(
				v.object({
					...named.entries,
					stands: v.picklist(['program', 'next', 'armed', 'on', 'running', 'muted', 'plain', 'idle', 'gone']),
				}),
			),
		}),
	),
});

/** What a webhook is told of. */
export const HOOK_EVENTS = ['onAir', 'ended', 'cue', 'marker'] as const;
export type HookEvent = (typeof HOOK_EVENTS)[number];

export const apiHookOrderSchema = v.object({
	url: v.pipe(v.string(), v.url(), v.maxLength(500)),
	events: v.pipe(v.array(v.picklist(HOOK_EVENTS)), v.minLength(1)),
});
export const apiHookSchema = v.object({ id, ...apiHookOrderSchema.entries });
export const apiHooksSchema = v.object({ webhooks: v.array(apiHookSchema) });
export const apiHookMadeSchema = v.object({
	...apiHookSchema.entries,
	secret: v.pipe(v.string(), v.description('What deliveries are signed with; told this once.')),
});

/** The body of a delivery. */
export const apiDeliverySchema = v.object({
	type: v.picklist(HOOK_EVENTS),
	timestamp: v.pipe(v.string(), v.description('ISO 8601.')),
	data: v.object({
		event: apiEventSchema,
		text: v.pipe(v.string(), v.description('Name of the cue, text of the marker; empty for the others.')),
	}),
});

export const apiErrorSchema = v.object({ message: v.string(), code: v.optional(v.string()) });

export type ApiState = v.InferOutput<typeof apiStateSchema>;
export type ApiDelivery = v.InferOutput<typeof apiDeliverySchema>;

type Named = v.InferOutput<typeof named>;
const only = ({ id: its, name }: Named): Named => ({ id: its, name });
const find = (list: readonly Named[], its: string | null): Named | null => {
	const found = list.find((each) => each.id === its);
	return found ? only(found) : null;
};

/** @param seq number of the newest command */
export function apiStateOf(show: ShowState, seq: number): ApiState {
	const { setup, live } = show;
	const song = setup.words.items.find((item) => item.id === live.words.itemId);
	const cue = currentCue(show);
	const coming = nextCue(show);
	return {
		event: { id: show.eventId, title: setup.title, startsAt: setup.startsAt },
		seq,
		onAir: !isOnAir(show) ? 'off' : isRehearsal(show) ? 'rehearsal' : 'onAir',
		since: isOnAir(show) ? live.broadcast!.startedAt : null,
		program: find(setup.scenes, live.program),
		next: find(setup.scenes, live.next),
		black: live.black,
		hushed: live.hushed,
		cue: { current: cue && only(cue), next: coming && only(coming), since: cue ? live.progress.since : null },
		words: {
			shown: isWordsShown(show),
			song: song ? { id: song.id, name: song.song.title } : null,
			lines: (onStream(show)?.rows ?? []).filter(({ language }) => language === 0).map(({ text }) => text),
		},
		overlays: setup.overlays.filter((overlay) => live.shown[overlay.id]).map(only),
		muted: setup.channels.filter(({ muted }) => muted).map(only),
		running: live.macros
			.filter(({ isWaiting }) => isWaiting)
			.map(({ macroId }) => find(setup.macros, macroId) ?? { id: macroId, name: macroId }),
	};
}

/** All that can be done at an event, with what it can be about. @param now milliseconds since 1970 */
export function apiActionsOf(show: ShowState, now: number): v.InferOutput<typeof apiActionsSchema> {
	return {
		actions: ACTION_IDS.map((action: ActionId) => {
			const about = ACTION_SUBJECTS[action];
			const subjects = about === null ? [] : subjectsOf(show.setup, about);
			const stands = (of: string) => standOf(show, { action, of } as Order, now);
			return { action, about, subjects: subjects.map((each) => ({ ...only(each), stands: stands(each.id) })) };
		}),
	};
}
