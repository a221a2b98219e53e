/** Lists of a show whose entries have ids: one way to add, change, remove and move, each with its way back. */
import type { SingleCommand } from './command.ts';
import { refuse, type Thing } from '../refusal.ts';
import type { Change } from './slice.ts';
import type { ShowState } from './state.ts';

interface Entry {
	id: string;
}

interface Options<T extends Entry> {
	what: Thing;
	/** Entries there can be at most. */
	most: number;
	list: (state: ShowState) => readonly T[];
	put: (state: ShowState, list: T[]) => ShowState;
	/** The commands that a change is taken back with. */
	adding: (entry: T, at: number) => readonly SingleCommand[];
	changing: (entry: T, state: ShowState) => readonly SingleCommand[];
	removing: (entry: T) => readonly SingleCommand[];
	moving?: (id: string, at: number) => SingleCommand;
}

export interface Collection<T extends Entry> {
	has(state: ShowState, id: string): boolean;
	/** @throws {Refusal} when there is no such entry */
	get(state: ShowState, id: string): T;
	/** @param at place in the list; its end when absent */
	add(state: ShowState, entry: T, at?: number): Change;
	change(state: ShowState, id: string, change: (entry: T) => T): Change;
	remove(state: ShowState, id: string): Change;
	/** @param at place among the others */
	move(state: ShowState, id: string, at: number): Change;
}

/** The commands of a list, as the handlers of a slice do them. */
export function collection<T extends Entry>(options: Options<T>): Collection<T> {
	const { what, most, list, put, adding, changing, removing, moving } = options;
	const placeOf = (state: ShowState, id: string): number => {
		const place = list(state).findIndex((entry) => entry.id === id);
		if (place < 0) throw refuse('gone', { what });
		return place;
	};
	return {
		has: (state, id) => list(state).some((entry) => entry.id === id),
		get: (state, id) => list(state)[placeOf(state, id)]!,
		add(state, entry, at = list(state).length) {
			const entries = list(state);
			if (entries.some(({ id }) => id === entry.id)) throw refuse('exists', { what });
			if (entries.length >= most) throw refuse('tooMany', { what, most });
			return { state: put(state, entries.toSpliced(at, 0, entry)), inverse: removing(entry) };
		},
		change(state, id, change) {
			const place = placeOf(state, id);
			const entry = list(state)[place]!;
			return { state: put(state, list(state).with(place, change(entry))), inverse: changing(entry, state) };
		},
		remove(state, id) {
			const place = placeOf(state, id);
			const inverse = adding(list(state)[place]!, place);
			return { state: put(state, list(state).toSpliced(place, 1)), inverse };
		},
		move(state, id, at) {
			const place = placeOf(state, id);
			const entries = list(state).toSpliced(place, 1).toSpliced(at, 0, list(state)[place]!);
			return { state: put(state, entries), inverse: moving ? [moving(id, place)] : [] };
		},
	};
}
