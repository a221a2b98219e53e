/**
 * From scenes to a draw list: what must be painted for this frame, from back to front, and nothing else.
 * A pure function of the show and of the sizes of the pictures that are there.
 */
import type { Overlay, PrivacyPatch } from '../show/overlays/overlay.ts';
import { WHOLE, type Crop } from '../show/basics.ts';
import type { Direction, Layer, Scene } from '../show/scenes/scene.ts';
import { BLACK, keyNumbers, yuvOf, type KeyNumbers, type Yuv } from './colour.ts';
import { clipped, cropWithin, fitInto, onEvenPixels, scaledTo, type Fit, type Rect, type Size } from './geometry.ts';

/** A picture that is there: a source's newest, or a drawn graphic. */
export interface PictureInfo extends Size {
	/** True when parts of it may be transparent. */
	alpha: boolean;
}

/** What a list is made for. */
export interface Stage {
	picture: Size;
	/** A source's picture, or null while it has none. */
	pictureOf(id: string): PictureInfo | null;
	/** Crop of a source's framing; the whole picture when there is no such framing. */
	framing(sourceId: string, framingId: string | null): Crop;
	/** The event's background. */
	background: string | null;
}

/** A rounded shape that a step is cut to: its size and radius, and where in it the step's rectangle begins. */
export interface Mask extends Size {
	radius: number;
	x: number;
	y: number;
}

/** Scales a region of a picture, in its pixels, into `to`, on even pixels of the program. Opacity is 0 to 256. */
export interface Blit {
	step: 'blit';
	pictureId: string;
	from: Rect;
	to: Rect;
	mirrored: boolean;
	opacity: number;
	mask: Mask | null;
	key: KeyNumbers | null;
}

export type DrawStep = Blit | { step: 'fill'; colour: Yuv; to: Rect; opacity: number; mask: Mask | null } | PatchStep;

/** Makes an area unreadable; `cell` is the length in pixels over which nothing is left but a mean. */
export interface PatchStep {
	step: 'patch';
	area: Rect;
	style: PrivacyPatch['style'];
	cell: number;
}

/** How two pictures become one. Weight of the second of 256; progress 0 to 1; dx and dy of the second in pixels. */
export type Joining =
	| { way: 'mix'; weight: number }
	| { way: 'wipe'; direction: Direction; progress: number }
	| { way: 'slide'; dx: number; dy: number };

/** One picture to be made: scenes, what stays put above them, and how far it is black, of 256. */
export interface DrawList {
	base: { steps: DrawStep[] } | { from: DrawStep[]; to: DrawStep[]; joined: Joining };
	above: DrawStep[];
	black: number;
}

/** A layer where it will lie, before positions are rounded to pixels; a glide moves these. */
export interface Part {
	pictureId: string;
	/** In pixels of the source. */
	from: Rect;
	/** In pixels of the program, between them if need be. */
	to: Rect;
	mirrored: boolean;
	/** 0 to 1. */
	opacity: number;
	/** Radius in parts of the shorter side. */
	corner: number;
	/** Width in pixels. */
	border: { width: number; colour: string };
	key: KeyNumbers | null;
}

/** The parts of a scene from back to front, its background first. Sources without a picture are left out. */
export function sceneParts(scene: Pick<Scene, 'layers' | 'background'> | null, stage: Stage): Part[] {
	if (!scene) return [];
	const { background } = scene;
	const behind = background.is === 'own' ? background.sourceId : background.is === 'event' ? stage.background : null;
	const parts = scene.layers.filter(({ hidden }) => !hidden).map((layer) => layerPart(layer, stage));
	const back = behind === null ? null : picturePart(behind, WHOLE, WHOLE, 'fill', stage);
	return [back, ...parts].filter((part) => part !== null);
}

function layerPart(layer: Layer, stage: Stage): Part | null {
	const { sourceId, framingId, box, fit, crop, opacity, mirrored, corner, border, key } = layer;
	const part = picturePart(sourceId, cropWithin(stage.framing(sourceId, framingId), crop), box, fit, stage);
	if (!part || opacity === 0) return null;
	return {
		...part,
		opacity,
		mirrored,
		corner,
		border: { width: border.width * stage.picture.height, colour: border.colour },
		key: key && keyNumbers(key),
	};
}

