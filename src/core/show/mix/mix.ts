/** What the stream mix is made of: channels with their strips, groups, ducking, the master, and snapshots of it all. */
import * as v from 'valibot';
import { countSchema, idSchema, nameSchema, within } from '../basics.ts';

/** As many channels as the mixer has inputs. */
export const MOST_CHANNELS = 32;
/** Inputs of a sound that a channel can take. */
export const MOST_INPUTS = 32;
export const MOST_SNAPSHOTS = 40;

/** Length of a fade of the mix in milliseconds. */
export const fadeMsSchema = within(0, 60_000);

/** Faders: −60 dB (silent) to +12 dB. */
export const faderSchema = within(-60, 12);

export const BAND_SHAPES = ['lowShelf', 'peak', 'highShelf'] as const;

/** One band of the equaliser. */
export const bandSchema = v.object({
	shape: v.picklist(BAND_SHAPES),
	hz: within(20, 20_000),
	/** 0 leaves the band out. */
	gainDb: within(-18, 18),
	q: within(0.1, 10),
});

export const compressorSchema = v.object({
	on: v.boolean(),
	thresholdDb: within(-60, 0),
	ratio: within(1, 20),
	attackMs: within(0.1, 200),
	releaseMs: within(10, 2000),
	makeupDb: within(0, 24),
});

export const WIDTHS = ['stereo', 'mono', 'left', 'right', 'swap'] as const;

/** All that a strip does to a sound, in the order in which it is done. */
export const stripSchema = v.object({
	trimDb: within(-24, 24),
	inverted: v.boolean(),
	delayMs: within(0, 1000),
	/** 0 is off. */
	highPassHz: within(0, 400),
	/** Below the threshold the sound is turned down, by no more than `depthDb`. */
	gate: v.object({ on: v.boolean(), thresholdDb: within(-80, 0), depthDb: within(0, 60) }),
	eq: v.tuple([bandSchema, bandSchema, bandSchema, bandSchema]),
	compressor: compressorSchema,
	/** −1 is left, 1 is right; of a stereo sound, the balance. */
	pan: within(-1, 1),
	/** `left` and `right` put that side on both. */
	width: v.picklist(WIDTHS),
});

export const GROUPS = ['speech', 'music', 'audience'] as const;
export const groupSchema = v.picklist(GROUPS);

/** When a channel is heard: always; only while its source is in the picture; while somebody presses; never. */
export const FOLLOWS = ['always', 'onAir', 'press', 'off'] as const;

/** One input of the stream mix: one or two of a source's sounds. Later additions have defaults, for stored events. */
export const channelSchema = v.object({
	id: idSchema,
	sourceId: idSchema,
	name: nameSchema,
	gainDb: faderSchema,
	muted: v.boolean(),
	/** Which of the source's inputs, from 0: one, or left and right. */
	inputs: v.optional(v.pipe(v.array(within(0, MOST_INPUTS - 1)), v.minLength(1), v.maxLength(2)), () => [0, 1]),
	strip: v.optional(stripSchema, () => plainStrip()),
	group: v.optional(v.nullable(groupSchema), null),
	follow: v.optional(v.picklist(FOLLOWS), 'always'),
	/** The source whose picture it follows; null for its own. */
	followed: v.optional(v.nullable(idSchema), null),
	/** Dips while somebody speaks. */
	ducked: v.optional(v.boolean(), false),
	/** Shares its gain with the other channels of speech, so that four open microphones sound like one. */
	shares: v.optional(v.boolean(), false),
});

const levelSchema = v.object({ gainDb: faderSchema, muted: v.boolean() });

/** What a snapshot keeps of a channel. */
const keptChannelSchema = v.object({
	id: idSchema,
	gainDb: faderSchema,
	muted: v.boolean(),
	strip: stripSchema,
	group: v.nullable(groupSchema),
	follow: v.picklist(FOLLOWS),
	ducked: v.boolean(),
	shares: v.boolean(),
});

export const snapshotSchema = v.object({
	id: idSchema,
	name: nameSchema,
	channels: v.pipe(v.array(keptChannelSchema), v.maxLength(MOST_CHANNELS)),
});

export const groupLevelsSchema = v.object({ speech: levelSchema, music: levelSchema, audience: levelSchema });
export const duckingSchema = v.object({
	depthDb: within(0, 40),
	thresholdDb: within(-60, 0),
	attackMs: within(5, 1000),
	releaseMs: within(50, 5000),
});
export const masterSchema = v.object({
	gainDb: faderSchema,
	compressor: compressorSchema,
	/** What the limiter lets through at most, dBTP. */
	ceilingDb: within(-12, 0),
	/** What the evening should come to, LUFS. */
	targetLufs: within(-36, -8),
});

/** The newest change of the mix that takes its time: how many there were, and how long it takes. */
export const fadeSchema = v.object({ count: countSchema, ms: fadeMsSchema });

