/** The event's picture. All scenes are composed at this size and frame rate. */
import * as v from 'valibot';

export const FRAME_RATES = [25, 30, 50, 60] as const;

export const pictureSchema = v.union(
	[
		v.object({ width: v.literal(1280), height: v.literal(720), fps: v.picklist(FRAME_RATES) }),
		v.object({ width: v.literal(1920), height: v.literal(1080), fps: v.picklist(FRAME_RATES) }),
	],
	'The picture is 1280 × 720 or 1920 × 1080 at 25, 30, 50 or 60 frames a second.',
);

export type Picture = v.InferOutput<typeof pictureSchema>;