/** All or a part of a picture in a box, both in parts. */
export function picturePart(pictureId: string, crop: Rect, box: Rect, fit: Fit, stage: Stage): Part | null {
	const info = stage.pictureOf(pictureId);
	if (!info) return null;
	return {
		pictureId,
		...fitInto(scaledTo(info, crop), scaledTo(stage.picture, box), fit),
		mirrored: false,
		opacity: 1,
		corner: 0,
		border: { width: 0, colour: '#000000' },
		key: null,
	};
}

/** The steps that paint parts on black. What lies behind a part that covers the whole picture is left out. */
export function partSteps(parts: readonly Part[], stage: Stage): DrawStep[] {
	const { picture } = stage;
	let steps: DrawStep[] = [{ step: 'fill', colour: BLACK, to: { x: 0, y: 0, ...picture }, opacity: 256, mask: null }];
	for (const part of parts) {
		const own = stepsOf(part, picture);
		const last = own.at(-1);
		if (last?.step === 'blit' && covers(last, stage)) steps = [last];
		else steps.push(...own);
	}
	return steps;
}

export function sceneSteps(scene: Pick<Scene, 'layers' | 'background'> | null, stage: Stage): DrawStep[] {
	return partSteps(sceneParts(scene, stage), stage);
}

/** The steps that paint one layer of a scene alone on a ground of one colour; without a picture of it, none. */
export function layerStepsOn(ground: Yuv, layer: Layer, stage: Stage): DrawStep[] {
	const part = layerPart(layer, stage);
	const fill: DrawStep = {
		step: 'fill',
		colour: ground,
		to: { x: 0, y: 0, ...stage.picture },
		opacity: 256,
		mask: null,
	};
	return part ? [fill, ...stepsOf(part, stage.picture)] : [];
}

/** The border of a part, if it has one, and the part itself, as far as they are within the picture. */
export function stepsOf(part: Part, picture: Size): DrawStep[] {
	const opacity = Math.round(256 * Math.min(1, Math.max(0, part.opacity)));
	if (opacity === 0) return [];
	const to = onEvenPixels(part.to);
	const radius = Math.round(part.corner * Math.min(to.width, to.height));
	const { pictureId, from, mirrored, key, border } = part;
	const steps: DrawStep[] = [];
	if (border.width >= 1) {
		const width = 2 * Math.max(1, Math.round(border.width / 2));
		const around = { x: to.x - width, y: to.y - width, width: to.width + 2 * width, height: to.height + 2 * width };
		const seen = clipped(around, around, picture);
		const colour = yuvOf(border.colour);
		if (seen)
			steps.push({
				step: 'fill',
				colour,
				to: seen.to,
				opacity,
				mask: maskOf(around, seen.to, radius && radius + width),
			});
	}
	// A mirrored picture that hangs over the left edge loses its right side.
	const unmirrored = mirrored ? { ...to, x: picture.width - to.x - to.width } : to;
	const seen = clipped(from, unmirrored, picture);
	if (!seen) return steps;
	const shown = mirrored ? { ...seen.to, x: picture.width - seen.to.x - seen.to.width } : seen.to;
	const mask = maskOf(to, shown, radius);
	steps.push({ step: 'blit', pictureId, from: seen.from, to: shown, mirrored, opacity, mask, key });
	return steps;
}

function maskOf(whole: Rect, shown: Rect, radius: number): Mask | null {
	if (radius === 0) return null;
	return { width: whole.width, height: whole.height, radius, x: shown.x - whole.x, y: shown.y - whole.y };
}

function covers({ to, opacity, mask, key, pictureId }: Blit, { picture, pictureOf }: Stage): boolean {
	const whole = to.width === picture.width && to.height === picture.height;
	return whole && opacity === 256 && !mask && !key && !pictureOf(pictureId)!.alpha;
}

/** An overlay being shown, and how far it has come in, 0 to 1. */
export interface ShownOverlay {
	overlay: Overlay;
	presence: number;
	/** Frames since it was shown. */
	age: number;
}

/** A drawn graphic of an overlay: which of its pixels lie where in the program. */
export interface Graphic {
	pictureId: string;
	pieces: { from: Rect; to: Rect }[];
}

/** The graphic of an overlay, as it lies `age` frames after it was shown. */
export type GraphicOf = (overlayId: string, age: number) => Graphic | null;

