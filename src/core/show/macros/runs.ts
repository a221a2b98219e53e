/** What is kept of macros that run. */
import type { SingleCommand } from '../command.ts';
import { withDue, withoutDue } from '../due.ts';
import { clipEndsAt, clipOf, transportOf } from '../clips/source.ts';
import { timeOfEvening } from '../runsheet/order.ts';
import { withLive } from '../slice.ts';
import type { Live, ShowState } from '../state.ts';
import { EVERYTHING_OFF, everythingOff, type Macro, type MacroStep } from './macro.ts';

export type MacroRun = Live['macros'][number];

/** The macro of an id, that which ships among them; null when there is none. */
export function macroOf({ macros }: Pick<ShowState['setup'], 'macros'>, macroId: string): Macro | null {
	return macros.find(({ id }) => id === macroId) ?? (macroId === EVERYTHING_OFF ? everythingOff(EVERYTHING_OFF) : null);
}

export function runOf({ live }: Pick<ShowState, 'live'>, macroId: string): MacroRun | null {
	return live.macros.find((run) => run.macroId === macroId) ?? null;
}

/** A second press so soon is one that bounced. */
const DOUBLE_PRESS_MS = 400;

/** True while another press does nothing. A page's clock may be a little behind that of the server. */
export function isJustBegun({ begunAt }: MacroRun, at: number): boolean {
	return Math.abs(at - begunAt) < DOUBLE_PRESS_MS;
}

/** True when another press of it takes back what it did. */
export function canTakeBack({ setup }: Pick<ShowState, 'setup'>, { macroId, back, isWaiting }: MacroRun): boolean {
	return macroOf(setup, macroId)?.again === 'takeBack' && (isWaiting || back.length > 0);
}

export function withRun(state: ShowState, run: MacroRun): ShowState {
	const others = state.live.macros.filter(({ macroId }) => macroId !== run.macroId);
	return withLive(state, { macros: [...others, run] });
}

/** As if it had never run. */
export function forgotten(state: ShowState, macroId: string): ShowState {
	const macros = state.live.macros.filter((run) => run.macroId !== macroId);
	const without = macros.length === state.live.macros.length ? state : withLive(state, { macros });
	return withoutDue(without, dueId(macroId));
}

/** When a wait is over, milliseconds since 1970; null while that cannot be told, as of a clip that pauses. */
function overAt(state: ShowState, step: MacroStep | undefined, since: number): number | null {
	switch (step?.is) {
		case 'pause':
			return since + step.ms;
		case 'clock':
			return step.time === '' ? since : Math.max(since, timeOfEvening(state, step.time, since));
		case 'clip': {
			const ends = clipEndsAt(state, step.sourceId);
			if (ends !== null) return Math.max(since, ends);
			const { positionMs } = transportOf(state, step.sourceId);
			// One that is back at its beginning, or gone, comes to no end.
			return clipOf(state.setup, step.sourceId) && positionMs > 0 ? null : since;
		}
		default:
			return since;
	}
}

/** Keeps the entries for what macros wait for in line with clips and clock. */
export function armMacros(state: ShowState): ShowState {
	for (const { macroId, begunAt, at, step, isWaiting } of state.live.macros) {
		const id = dueId(macroId);
		const macro = macroOf(state.setup, macroId);
		const over = isWaiting && macro ? overAt(state, macro.steps[step], at) : null;
		const known = state.live.due.find((due) => due.id === id);
		const on: SingleCommand = { type: 'macroOn', macroId, begunAt, step };
		if (over === null) state = withoutDue(state, id);
		else if (known?.at !== over || !isSame(known.batch[0], on)) state = withDue(state, id, over, [on]);
	}
	return state;
}

function isSame(known: SingleCommand | undefined, on: Extract<SingleCommand, { type: 'macroOn' }>): boolean {
	return known?.type === 'macroOn' && known.begunAt === on.begunAt && known.step === on.step;
}

/** Ids of entries have 64 characters at most. */
function dueId(macroId: string): string {
	return `macro-${macroId}`.slice(0, 64);
}
