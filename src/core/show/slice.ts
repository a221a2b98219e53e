/** What a slice of the show is made of: the schemas of its commands, and a handler for each. */
import * as v from 'valibot';
import type { SingleCommand } from './command.ts';
import type { ShowState } from './state.ts';

/** Outcome of a command. */
export interface Change {
	/** Shares with the state before all that did not change. */
	state: ShowState;
	/**
	 * Commands that take the change back, to be sent as one batch. Empty when nothing was changed, or when there is no
	 * way back: what was broadcast stays broadcast.
	 */
	inverse: readonly SingleCommand[];
}

type Fields = Record<string, v.ObjectEntries>;

/** Schemas of commands by their type. */
export type CommandSchemas<F extends Fields> = {
	readonly [K in keyof F & string]: v.ObjectSchema<{ readonly type: v.LiteralSchema<K, undefined> } & F[K], undefined>;
};

/** Makes the schemas of a slice's commands from the fields of each. */
export function commands<const F extends Fields>(fields: F): CommandSchemas<F> {
	const schemas = Object.entries(fields).map(([type, entries]) => [
		type,
		v.object({ type: v.literal(type), ...entries }),
	]);
	return Object.fromEntries(schemas) as CommandSchemas<F>;
}

/** Any command of the schemas. */
export type CommandOf<S extends Record<string, v.GenericSchema>> = v.InferOutput<S[keyof S]>;

/**
 * Does one command.
 * @param at milliseconds since 1970 when the hub took it
 * @throws {Refusal} when it cannot be done
 */
export type Handler<C> = (state: ShowState, command: C, at: number) => Change;

/** A handler for each command of a slice. */
export type Handlers<S extends Record<string, v.GenericSchema>> = { [K in keyof S]: Handler<v.InferOutput<S[K]>> };

/** The state with another setup. */
export function withSetup(state: ShowState, part: Partial<ShowState['setup']>): ShowState {
	return { ...state, setup: { ...state.setup, ...part } };
}

/** The state with something else that is live. */
export function withLive(state: ShowState, part: Partial<ShowState['live']>): ShowState {
	return { ...state, live: { ...state.live, ...part } };
}
