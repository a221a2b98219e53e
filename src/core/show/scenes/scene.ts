/** Scenes, their layers, and the ways from one to another. */
import * as v from 'valibot';
import {
	boxSchema,
	colourSchema,
	cropSchema,
	idSchema,
	nameSchema,
	partSchema,
	WHOLE,
	wholeWithin,
	within,
} from '../basics.ts';

export const MOST_SCENES = 120;

export const keySchema = v.variant('by', [
	v.object({
		by: v.literal('colour'),
		colour: colourSchema,
		/** How far from the colour a pixel is still fully transparent, and how far beyond it is fully there. */
		tolerance: partSchema,
		softness: partSchema,
		/** How much of the colour's light is taken off the rest. */
		spill: partSchema,
	}),
	v.object({
		by: v.literal('light'),
		/** Darker than `low` is transparent, lighter than `high` is there; the other way round when low is above high. */
		low: partSchema,
		high: partSchema,
	}),
]);

export const FITS = ['fit', 'fill', 'stretch'] as const;

/** One source placed in a scene. */
export const layerSchema = v.object({
	id: idSchema,
	sourceId: idSchema,
	/** One of the source's framings; all of its picture when null. */
	framingId: v.optional(v.nullable(idSchema), null),
	box: v.optional(boxSchema, () => ({ ...WHOLE })),
	/** `fit` shows all within the box, `fill` crops to its shape, `stretch` bends the picture to it. */
	fit: v.optional(v.picklist(FITS), 'fit'),
	/** A further crop, within the framing. */
	crop: v.optional(cropSchema, () => ({ ...WHOLE })),
	opacity: v.optional(partSchema, 1),
	mirrored: v.optional(v.boolean(), false),
	hidden: v.optional(v.boolean(), false),
	/** Radius of the corners in parts of the shorter side; 0.5 makes a circle of a square. */
	corner: v.optional(within(0, 0.5), 0),
	/** Width in parts of the picture's height, around the layer. */
	border: v.optional(v.object({ width: within(0, 0.1), colour: colourSchema }), () => ({
		width: 0,
		colour: '#ece7db',
	})),
	key: v.optional(v.nullable(keySchema), null),
});

export const TRANSITION_KINDS = ['cut', 'fade', 'wipe', 'slide', 'dip', 'glide'] as const;
/** Where a wipe moves to, or the shape that opens. A slide knows the first four. */
export const DIRECTIONS = ['left', 'right', 'up', 'down', 'downRight', 'downLeft', 'circle', 'box'] as const;

export const transitionSchema = v.object({
	kind: v.picklist(TRANSITION_KINDS),
	/** Length in milliseconds, 0 to 10 000; a cut takes none. */
	durationMs: wholeWithin(0, 10_000),
	direction: v.optional(v.picklist(DIRECTIONS), 'left'),
	/** What a dip goes through. */
	colour: v.optional(colourSchema, '#000000'),
	/** `even` moves at one speed, `eased` begins and ends slowly. */
	curve: v.optional(v.picklist(['even', 'eased']), 'even'),
});

export const sceneSchema = v.object({
	id: idSchema,
	name: nameSchema,
	/** From back to front. */
	layers: v.pipe(v.array(layerSchema), v.maxLength(24, 'layersMany')),
	/** True when nothing of it may be changed. */
	locked: v.optional(v.boolean(), false),
	/** True for a scene whose seats stand side by side, as many as are taken, wherever their layers lie (guests/gathering.ts). */
	gathers: v.optional(v.boolean(), false),
	/** What stands behind the layers: the event's background, nothing, or a source of the scene's own. */
	background: v.optional(
		v.variant('is', [
			v.object({ is: v.literal('event') }),
			v.object({ is: v.literal('none') }),
			v.object({ is: v.literal('own'), sourceId: idSchema }),
		]),
		() => ({ is: 'event' as const }),
	),
	/** How this scene is taken; the desk's choice when null. */
	transition: v.optional(v.nullable(transitionSchema), null),
});

export type Key = v.InferOutput<typeof keySchema>;
export type Layer = v.InferOutput<typeof layerSchema>;
export type Transition = v.InferOutput<typeof transitionSchema>;
export type Direction = (typeof DIRECTIONS)[number];
export type Scene = v.InferOutput<typeof sceneSchema>;

/** A layer that shows all of a source, as large as the picture allows. */
export function wholeLayer(id: string, sourceId: string): Layer {
	return v.parse(layerSchema, { id, sourceId });
}

/** A scene of whole layers, usually one. */
export function plainScene(id: string, name: string, layers: Layer[]): Scene {
	return v.parse(sceneSchema, { id, name, layers });
}

export const CUT: Readonly<Transition> = {
	kind: 'cut',
	durationMs: 0,
	direction: 'left',
	colour: '#000000',
	curve: 'even',
};