/** The steps for the overlays that reach a scene, from back to front, then for the patches on the program. */
export function stepsAbove(
	shown: readonly ShownOverlay[],
	sceneId: string | null,
	graphicOf: GraphicOf,
	patches: readonly PrivacyPatch[],
	stage: Stage,
): DrawStep[] {
	const { picture } = stage;
	const steps = shown.flatMap(({ overlay, presence, age }): DrawStep[] => {
		if (overlay.reach !== 'every' && !overlay.reach.includes(sceneId ?? '')) return [];
		const rise = overlay.move === 'rise' ? (1 - presence) * 0.08 * picture.height : 0;
		const slide = overlay.move === 'slide' ? (1 - presence) * 0.3 * picture.width * sideOf(overlay) : 0;
		const opacity = overlay.move === 'none' ? Math.ceil(presence) : presence;
		return overlayParts(overlay, () => graphicOf(overlay.id, age), stage).flatMap((part) =>
			stepsOf({ ...part, to: { ...part.to, x: part.to.x + slide, y: part.to.y + rise }, opacity }, picture),
		);
	});
	const onProgram = patches.filter(({ sourceId, on }) => sourceId === null && on);
	return [...steps, ...onProgram.map((patch) => patchStep(patch, picture))];
}

/** Where an overlay slides in from: -1 from the left, 1 from the right. */
function sideOf(overlay: Overlay): number {
	if (overlay.kind === 'lowerThird') return overlay.side === 'left' ? -1 : 1;
	return overlay.kind === 'picture' && overlay.box.x + overlay.box.width / 2 < 0.5 ? -1 : 1;
}

function overlayParts(overlay: Overlay, drawn: () => Graphic | null, stage: Stage): Part[] {
	if (overlay.kind === 'picture') {
		const part = picturePart(overlay.sourceId, WHOLE, overlay.box, overlay.fit, stage);
		return part ? [part] : [];
	}
	const graphic = drawn();
	const part = graphic && picturePart(graphic.pictureId, WHOLE, WHOLE, 'stretch', stage);
	return part ? graphic.pieces.map((piece) => ({ ...part, ...piece })) : [];
}

/** Cells of the weakest patch, in parts of the picture's height; each further step is a quarter larger. */
const LEAST_CELL = 1 / 24;

/**
 * A patch in pixels of the picture it lies on: at least all of its area, out to even pixels. Cells are of even length
 * and larger with each step of strength, so that a stronger patch never shows more.
 */
export function patchStep(
	{ area, style, strength }: Pick<PrivacyPatch, 'area' | 'style' | 'strength'>,
	of: Size,
): PatchStep {
	return patchOver(scaledTo(of, area), style, strength, of);
}

/** The same for an area in pixels, which may hang over the edges or lie outside. */
export function patchOver(
	{ x, y, width, height }: Rect,
	style: PrivacyPatch['style'],
	strength: number,
	of: Size,
): PatchStep {
	const left = Math.max(0, 2 * Math.floor(x / 2));
	const top = Math.max(0, 2 * Math.floor(y / 2));
	const right = Math.min(of.width, 2 * Math.ceil((x + width) / 2));
	const bottom = Math.min(of.height, 2 * Math.ceil((y + height) / 2));
	const cell = 2 * Math.max(4, Math.ceil((LEAST_CELL * 1.25 ** (strength - 1) * of.height) / 2));
	return { step: 'patch', area: { x: left, y: top, width: right - left, height: bottom - top }, style, cell };
}

/** The picture that is the whole program as it is and can go to the encoder untouched, or null. */
export function untouchedPicture({ base, above, black }: DrawList, stage: Stage): string | null {
	return 'steps' in base && above.length === 0 && black === 0 ? wholePicture(base.steps, stage) : null;
}

/** The picture that fills the program pixel for pixel, when the steps are nothing but that. */
export function wholePicture(steps: readonly DrawStep[], { picture, pictureOf }: Stage): string | null {
	const [step] = steps;
	if (steps.length !== 1 || step?.step !== 'blit' || step.mirrored || step.opacity < 256 || step.mask || step.key)
		return null;
	const info = pictureOf(step.pictureId);
	const { width, height } = picture;
	const same = (rect: Size) => rect.width === width && rect.height === height;
	return info && !info.alpha && same(info) && same(step.from) && same(step.to) ? step.pictureId : null;
}

/** The steps of a list in the order in which they are painted. */
export function allSteps({ base, above }: DrawList): DrawStep[] {
	return 'steps' in base ? [...base.steps, ...above] : [...base.from, ...base.to, ...above];
}

/** The pictures a list needs, each once. */
export function picturesOf(list: DrawList): string[] {
	return [...new Set(allSteps(list).flatMap((step) => (step.step === 'blit' ? [step.pictureId] : [])))];
}
