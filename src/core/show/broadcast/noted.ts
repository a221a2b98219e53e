/** What somebody, or a macro, has said to the log or to viewers: the server does it when it sees it in the show. */
import * as v from 'valibot';
import { countSchema, timeSchema } from '../basics.ts';
import { withLive } from '../slice.ts';
import type { ShowState } from '../state.ts';

/** The newest ones that are kept: as many as can come at one moment. */
export const MOST_NOTED = 100;
/** What a viewer can read at once. */
export const MOST_POST_LETTERS = 300;

export const notedSchema = v.object({
	/** Grows with each. */
	number: countSchema,
	/** A moment worth finding again, or a message to viewers at the hosts that take one. */
	is: v.picklist(['marker', 'post']),
	text: v.pipe(v.string(), v.minLength(1), v.maxLength(MOST_POST_LETTERS)),
	/** Milliseconds since 1970. */
	at: timeSchema,
});

export type Noted = v.InferOutput<typeof notedSchema>;

export function withNoted(state: ShowState, is: Noted['is'], text: string, at: number): ShowState {
	const { noted } = state.live;
	const number = (noted.at(-1)?.number ?? 0) + 1;
	return withLive(state, { noted: [...noted, { number, is, text, at }].slice(-MOST_NOTED) });
}
