/** Which sources are clips, and what is left of those that viewers see. */
import { kindOf, type Source, type SourceOf } from '../sources/source.ts';
import { isSourceShown, type Setup, type ShowState } from '../state.ts';
import { AT_START, endsPlayingAt, positionAt, roundMs, type Transport } from './clip.ts';

export type ClipSource = SourceOf<'clip'> | SourceOf<'soundClip'>;

export function isClip(source: Source | undefined): source is ClipSource {
	return source !== undefined && 'items' in source;
}

export function clipOf({ sources }: Pick<Setup, 'sources'>, sourceId: string): ClipSource | null {
	const source = sources.find(({ id }) => id === sourceId);
	return isClip(source) ? source : null;
}

export function transportOf({ live }: Pick<ShowState, 'live'>, sourceId: string): Transport {
	return live.transports[sourceId] ?? AT_START;
}

/** True for what a cue can start: a clip, a countdown for some time, a stopwatch. */
export function canStart(source: Source): boolean {
	return isClip(source) || (source.kind === 'clock' && 'startedAt' in source.clock);
}

/** True for a music bed. */
export function isBed(source: Source | undefined): boolean {
	return source?.kind === 'soundClip' && source.bed;
}

/** True when the program shows cards, clocks, stills or colours, and nothing that comes from a camera or a clip. */
export function showsOnlyCards({ setup, live }: ShowState): boolean {
	const scene = setup.scenes.find(({ id }) => id === live.program);
	if (!scene || live.black) return false;
	const shown = setup.sources.filter(({ id }) => scene.layers.some(({ sourceId }) => sourceId === id));
	return shown.length > 0 && shown.every((source) => !kindOf(source).isLive && !isClip(source));
}

/** True when a source has its part in the program: it is seen there, or is a music bed and the program shows cards. */
export function isInProgram(state: ShowState, sourceId: string): boolean {
	const isBedOf = isBed(state.setup.sources.find(({ id }) => id === sourceId));
	return isBedOf ? showsOnlyCards(state) : isSourceShown(state, sourceId);
}

/** How a clip stands. */
export interface ClipStanding {
	sourceId: string;
	name: string;
	playing: boolean;
	positionMs: number;
	/** Length of one round, milliseconds. */
	lengthMs: number;
	/** Milliseconds to its end; null for one that repeats. */
	leftMs: number | null;
	/** Milliseconds in which to leave it, once that is to be said; null before. */
	leaveMs: number | null;
}

/** @param now milliseconds since 1970, by the server's clock */
export function standingOf(state: ShowState, source: ClipSource, now: number): ClipStanding {
	const transport = transportOf(state, source.id);
	const positionMs = positionAt(source, transport, now);
	const lengthMs = roundMs(source);
	const leftMs = source.repeats ? null : lengthMs - positionMs;
	const isLeaving = transport.playing && leftMs !== null && leftMs > 0 && leftMs <= source.leadOutMs;
	return {
		sourceId: source.id,
		name: source.name,
		playing: transport.playing && (leftMs === null || leftMs > 0),
		positionMs: source.repeats ? positionMs % lengthMs : positionMs,
		lengthMs,
		leftMs,
		leaveMs: isLeaving ? leftMs : null,
	};
}

/** The clip in the program whose end comes first, of those that play; null when there is none. */
export function clipOnAir(state: ShowState, now: number): ClipStanding | null {
	const shown = state.setup.sources.filter(isClip).filter(({ id }) => isSourceShown(state, id));
	const playing = shown.map((source) => standingOf(state, source, now)).filter((clip) => clip.playing);
	const left = ({ leftMs }: ClipStanding) => leftMs ?? Infinity;
	return playing.reduce<ClipStanding | null>(
		(first, clip) => (first && left(first) <= left(clip) ? first : clip),
		null,
	);
}

/** When a clip ends, milliseconds since 1970; null for one that does not play, or repeats. */
export function clipEndsAt(state: Pick<ShowState, 'setup' | 'live'>, sourceId: string): number | null {
	const clip = clipOf(state.setup, sourceId);
	return clip && endsPlayingAt(clip, transportOf(state, sourceId));
}
