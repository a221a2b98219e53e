/**
 * The show's one reducer, composed of its slices. Server, desk and every other page run it on the same commands in the
 * same order, so they agree without asking each other.
 */
import { broadcastHandlers } from './broadcast/commands.ts';
import { clipHandlers, followProgram } from './clips/commands.ts';
import type { Command, SingleCommand } from './command.ts';
import { crewHandlers } from './crew/commands.ts';
import { deliveryHandlers } from './delivery/commands.ts';
import { withoutDue } from './due.ts';
import { carriedHandlers } from './event/carried.ts';
import { eventHandlers } from './event/commands.ts';
import { fieldHandlers } from './event/fields.ts';
import { guestHandlers, withoutLost } from './guests/commands.ts';
import { macroHandlers } from './macros/commands.ts';
import { macroOn, runMacro, stopMacro } from './macros/run.ts';
import { armMacros } from './macros/runs.ts';
import { mixHandlers } from './mix/commands.ts';
import { overlayHandlers } from './overlays/commands.ts';
import { Refusal, refuse, type RefusalMessage } from '../refusal.ts';
import { panelHandlers } from './panels/commands.ts';
import { runsheetHandlers } from './runsheet/commands.ts';
import { armFollow, holdRotation } from './runsheet/go.ts';
import { inTurn, sceneHandlers } from './scenes/commands.ts';
import type { Change, Handler } from './slice.ts';
import { sourceHandlers } from './sources/commands.ts';
import type { ShowState } from './state.ts';
import { surfaceHandlers } from './surfaces/commands.ts';
import { takeHandlers } from './takes/commands.ts';
import { wordsHandlers } from './words/commands.ts';

type HandlerMap = { [T in Command['type']]: Handler<Extract<Command, { type: T }>> };

const handlers: HandlerMap = {
	...eventHandlers,
	...fieldHandlers,
	...carriedHandlers,
	...sourceHandlers,
	...sceneHandlers,
	...overlayHandlers,
	...clipHandlers,
	...takeHandlers,
	...mixHandlers,
	...deliveryHandlers,
	...broadcastHandlers,
	...runsheetHandlers,
	...guestHandlers,
	...wordsHandlers,
	...macroHandlers,
	...panelHandlers,
	...crewHandlers,
	...surfaceHandlers,
	runMacro: (state, { macroId }, at) => runMacro(state, macroId, at, reduce),
	stopMacro: (state, { macroId }) => stopMacro(state, macroId),
	macroOn: (state, command, at) => macroOn(state, command, at, reduce),
	batch: (state, { commands }, at) => batch(state, commands, at),
	fallDue(state, { dueId }, at) {
		const entry = state.live.due.find(({ id }) => id === dueId);
		if (!entry) throw refuse('gone', { what: 'due' });
		const without = withoutDue(state, dueId);
		try {
			// Done late, after a server that was away, it counts from when it was due: what follows from it is in time again.
			return batch(without, entry.batch, Math.min(at, entry.at));
		} catch (error) {
			// What cannot be done any more is not tried for ever.
			if (error instanceof Refusal) return { state: without, inverse: [] };
			throw error;
		}
	},
};

/**
 * Does a command.
 * @param at milliseconds since 1970 when the hub took it
 * @returns a new state that shares what did not change, and the way back; the old state is untouched
 * @throws {Refusal} when the command cannot be done
 */
export function reduce(state: ShowState, command: Command, at: number): Change {
	const change = (handlers[command.type] as Handler<Command>)(state, command, at);
	// A batch and what falls due are made of commands, each of which has been followed.
	if (command.type === 'batch' || command.type === 'fallDue' || change.state === state) return change;
	return { ...change, state: followed(state, change.state, command, at) };
}

/** What happens of itself when something has changed: clips follow the program; the run sheet's next step, and what macros wait for, follow both. */
function followed(before: ShowState, state: ShowState, command: Command, at: number): ShowState {
	return armMacros(armFollow(followProgram(before, withoutLost(before, holdRotation(before, state, command)), at)));
}

function batch(state: ShowState, commands: readonly SingleCommand[], at: number): Change {
	return inTurn(
		state,
		commands.map((command) => (now) => reduce(now, command, at)),
	);
}

/** Applies a command. @returns the new state and the inverse, or the reason for the refusal */
export function tryReduce(state: ShowState, command: Command, at: number): Change | { refused: RefusalMessage } {
	try {
		return reduce(state, command, at);
	} catch (error) {
		if (error instanceof Refusal) return { refused: error.reason };
		throw error;
	}
}

/** Does commands in turn; those that cannot be done any more change nothing. */
export function reduceAll(state: ShowState, commands: readonly Command[], at: number): ShowState {
	for (const command of commands) {
		const outcome = tryReduce(state, command, at);
		if ('state' in outcome) state = outcome.state;
	}
	return state;
}
