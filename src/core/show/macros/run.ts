/** Runs macros: one step after another at one moment, until one that waits. */
import { commandOf, subjectOf } from '../actions/actions.ts';
import { MOST_BATCH, type Command, type SingleCommand } from '../command.ts';
import { Refusal, refuse } from '../../refusal.ts';
import type { Change } from '../slice.ts';
import type { ShowState } from '../state.ts';
import type { Macro } from './macro.ts';
import { armMacros, canTakeBack, forgotten, isJustBegun, macroOf, runOf, withRun, type MacroRun } from './runs.ts';

type Reduce = (state: ShowState, command: Command, at: number) => Change;

/** Begins a macro, or does what another press of it does. */
export function runMacro(state: ShowState, macroId: string, at: number, reduce: Reduce): Change {
	const macro = macroOf(state.setup, macroId);
	if (!macro) throw refuse('gone', { what: 'macro' });
	const known = runOf(state, macroId);
	if (known && isJustBegun(known, at)) return { state, inverse: [] };
	if (known && canTakeBack(state, known)) return { state: takenBack(state, known, at, reduce), inverse: [] };
	if (known?.isWaiting) return stopMacro(state, macroId);
	const run: MacroRun = { macroId, begunAt: at, at, step: 0, isWaiting: false, missed: [], took: null, back: [] };
	return { state: goOn(forgotten(state, macroId), macro, run, 0, at, reduce), inverse: [] };
}

/** What it has done stays. */
export function stopMacro(state: ShowState, macroId: string): Change {
	const run = runOf(state, macroId);
	if (!run?.isWaiting) return { state, inverse: [] };
	return { state: armMacros(kept(state, { ...run, isWaiting: false })), inverse: [] };
}

/** What a run has waited for is there; said of another run, or of another step, it counts for nothing. */
export function macroOn(
	state: ShowState,
	{ macroId, begunAt, step }: { macroId: string; begunAt: number; step: number },
	at: number,
	reduce: Reduce,
): Change {
	const [macro, run] = [macroOf(state.setup, macroId), runOf(state, macroId)];
	const isStale = run?.begunAt !== begunAt || run.step !== step || !run.isWaiting;
	if (!macro || isStale) return { state, inverse: [] };
	return { state: goOn(state, macro, run, step + 1, at, reduce), inverse: [] };
}

function goOn(state: ShowState, macro: Macro, run: MacroRun, from: number, at: number, reduce: Reduce): ShowState {
	let now = state;
	let { missed, took, back } = run;
	for (const [step, each] of macro.steps.entries()) {
		if (step < from) continue;
		if (each.is !== 'order') return armMacros(withRun(now, { ...run, at, step, isWaiting: true, missed, took, back }));
		const before = now;
		const newId = `${Math.trunc(run.begunAt)}-${step}-${macro.id}`.slice(0, 64);
		const command = commandOf(before, each.order, { at, from: macro.name, newId });
		const change = command && tried(before, command, at, reduce);
		if (change) {
			now = change.state;
			back = [...wayBack(before, change), ...back].slice(0, MOST_BATCH);
			if (now.live.program !== before.live.program) took = now.live.program;
		} else if (command || subjectOf(before, each.order) === null) missed = [...missed, step];
	}
	return armMacros(kept(now, { ...run, at, step: macro.steps.length, isWaiting: false, missed, took, back }));
}

/** One step that cannot be done keeps none of the others from being done. */
function tried(state: ShowState, command: Command, at: number, reduce: Reduce): Change | null {
	try {
		return reduce(state, command, at);
	} catch (error) {
		if (error instanceof Refusal) return null;
		throw error;
	}
}

/** A run that is over is remembered while there is something to be taken back of it, or to be said. */
function kept(state: ShowState, run: MacroRun): ShowState {
	return canTakeBack(state, run) || run.missed.length > 0 ? withRun(state, run) : forgotten(state, run.macroId);
}

const OF_TAKES: readonly SingleCommand['type'][] = ['take', 'callBack', 'setNext', 'fillBuses'];

/** How a step is taken back later, when others may have taken scenes since. */
function wayBack(before: ShowState, { state, inverse }: Change): SingleCommand[] {
	const others = inverse.filter(({ type }) => !OF_TAKES.includes(type));
	const { program } = before.live;
	if (program === null || program === state.live.program) return others;
	return [{ type: 'take', sceneId: program, transition: state.live.take.transition }, ...others];
}

function takenBack(state: ShowState, run: MacroRun, at: number, reduce: Reduce): ShowState {
	// Where somebody has gone on to another scene since, that stays.
	const isStill = state.live.program === run.took;
	const commands = run.back.filter(({ type }) => type !== 'take' || isStill);
	const done = commands.reduce((now, command) => tried(now, command, at, reduce)?.state ?? now, state);
	return armMacros(forgotten(done, run.macroId));
}

/** Steps of a macro that will not go: what they are about is gone. */
export function missingSteps(state: ShowState, { steps }: Macro): number[] {
	return steps.flatMap((step, i) => {
		if (step.is === 'order') return subjectOf(state, step.order) === null ? [i] : [];
		if (step.is !== 'clip') return [];
		return state.setup.sources.some(({ id }) => id === step.sourceId) ? [] : [i];
	});
}
