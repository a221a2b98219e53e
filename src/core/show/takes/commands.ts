/** Commands that decide what is on air and what comes next. A take is made in `take` below. */
import * as v from 'valibot';
import { idSchema, partSchema } from '../basics.ts';
import type { SingleCommand } from '../command.ts';
import { refuse } from '../../refusal.ts';
import { CUT, transitionSchema, type Transition } from '../scenes/scene.ts';
import { commands, withLive, withSetup, type Change, type Handlers } from '../slice.ts';
import type { ShowState } from '../state.ts';
import { fillBuses } from './buses.ts';

export const takeCommands = commands({
	setNext: { sceneId: v.nullable(idSchema) },
	/** Puts Next on air, or the scene named, with the chosen transition or the one given. */
	take: { sceneId: v.optional(idSchema), transition: v.optional(transitionSchema) },
	/** Puts the scene that was on air before on air again. */
	takeBack: {},
	/** Calls back the newest take: what was on air before returns the way it went. */
	callBack: {},
	/** Moves the hand lever; at its end Next is on air. */
	setLever: { position: partSchema },
	setBlack: { black: v.boolean() },
	setTransition: { transition: transitionSchema },
	setDirect: { direct: v.boolean() },
	/** Puts scenes back that a deletion took away, where nothing is now. On air the program stays as it is. */
	fillBuses: { program: v.nullable(idSchema), next: v.nullable(idSchema), previous: v.nullable(idSchema) },
});

export const takeHandlers: Handlers<typeof takeCommands> = {
	setNext(state, { sceneId }) {
		const { next, lever } = state.live;
		if (sceneId !== null) sceneOf(state, sceneId);
		// Viewers see Next already; another one in its place would be a cut that nobody asked for.
		if (lever > 0 && sceneId !== next) throw refuse('leverHalfWay', {});
		return { state: withLive(state, { next: sceneId }), inverse: [{ type: 'setNext', sceneId: next }] };
	},
	take: (state, { sceneId, transition }, at) => take(state, sceneId ?? state.live.next, transition, at),
	takeBack(state, _, at) {
		if (state.live.previous === null) throw refuse('previousEmpty', {});
		return take(state, state.live.previous, undefined, at);
	},
	callBack(state, _, at) {
		const { take: newest, program, next } = state.live;
		if (newest.count === 0 || newest.calledBack) throw refuse('nothingToCallBack', {});
		// Never to black by surprise: the scene may have been deleted, or been this one before its changes.
		if (newest.from === null) throw refuse('calledBackGone', {});
		const again: SingleCommand[] = [
			...(program === null ? [] : [{ type: 'take' as const, sceneId: program, transition: newest.transition }]),
			{ type: 'setNext', sceneId: next },
		];
		return {
			state: withLive(state, {
				program: newest.from,
				previous: program,
				next: program,
				lever: 0,
				take: { ...newest, count: newest.count + 1, from: program, at, calledBack: true },
			}),
			inverse: again,
		};
	},
	setLever(state, { position }, at) {
		const { next, lever } = state.live;
		if (next === null && position > 0) throw refuse('nextEmpty', {});
		// At its end the picture is there already, so nothing is left to be played.
		if (position === 1) return take(state, next, CUT, at);
		return { state: withLive(state, { lever: position }), inverse: [{ type: 'setLever', position: lever }] };
	},
	setBlack: (state, { black }) => ({
		state: withLive(state, { black }),
		inverse: [{ type: 'setBlack', black: state.live.black }],
	}),
	setTransition: (state, { transition }) => ({
		state: withSetup(state, { transition }),
		inverse: [{ type: 'setTransition', transition: state.setup.transition }],
	}),
	setDirect: (state, { direct }) => ({
		state: withSetup(state, { direct }),
		inverse: [{ type: 'setDirect', direct: state.setup.direct }],
	}),
	fillBuses: (state, buses) => ({ state: fillBuses(state, buses), inverse: [] }),
};

/**
 * Puts a scene on air. The way back is a take as well: what waited for this one has been seen.
 * @param asked the transition asked for; otherwise the scene's own, or the desk's
 */
export function take(state: ShowState, sceneId: string | null, asked: Transition | undefined, at: number): Change {
	if (sceneId === null) throw refuse('nextEmpty', {});
	const { setup, live } = state;
	const scene = sceneOf(state, sceneId);
	const draft = live.drafts.find(({ id }) => id === sceneId);
	const isOn = sceneId === live.program;
	if (isOn && !draft) return { state, inverse: [] };
	const shown = draft ?? scene;
	const taken = withLive(state, {
		drafts: draft ? live.drafts.filter(({ id }) => id !== sceneId) : live.drafts,
		program: sceneId,
		previous: isOn ? live.previous : live.program,
		// What was on air comes back to Next, so that two people talking in turn cost one press each.
		next: sceneId === live.next ? (isOn ? null : live.program) : live.next,
		take: {
			count: live.take.count + 1,
			from: isOn ? null : live.program,
			transition: asked ?? shown.transition ?? setup.transition,
			at,
			calledBack: false,
		},
		lever: 0,
	});
	const scenes = setup.scenes.map((each) => (each.id === sceneId ? shown : each));
	const inverse: SingleCommand[] =
		isOn || live.program === null ? [] : [{ type: 'callBack' }, { type: 'setNext', sceneId: live.next }];
	return { state: draft ? withSetup(taken, { scenes }) : taken, inverse };
}

function sceneOf({ setup }: ShowState, sceneId: string) {
	const scene = setup.scenes.find(({ id }) => id === sceneId);
	if (!scene) throw refuse('gone', { what: 'scene' });
	return scene;
}
