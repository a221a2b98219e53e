/**
 * How heavy an event's pictures are to make, found from their draw lists. Weights are milliseconds for a whole 1920 × 1080
 * frame on the machine that `bench picture` was run on; elsewhere only their ratios mean something.
 */
import {
	sceneSteps,
	stepsAbove,
	type DrawList,
	type DrawStep,
	type PictureInfo,
	type Stage,
} from '../picture/draw-list.ts';
import type { Size } from '../picture/geometry.ts';
import { WHOLE } from '../show/basics.ts';
import { planDelivery, type Deliverable } from '../show/delivery/delivery.ts';
import { planTracks } from '../show/delivery/tracks.ts';
import { kindOf } from '../show/sources/source.ts';
import type { Setup } from '../show/state.ts';

const FILL = 0.15;
const COPY = 0.3;
const SCALE = 1;
const BLEND = 0.7;
const KEY = 1.2;
const PATCH = 1;
const MIX = 0.7;
/** Of one frame in the browser's own encoder. */
const ENCODE = 27;

/** Width of a source by its height, as most are. */
const TRACK_SHAPE = 16 / 9;
/** Of one frame of a live source, which is decoded whether it is shown or not. */
const DECODE = 3.4;
const WHOLE_PIXELS = 1920 * 1080;
const pixelsOf = ({ width, height }: Size) => width * height;
/** All events are weighed at one size, so that they can be compared. */
const SCALES: Size = { width: 1920, height: 1080 };

type WeighedSetup = Pick<Setup, 'sources' | 'scenes' | 'background' | 'overlays' | 'patches'>;

/** How heavy one list is. */
export function weightOf({ base, above, black }: DrawList, stage: Stage): number {
	const sum = (steps: readonly DrawStep[]) => steps.reduce((all, step) => all + stepWeight(step, stage), 0);
	const whole = pixelsOf(stage.picture) / WHOLE_PIXELS;
	const joined = 'steps' in base ? sum(base.steps) : sum(base.from) + sum(base.to) + MIX * whole;
	return joined + sum(above) + (black > 0 ? MIX * whole : 0);
}

function stepWeight(step: DrawStep, { pictureOf }: Stage): number {
	if (step.step === 'patch') return (PATCH * pixelsOf(step.area)) / WHOLE_PIXELS;
	const part = pixelsOf(step.to) / WHOLE_PIXELS;
	const isBlended = step.opacity < 256 || step.mask !== null;
	if (step.step === 'fill') return part * (FILL + (isBlended ? BLEND : 0));
	const { from, to, key, mirrored, pictureId } = step;
	const isScaled = mirrored || from.width !== to.width || from.height !== to.height;
	const isKeyed = key !== null ? KEY : isBlended || pictureOf(pictureId)?.alpha === true ? BLEND : 0;
	return part * ((isScaled ? SCALE : COPY) + isKeyed);
}

/** What scenes are weighed on: sources without a known size are taken to be as large as the program. */
function stageFor(setup: WeighedSetup, sizeOf: (sourceId: string) => Size | null): Stage {
	const infos = new Map(
		setup.sources.map(({ id }): [string, PictureInfo] => [id, { ...(sizeOf(id) ?? SCALES), alpha: false }]),
	);
	return {
		picture: SCALES,
		background: setup.background,
		pictureOf: (id) => infos.get(id) ?? null,
		framing: (sourceId, framingId) =>
			setup.sources.find(({ id }) => id === sourceId)?.framings.find(({ id }) => id === framingId)?.crop ?? WHOLE,
	};
}

/** A scene with all overlays that reach it, and how heavy that is. */
export interface WeighedScene {
	sceneId: string;
	weight: number;
}

/**
 * All scenes, the heaviest first.
 * @param sizeOf size of a source's picture as far as it is known
 */
export function weighScenes(setup: WeighedSetup, sizeOf: (sourceId: string) => Size | null): WeighedScene[] {
	const stage = stageFor(setup, sizeOf);
	const shown = setup.overlays.map((overlay) => ({ overlay, presence: 1, age: 0 }));
	const drawn: Stage = {
		...stage,
		// A drawn graphic covers about a fifth of the picture.
		pictureOf: (id) => stage.pictureOf(id) ?? { ...SCALES, alpha: true },
	};
	const graphicOf = (pictureId: string) => {
		const lower = { x: 0, y: 0.75 * SCALES.height, width: SCALES.width, height: 0.2 * SCALES.height };
		return { pictureId, pieces: [{ from: lower, to: lower }] };
	};
	return setup.scenes
		.map((scene) => {
			const above = stepsAbove(shown, scene.id, graphicOf, setup.patches, drawn);
			return {
				sceneId: scene.id,
				weight: weightOf({ base: { steps: sceneSteps(scene, stage) }, above, black: 0 }, drawn),
			};
		})
		.toSorted((a, b) => b.weight - a.weight);
}

/** How heavy an event is: its heaviest scene, all live sources, and all that is encoded. */
export function eventWeight(show: Deliverable & { setup: Setup }, sizeOf: (sourceId: string) => Size | null): number {
	const scene = weighScenes(show.setup, sizeOf)[0]?.weight ?? 0;
	const live = show.setup.sources
		.filter((source) => kindOf(source).isLive)
		.reduce((sum, { id }) => sum + (DECODE * pixelsOf(sizeOf(id) ?? SCALES)) / WHOLE_PIXELS, 0);
	return scene + live + (ENCODE * encodedPixels(show)) / pixelsOf(show.setup.picture);
}

/** Pixels that are encoded for one frame of the program, mean: of all renditions, and of what is recorded apart. */
export function encodedPixels(show: Deliverable & { setup: Setup }): number {
	const { setup } = show;
	const renditions = planDelivery(show).renditions.reduce((sum, form) => sum + pixelsOf(form) * form.fps, 0);
	const tracks = planTracks(setup).reduce(
		(sum, track) => sum + (track.kind === 'source' ? TRACK_SHAPE * track.maxHeight ** 2 * track.fps : 0),
		0,
	);
	return (renditions + tracks) / setup.picture.fps;
}