export const mixSchema = v.object({
	groups: groupLevelsSchema,
	ducking: duckingSchema,
	master: masterSchema,
	snapshots: v.pipe(v.array(snapshotSchema), v.maxLength(MOST_SNAPSHOTS)),
});

export type Band = v.InferOutput<typeof bandSchema>;
export type CompressorSettings = v.InferOutput<typeof compressorSchema>;
export type Strip = v.InferOutput<typeof stripSchema>;
export type Group = v.InferOutput<typeof groupSchema>;
export type Channel = v.InferOutput<typeof channelSchema>;
export type Snapshot = v.InferOutput<typeof snapshotSchema>;
export type Mix = v.InferOutput<typeof mixSchema>;

const NO_COMPRESSOR: Readonly<CompressorSettings> = {
	on: false,
	thresholdDb: -20,
	ratio: 3,
	attackMs: 10,
	releaseMs: 150,
	makeupDb: 0,
};

/** A strip that does nothing. */
export function plainStrip(): Strip {
	return {
		trimDb: 0,
		inverted: false,
		delayMs: 0,
		highPassHz: 0,
		gate: { on: false, thresholdDb: -50, depthDb: 20 },
		eq: [
			{ shape: 'lowShelf', hz: 120, gainDb: 0, q: 0.71 },
			{ shape: 'peak', hz: 400, gainDb: 0, q: 1 },
			{ shape: 'peak', hz: 2500, gainDb: 0, q: 1 },
			{ shape: 'highShelf', hz: 8000, gainDb: 0, q: 0.71 },
		],
		compressor: { ...NO_COMPRESSOR },
		pan: 0,
		width: 'stereo',
	};
}

/** A mix with nothing done to it; its limiter lets −1 dBTP through, and it aims at −16 LUFS. */
export function plainMix(): Mix {
	const level = () => ({ gainDb: 0, muted: false });
	return {
		groups: { speech: level(), music: level(), audience: level() },
		ducking: { depthDb: 12, thresholdDb: -45, attackMs: 80, releaseMs: 900 },
		master: { gainDb: 0, compressor: { ...NO_COMPRESSOR }, ceilingDb: -1, targetLufs: -16 },
		snapshots: [],
	};
}

export function plainChannel(id: string, sourceId: string, name: string, inputs = [0, 1]): Channel {
	return {
		id,
		sourceId,
		name,
		gainDb: 0,
		muted: false,
		inputs,
		strip: plainStrip(),
		group: null,
		follow: 'always',
		followed: null,
		ducked: false,
		shares: false,
	};
}

/** What a volunteer says a channel is; sets filters, dynamics and group, and leaves trim, delay and fader alone. */
export const PRESETS = ['speaking voice', 'choir', 'music line', 'audience'] as const;
export type Preset = (typeof PRESETS)[number];

export function withPreset(channel: Channel, preset: Preset): Channel {
	const plain = plainStrip();
	const { trimDb, inverted, delayMs, pan, width } = channel.strip;
	const kept = { trimDb, inverted, delayMs, pan, width };
	const eq = (...gains: [number, number, number, number]) =>
		plain.eq.map((band, i) => ({ ...band, gainDb: gains[i]! })) as Strip['eq'];
	const compressor = (thresholdDb: number, ratio: number, attackMs: number, releaseMs: number, makeupDb: number) => ({
		on: true,
		thresholdDb,
		ratio,
		attackMs,
		releaseMs,
		makeupDb,
	});
	switch (preset) {
		case 'speaking voice': {
			const gate = { on: true, thresholdDb: -48, depthDb: 12 };
			const strip = {
				...plain,
				...kept,
				highPassHz: 100,
				gate,
				eq: eq(0, -3, 2, 0),
				compressor: compressor(-22, 3, 8, 150, 4),
			};
			return { ...channel, group: 'speech', shares: true, ducked: false, strip };
		}
		case 'choir': {
			const strip = {
				...plain,
				...kept,
				highPassHz: 120,
				eq: eq(0, -2, 0, 1.5),
				compressor: compressor(-18, 2, 30, 300, 2),
			};
			return { ...channel, group: 'music', shares: false, ducked: true, strip };
		}
		case 'music line':
			return { ...channel, group: 'music', shares: false, ducked: true, strip: { ...plain, ...kept, highPassHz: 30 } };
		case 'audience': {
			const strip = {
				...plain,
				...kept,
				highPassHz: 180,
				eq: eq(0, 0, -2, 0),
				compressor: compressor(-30, 4, 5, 400, 6),
			};
			return { ...channel, group: 'audience', shares: false, ducked: true, strip };
		}
	}
}

/** What a snapshot keeps of channels. */
export function snapshotOf(id: string, name: string, channels: readonly Channel[]): Snapshot {
	return {
		id,
		name,
		channels: channels.map(({ id: channelId, gainDb, muted, strip, group, follow, ducked, shares }) => ({
			id: channelId,
			gainDb,
			muted,
			strip,
			group,
			follow,
			ducked,
			shares,
		})),
	};
}
