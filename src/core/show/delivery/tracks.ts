/** Isolated tracks: pictures of sources and sounds of channels, recorded separately from the program for later editing. */
import * as v from 'valibot';
import { idSchema, nameSchema, within } from '../basics.ts';
import { HEIGHTS, kbpsAt, TRACK_BITS, widthFor } from '../../delivery/rates.ts';
import { kindOf } from '../sources/source.ts';
import type { Setup } from '../state.ts';

export const MOST_PICTURE_TRACKS = 8;

/** What the person has chosen. */
export const apartSchema = v.object({
	sourceIds: v.pipe(v.array(idSchema), v.maxLength(MOST_PICTURE_TRACKS, '8 pictures can be recorded apart at most.')),
	channelIds: v.pipe(v.array(idSchema), v.maxLength(32)),
});

/** One file beside the program's, fixed when a broadcast begins. */
export const trackSchema = v.variant('kind', [
	v.object({
		kind: v.literal('source'),
		id: idSchema,
		name: nameSchema,
		/** Its picture is scaled down to so many lines. */
		maxHeight: within(16, 4320),
		fps: within(1, 240),
		kbps: within(50, 200_000),
	}),
	v.object({ kind: v.literal('channel'), id: idSchema, name: nameSchema, sides: v.picklist([1, 2]) }),
]);

export type Track = v.InferOutput<typeof trackSchema>;
export type SourceTrack = Extract<Track, { kind: 'source' }>;
export type ChannelTrack = Extract<Track, { kind: 'channel' }>;

/** Pixels a second that a machine without a graphics card encodes beside its program, all tracks together. */
const PIXELS_PER_S = 48e6;

/** The tracks of a broadcast that begins now, if it is recorded: pictures first, each as large as all of them together may be. */
export function planTracks(setup: Pick<Setup, 'picture' | 'sources' | 'channels' | 'delivery'>): Track[] {
	if (!setup.delivery.records) return [];
	const { sourceIds, channelIds } = setup.delivery.apart;
	const sources = setup.sources.filter((source) => sourceIds.includes(source.id) && kindOf(source).isLive);
	const { width, height, fps } = setup.picture;
	const sizes = HEIGHTS.filter((each) => each <= height).map((each) => ({
		width: widthFor({ width, height }, each),
		height: each,
		fps,
	}));
	const fits = (size: { width: number; height: number }) =>
		sources.length * size.width * size.height * fps <= PIXELS_PER_S;
	const form = sizes.find(fits) ?? sizes.at(-1)!;
	const kbps = kbpsAt(form, TRACK_BITS);
	return [
		...sources.map(({ id, name }): Track => ({ kind: 'source', id, name, maxHeight: form.height, fps, kbps })),
		...setup.channels
			.filter(({ id }) => channelIds.includes(id))
			.map(({ id, name, inputs }): Track => ({ kind: 'channel', id, name, sides: inputs.length === 2 ? 2 : 1 })),
	];
}

/** Rate at which a track fills the disk, kbit/s. */
export function trackKbps(track: Track): number {
	return track.kind === 'source' ? track.kbps : track.sides * PCM_KBPS;
}

/** One side at 48 kHz and 24 bits. */
const PCM_KBPS = 1152;
/** With less room than this for all of it, nothing more is begun and the program alone goes on. */
const LEAST_ROOM_S = 600;

/** True while the disk has room for some time of what takes so much of it; the program goes on until it is full. */
export function hasRoomFor(roomBytes: number | null, kbps: number): boolean {
	return roomBytes === null || (roomBytes * 8) / (kbps * 1000) > LEAST_ROOM_S;
}
