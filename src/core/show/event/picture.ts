/** The event's picture. All scenes are composed at this size and frame rate. */
import * as v from 'valibot';

export const FRAME_RATES = [25, 30, 50, 60] as const;

export const pictureSchema = v.union(
	[
		v.object({ width: v.literal(1280), height: v.literal(720), fps: v.picklist(FRAME_RATES) }),
		v.object({ width: v.literal(1920), height: v.literal(1080), fps: v.picklist(FRAME_RATES) }),
	],
	'pictureForm',
);

export type Picture = v.InferOutput<typeof pictureSchema>;

/** All pictures that an event can have, the smaller ones first. */
export const PICTURES: readonly Picture[] = [
	...FRAME_RATES.map((fps): Picture => ({ width: 1280, height: 720, fps })),
	...FRAME_RATES.map((fps): Picture => ({ width: 1920, height: 1080, fps })),
];
