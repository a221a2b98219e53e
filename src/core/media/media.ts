/** The organisation's media library: clips, sounds and stills, what is known of each, and how it is used by default. */
import * as v from 'valibot';
import { idSchema, nameSchema, numberSchema, timeSchema, wholeWithin, within } from '../show/basics.ts';

export const MEDIA_KINDS = ['video', 'sound', 'still'] as const;

/** The largest file that is taken, bytes. */
export const MOST_MEDIA_BYTES = 20e9;
/** A day. */
const LONGEST_MS = 86_400_000;
/** Points of a waveform. */
export const WAVEFORM_POINTS = 600;

const codecSchema = v.pipe(v.string(), v.maxLength(100));

/** What the file itself says. */
export const mediaAboutSchema = v.object({
	kind: v.picklist(MEDIA_KINDS),
	/** Milliseconds; 0 for a still. */
	lengthMs: within(0, LONGEST_MS),
	picture: v.nullable(
		v.object({
			/** As it is shown: upright, with square pixels. */
			width: wholeWithin(1, 16_384),
			height: wholeWithin(1, 16_384),
			/** Frames in a second, as they come on average; 0 where nobody knows. */
			fps: within(0, 1000),
			/** As WebCodecs names it, such as `avc1.640028`. */
			codec: codecSchema,
			alpha: v.boolean(),
		}),
	),
	sound: v.nullable(
		v.object({ codec: codecSchema, sampleRate: wholeWithin(1, 768_000), channels: wholeWithin(1, 64) }),
	),
});

/** What was computed of it, once. */
export const mediaAnalysisSchema = v.object({
	/** Loudness of all of it, LUFS (ITU-R BS.1770), and true peak, dBTP; null without sound, or in silence. */
	loudness: v.nullable(numberSchema),
	truePeakDb: v.nullable(numberSchema),
	/** Silence and black at its beginning and end, milliseconds. */
	silence: v.object({ startMs: within(0, LONGEST_MS), endMs: within(0, LONGEST_MS) }),
	black: v.object({ startMs: within(0, LONGEST_MS), endMs: within(0, LONGEST_MS) }),
	/** Peaks of its sound, 0 to 100, evenly over its length. */
	waveform: v.pipe(v.array(wholeWithin(0, 100)), v.maxLength(WAVEFORM_POINTS)),
	/** Thumbnails in its strip. */
	thumbnails: wholeWithin(0, 100),
});

/** How it is played when it is put into an event. */
export const mediaSettingsSchema = v.object({
	inMs: within(0, LONGEST_MS),
	/** To its end when null. */
	outMs: v.nullable(within(0, LONGEST_MS)),
	gainDb: within(-60, 24),
	/** The moment that its poster shows, milliseconds. */
	posterMs: within(0, LONGEST_MS),
	repeats: v.boolean(),
	ends: v.picklist(['stand', 'black']),
});

export const folderSchema = v.pipe(v.string(), v.trim(), v.maxLength(120));

export type MediaKind = (typeof MEDIA_KINDS)[number];
export type MediaAbout = v.InferOutput<typeof mediaAboutSchema>;
export type MediaAnalysis = v.InferOutput<typeof mediaAnalysisSchema>;
export type MediaSettings = v.InferOutput<typeof mediaSettingsSchema>;

/** One file of the library. */
export interface Media {
	id: string;
	name: string;
	/** Where it is put, such as `2026/Lantern Night`; empty for nowhere. */
	folder: string;
	bytes: number;
	/** Milliseconds since 1970. */
	addedAt: number;
	about: MediaAbout;
	analysis: MediaAnalysis | null;
	settings: MediaSettings;
}

/** What can be changed of a file. */
export const mediaChangeSchema = v.partial(
	v.object({
		name: nameSchema,
		folder: folderSchema,
		settings: mediaSettingsSchema,
		analysis: mediaAnalysisSchema,
		deleted: v.boolean(),
	}),
);

export const mediaSchema = v.object({
	id: idSchema,
	name: nameSchema,
	folder: folderSchema,
	bytes: numberSchema,
	addedAt: timeSchema,
	about: mediaAboutSchema,
	analysis: v.nullable(mediaAnalysisSchema),
	settings: mediaSettingsSchema,
});

/** All of it, as it is, to its last frame. */
export function plainSettings(): MediaSettings {
	return { inMs: 0, outMs: null, gainDb: 0, posterMs: 0, repeats: false, ends: 'stand' };
}
