/** Cameras: there, moving, and sharp enough for what is made of them. */
import { cropWithin, fitInto, scaledTo, sharpness, softness } from '../picture/geometry.ts';
import { WHOLE } from '../show/basics.ts';
import type { Scene } from '../show/scenes/scene.ts';
import { kindOf, type Source } from '../show/sources/source.ts';
import type { Setup } from '../show/state.ts';
import type { SourceFact } from './facts.ts';
import { isFresh, WATCHED_MS, type Add, type Known } from './known.ts';

/** Shapes that differ by less are the same. */
const SAME_SHAPE = 0.02;
/** A camera with fewer than this part of the event's frames is seen to stutter. */
const ENOUGH_FRAMES = 0.8;

/** Pictures that come from outside and have to be there before anybody does; guests' seats fill later. */
export function camerasOf({ sources }: Pick<Setup, 'sources'>): Source[] {
	return sources.filter((source) => kindOf(source).isLive && kindOf(source).brings.picture && source.kind !== 'seat');
}

export function checkCameras({ show, facts, now }: Known, add: Add): void {
	const { setup } = show;
	const cameras = camerasOf(setup);
	if (cameras.length === 0) add('none', 'wrong', { is: 'noCamera' }, { mend: { does: 'addSource' } });
	for (const source of cameras) checkCamera(setup, source, facts.sources[source.id], now, add);
}

function checkCamera(setup: Setup, source: Source, fact: SourceFact | undefined, now: number, add: Add): void {
	const { id: sourceId, name } = source;
	const { picture } = setup;
	const mend = { does: 'editSource', sourceId } as const;
	if (!fact || !isFresh(fact.at, now, WATCHED_MS)) {
		const unseen = { is: 'camera', name, width: 0, height: 0, fps: null } as const;
		return add(sourceId, 'unseen', unseen, { mend: { does: 'look' } });
	}
	const { at, width, height, fps } = fact;
	if (fact.state !== 'live' || fact.fault !== null) {
		const fault = fact.fault ?? fact.state;
		// One that is being opened is neither well nor broken yet.
		const state = fact.state === 'opening' ? 'unseen' : 'wrong';
		return add(sourceId, state, { is: 'cameraFault', name, fault }, { at, mend });
	}
	add(sourceId, 'good', { is: 'camera', name, width, height, fps }, { at });
	if (width === 0) return;
	// What is shared is as large as its screen.
	if (source.kind === 'screen') return;
	if (Math.abs(width / height / (picture.width / picture.height) - 1) > SAME_SHAPE)
		add(`${sourceId} shape`, 'weak', { is: 'cameraShape', name, width, height }, { at, mend });
	if (fps !== null && fps < ENOUGH_FRAMES * picture.fps)
		add(`${sourceId} frames`, 'weak', { is: 'cameraSlow', name, fps, wanted: picture.fps }, { at, mend });
	const soft = softest(setup, source, { width, height });
	if (!soft) return;
	// Stretched even where it is shown whole: it is too small for the event's picture, whatever is made of it.
	const isSmall = softness(Math.min(width / picture.width, height / picture.height)) === 'visible';
	if (isSmall)
		add(`${sourceId} size`, 'weak', { is: 'cameraSmall', name, height, wanted: picture.height }, { at, mend });
	else add(`${sourceId} soft`, 'weak', { is: 'cameraSoft', name, ...soft }, { at, mend });
}

/** Where a source is stretched most, if that is seen. */
function softest(
	{ scenes, picture }: Setup,
	source: Source,
	size: { width: number; height: number },
): { scene: string; sharpness: number } | null {
	let worst: { scene: string; sharpness: number } | null = null;
	for (const scene of scenes)
		for (const layer of scene.layers) {
			if (layer.sourceId !== source.id || layer.hidden) continue;
			const value = sharpnessIn(source, layer, size, picture);
			if (softness(value) === 'visible' && value < (worst?.sharpness ?? Infinity))
				worst = { scene: scene.name, sharpness: value };
		}
	return worst;
}

function sharpnessIn(
	source: Source,
	{ framingId, crop, box, fit }: Scene['layers'][number],
	size: { width: number; height: number },
	picture: { width: number; height: number },
): number {
	const framing = source.framings.find(({ id }) => id === framingId)?.crop ?? WHOLE;
	const region = scaledTo(size, cropWithin(framing, crop));
	const { from, to } = fitInto(region, scaledTo(picture, box), fit);
	return sharpness(from, to);
}
