/** Commands about the run sheet: its lines, and going on from one to the next. */
import * as v from 'valibot';
import { countSchema, idSchema, numberSchema, placeSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import { refuse } from '../../refusal.ts';
import { commands, withLive, withSetup, type Handlers } from '../slice.ts';
import type { ShowState } from '../state.ts';
import { cueSchema, MOST_CUES, type Cue } from './cue.ts';
import { doCue, followOn, prepareNext, withProgress } from './go.ts';
import { cueOf, isDoable, isSheetLocked, nextCue, previousCue } from './order.ts';

/** Two presses within this time are one. */
const DOUBLE_PRESS_MS = 300;

export const runsheetCommands = commands({
	addCue: { cue: cueSchema, at: placeSchema },
	changeCue: { cue: cueSchema },
	removeCue: { cueId: idSchema },
	moveCue: { cueId: idSchema, at: countSchema },
	/** Puts other lines in place of all. */
	replaceCues: { cues: v.pipe(v.array(cueSchema), v.maxLength(MOST_CUES)) },
	/** Lets the run sheet be changed while on air, or no longer. */
	unlockSheet: { unlocked: v.boolean() },
	/**
	 * Does the next cue. `count` is how many were done when the person pressed: when one was done since then, by itself
	 * or by another press, it was this one. `afterMs` is how long after the current one began that press was, as their
	 * page saw it: a line on which messages bunch up neither makes two presses one nor one two.
	 */
	go: { count: v.optional(countSchema), afterMs: v.optional(v.pipe(numberSchema, v.minValue(0))) },
	/** Does the cue before the current one again. */
	goBack: {},
	/** Lets the next Go do another cue than the one that comes; null lets it do that. */
	chooseCue: { cueId: v.nullable(idSchema) },
	/** Lets nothing follow by itself in the current cue, or lets it again. */
	holdCue: { held: v.boolean() },
	/** Back before the first cue. Nothing on air changes. */
	resetSheet: {},
	/** What happens by itself; made by the show, for the cue and the turn in which it was planned. */
	followOn: { count: countSchema, turn: countSchema },
});

const cues = collection<Cue>({
	what: 'cue',
	most: MOST_CUES,
	list: ({ setup }) => setup.cues,
	put: (state, list) => withSetup(state, { cues: list }),
	adding: (cue, at) => [{ type: 'addCue', cue, at }],
	changing: (cue) => [{ type: 'changeCue', cue }],
	removing: ({ id: cueId }) => [{ type: 'removeCue', cueId }],
	moving: (cueId, at) => ({ type: 'moveCue', cueId, at }),
});

/** The state, when its run sheet may be changed. @throws {Refusal} when it is locked */
function unlocked(state: ShowState): ShowState {
	if (isSheetLocked(state)) throw refuse('sheetLocked', {});
	return state;
}

export const runsheetHandlers: Handlers<typeof runsheetCommands> = {
	addCue: (state, { cue, at }) => cues.add(unlocked(state), cue, at),
	changeCue: (state, { cue }) => cues.change(unlocked(state), cue.id, () => cue),
	removeCue: (state, { cueId }) => cues.remove(unlocked(state), cueId),
	moveCue: (state, { cueId, at }) => cues.move(unlocked(state), cueId, at),
	replaceCues(state, { cues: list }) {
		if (new Set(list.map(({ id }) => id)).size < list.length) throw refuse('exists', { what: 'cue' });
		return {
			state: prepareNext(withSetup(unlocked(state), { cues: list })),
			inverse: [{ type: 'replaceCues', cues: state.setup.cues }],
		};
	},
	unlockSheet: (state, { unlocked: sheetUnlocked }) => ({
		state: withLive(state, { sheetUnlocked }),
		inverse: [{ type: 'unlockSheet', unlocked: state.live.sheetUnlocked }],
	}),
	go(state, { count, afterMs }, at) {
		const { progress } = state.live;
		// Somebody who has chosen a line in between means it.
		const isDouble = (afterMs ?? at - progress.since) < DOUBLE_PRESS_MS && progress.chosen === null;
		if (progress.current !== null && isDouble) return { state, inverse: [] };
		if (count !== undefined && count < progress.count) return { state, inverse: [] };
		const cue = nextCue(state);
		if (!cue) throw refuse('sheetOver', {});
		return { state: doCue(state, cue, at), inverse: state.live.progress.current === null ? [] : [{ type: 'goBack' }] };
	},
	goBack(state, _, at) {
		const cue = previousCue(state);
		if (!cue) throw refuse('sheetAtStart', {});
		const back = doCue(state, cue, at);
		// The two that were done are forgotten: going back twice goes back by two.
		const done = [...state.live.progress.done.slice(0, -2), back.live.progress.done.at(-1)!];
		return { state: withProgress(back, { done }), inverse: [{ type: 'go' }] };
	},
	chooseCue(state, { cueId }) {
		const { chosen } = state.live.progress;
		const cue = cueId === null ? null : cueOf(state, cueId);
		if (cueId !== null && !(cue && isDoable(cue))) throw refuse('gone', { what: 'cue' });
		return {
			state: prepareNext(withProgress(state, { chosen: cueId })),
			inverse: [{ type: 'chooseCue', cueId: chosen }],
		};
	},
	holdCue: (state, { held }) => ({
		state: withProgress(state, { held }),
		inverse: [{ type: 'holdCue', held: state.live.progress.held }],
	}),
	resetSheet: (state) => ({
		state: prepareNext(
			withProgress(state, { current: null, chosen: null, held: false, turn: 0, count: state.live.progress.count + 1 }),
		),
		inverse: [],
	}),
	followOn(state, { count, turn }, at) {
		const { progress } = state.live;
		// Somebody has gone on meanwhile.
		if (count !== progress.count || turn !== progress.turn) return { state, inverse: [] };
		return { state: followOn(state, at), inverse: [] };
	},
};
