/** Commands about the transports of clips. A clip that comes into the program plays by itself, if it is set so. */
import * as v from 'valibot';
import { idSchema, within } from '../basics.ts';
import type { SingleCommand } from '../command.ts';
import { withDue, withoutDue } from '../due.ts';
import { refuse } from '../../refusal.ts';
import { commands, withLive, type Change, type Handlers } from '../slice.ts';
import type { ShowState } from '../state.ts';
import { AT_START, BED_FADE_MS, positionAt, roundMs, type Transport } from './clip.ts';
import { clipOf, isBed, isInProgram, type ClipSource } from './source.ts';

export const clipCommands = commands({
	/** Plays it from where it is, or from its beginning; one that has ended begins again. */
	playClip: { sourceId: idSchema, fromStart: v.optional(v.boolean()) },
	pauseClip: { sourceId: idSchema },
	/** Goes to a place on its timeline, milliseconds; it plays on if it plays. */
	seekClip: { sourceId: idSchema, positionMs: within(0, Number.MAX_SAFE_INTEGER) },
	/** Back to the beginning, where it waits. */
	rewindClip: { sourceId: idSchema },
});

export const clipHandlers: Handlers<typeof clipCommands> = {
	playClip: (state, { sourceId, fromStart }, at) => playClip(state, sourceId, fromStart ?? false, at),
	pauseClip(state, { sourceId }, at) {
		const { clip, before } = found(state, sourceId);
		const positionMs = positionAt(clip, before, at);
		return moved(state, sourceId, { ...before, playing: false, positionMs, since: at }, at);
	},
	seekClip(state, { sourceId, positionMs }, at) {
		const { clip, before } = found(state, sourceId);
		const place = clip.repeats ? positionMs : Math.min(positionMs, roundMs(clip));
		return moved(state, sourceId, { ...before, positionMs: place, since: at }, at);
	},
	rewindClip(state, { sourceId }, at) {
		const { before } = found(state, sourceId);
		return moved(state, sourceId, { ...before, playing: false, positionMs: 0, since: at, seed: seedAt(at) }, at);
	},
};

function seedAt(at: number): number {
	return Math.abs(Math.trunc(at)) % 2 ** 31;
}

/** Plays a clip. */
export function playClip(state: ShowState, sourceId: string, fromStart: boolean, at: number): Change {
	const { clip, before } = found(state, sourceId);
	const here = positionAt(clip, before, at);
	const isOver = !clip.repeats && here >= roundMs(clip);
	const positionMs = fromStart || isOver ? 0 : here;
	// One that waits at its beginning has been seen there: its order stays. Another time it is another one.
	const seed = positionMs === 0 && here > 0 ? seedAt(at) : before.seed;
	return moved(state, sourceId, { ...before, playing: true, positionMs, since: at, seed }, at);
}

function found(state: ShowState, sourceId: string): { clip: ClipSource; before: Transport } {
	const clip = clipOf(state.setup, sourceId);
	if (!clip) throw refuse('gone', { what: 'clip' });
	return { clip, before: state.live.transports[sourceId] ?? AT_START };
}

function moved(state: ShowState, sourceId: string, transport: Transport, at: number): Change {
	const { clip, before } = found(state, sourceId);
	const transports = { ...state.live.transports, [sourceId]: { ...transport, count: before.count + 1 } };
	const back: SingleCommand[] = [
		{ type: 'seekClip', sourceId, positionMs: positionAt(clip, before, at) },
		before.playing ? { type: 'playClip', sourceId } : { type: 'pauseClip', sourceId },
	];
	return { state: withoutDue(withLive(state, { transports }), rewindId(sourceId)), inverse: back };
}

/** How long after it has left the program a clip is rewound: viewers may see it until its transition is over. */
const AFTER_TRANSITION_MS = 200;

/**
 * Lets clips follow the program: one that has come into it begins to play, one that has left it is rewound when its
 * transition is over.
 */
export function followProgram(before: ShowState, state: ShowState, at: number): ShowState {
	if (
		before.live.program === state.live.program &&
		before.live.shown === state.live.shown &&
		before.live.black === state.live.black &&
		before.setup === state.setup
	)
		return state;
	for (const source of state.setup.sources) {
		const clip = clipOf(state.setup, source.id);
		if (!clip?.playsOnTake) continue;
		const wasShown = isInProgram(before, source.id);
		if (isInProgram(state, source.id) === wasShown) continue;
		if (wasShown) state = rewoundLater(state, clip, at);
		else if (isAtWork(state, source.id)) state = withoutDue(state, rewindId(source.id));
		else state = playClip(state, source.id, false, at).state;
	}
	return withoutLost(state);
}

function isAtWork({ live }: ShowState, sourceId: string): boolean {
	return live.transports[sourceId]?.playing ?? false;
}

function rewoundLater(state: ShowState, clip: ClipSource, at: number): ShowState {
	const { id: sourceId } = clip;
	const transport = state.live.transports[sourceId];
	if (!transport || (!transport.playing && transport.positionMs === 0)) return state;
	const { transition } = state.live.take;
	const lastsMs = isBed(clip) ? BED_FADE_MS : transition.kind === 'cut' ? 0 : transition.durationMs;
	const rewind: SingleCommand = { type: 'rewindClip', sourceId };
	return withDue(state, rewindId(sourceId), at + lastsMs + AFTER_TRANSITION_MS, [rewind]);
}

/** Without transports of clips that are gone. */
function withoutLost(state: ShowState): ShowState {
	const entries = Object.entries(state.live.transports);
	const kept = entries.filter(([id]) => clipOf(state.setup, id));
	return kept.length === entries.length ? state : withLive(state, { transports: Object.fromEntries(kept) });
}

function rewindId(sourceId: string): string {
	return `rewind-${sourceId}`.slice(0, 64);
}
