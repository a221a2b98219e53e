/** Commands about macros. What running one does is in run.ts. */
import { countSchema, idSchema, placeSchema, timeSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import { commands, withSetup, type Change, type Handlers } from '../slice.ts';
import { MOST_MACROS, macroSchema, type Macro } from './macro.ts';
import { forgotten } from './runs.ts';

export const macroCommands = commands({
	addMacro: { macro: macroSchema, at: placeSchema },
	changeMacro: { macro: macroSchema },
	removeMacro: { macroId: idSchema },
	moveMacro: { macroId: idSchema, at: countSchema },
});

/** Those that do other commands: the reducer itself has their handlers. */
export const macroRunCommands = commands({
	/** Runs it; while it runs, or once it has run, does what another press of it does. */
	runMacro: { macroId: idSchema },
	/** What it has not done yet it does not do. */
	stopMacro: { macroId: idSchema },
	/** What a run has waited for at a step is there. */
	macroOn: { macroId: idSchema, begunAt: timeSchema, step: countSchema },
});

const macros = collection<Macro>({
	what: 'macro',
	most: MOST_MACROS,
	list: ({ setup }) => setup.macros,
	put: (state, list) => withSetup(state, { macros: list }),
	adding: (macro, at) => [{ type: 'addMacro', macro, at }],
	changing: (macro) => [{ type: 'changeMacro', macro }],
	removing: ({ id: macroId }) => [{ type: 'removeMacro', macroId }],
	moving: (macroId, at) => ({ type: 'moveMacro', macroId, at }),
});

/** A run of what is not there any more, or is another one now, is over. */
function withoutRun(change: Change, macroId: string): Change {
	return { ...change, state: forgotten(change.state, macroId) };
}

export const macroHandlers: Handlers<typeof macroCommands> = {
	addMacro: (state, { macro, at }) => macros.add(state, macro, at),
	changeMacro: (state, { macro }) =>
		withoutRun(
			macros.change(state, macro.id, () => macro),
			macro.id,
		),
	removeMacro: (state, { macroId }) => withoutRun(macros.remove(state, macroId), macroId),
	moveMacro: (state, { macroId, at }) => macros.move(state, macroId, at),
};
