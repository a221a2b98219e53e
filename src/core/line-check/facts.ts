/**
 * What was seen, heard and tried of an event, each with its time: the line check is computed from these and the show alone.
 * Pages tell what they see; the server keeps the newest of each, and what it has tried itself.
 */
import * as v from 'valibot';
import type { SendFault } from '../delivery/send-fault.ts';
import { countSchema, idSchema, numberSchema, partSchema, timeSchema, within } from '../show/basics.ts';
import { MOST_CHANNELS } from '../show/mix/mix.ts';
import { MOST_SOURCES } from '../show/sources/source.ts';
import type { Setup } from '../show/state.ts';

const codeSchema = v.pipe(v.string(), v.maxLength(40));
const labelSchema = v.pipe(v.string(), v.maxLength(200));

/** How hard other programs press on a machine (Compute Pressure, W3C). */
const PRESSURES = ['nominal', 'fair', 'serious', 'critical'] as const;

/** A source as the page that makes the program has it now. */
const seenSourceSchema = v.object({
	id: idSchema,
	state: v.picklist(['opening', 'live', 'lost']),
	/** Code of what is wrong with it; null while nothing is. */
	fault: v.nullable(codeSchema),
	/** Of its picture, pixels; 0 while it is not known. */
	width: countSchema,
	height: countSchema,
	/** Frames that came in the last second or so; null where nobody counts them. */
	fps: v.nullable(within(0, 1000)),
});

const heardChannelSchema = v.object({
	id: idSchema,
	/** The loudest of the last seconds, either side, dB relative to full scale. */
	levelDb: numberSchema,
	faults: v.pipe(v.array(codeSchema), v.maxLength(10)),
});

/** What the page that makes the program sees and hears, every few seconds. */
export const lookSchema = v.object({
	sources: v.pipe(v.array(seenSourceSchema), v.maxLength(MOST_SOURCES)),
	channels: v.pipe(v.array(heardChannelSchema), v.maxLength(MOST_CHANNELS)),
	/** Integrated loudness of the mix since it began, LUFS; null while nothing was heard. */
	integrated: v.nullable(numberSchema),
	/** Part of a frame's time that making one takes. */
	load: within(0, 100),
	/** True while it gives something up because the machine is busy. */
	relieved: v.boolean(),
	pressure: v.nullable(v.picklist(PRESSURES)),
	/** Microphones and consoles that this machine has, by name. */
	inputs: v.pipe(v.array(labelSchema), v.maxLength(100)),
	/** What a test of this machine came to; null while there was none. */
	machine: v.nullable(
		v.object({ at: timeSchema, verdict: v.picklist(['ample', 'tight', 'drops']), outdated: v.boolean() }),
	),
});

export const STATION_PAGES = [
	...(['desk', 'prepare', 'mix', 'words', 'hall', 'stage', 'tally', 'panel', 'sheet', 'surface', 'other'] as const),
] as const;

/** The machine of a page: what it says of itself. */
export const stationSchema = v.object({
	page: v.picklist(STATION_PAGES),
	/** Of a panel, its id; null otherwise. */
	panelId: v.nullable(idSchema),
	/** Charge of its battery, and whether it is fed; null where it has none or does not say. */
	battery: v.nullable(v.object({ charge: partSchema, isFed: v.boolean() })),
	/** By how much its clock is ahead of the server's, milliseconds. */
	aheadMs: numberSchema,
});

export type Look = v.InferOutput<typeof lookSchema>;
export type SeenSource = v.InferOutput<typeof seenSourceSchema>;
export type Station = v.InferOutput<typeof stationSchema>;
export type StationPage = Station['page'];

/** What is kept of a source: how it was when it was looked at last, and when it was last seen to be well. */
export type SourceFact = Omit<SeenSource, 'id'> & { at: number; goodAt: number | null };
export type ChannelFact = Omit<v.InferOutput<typeof heardChannelSchema>, 'id'> & {
	at: number;
	/** When something was last heard of it. */
	heardAt: number | null;
	/** The loudest that it was lately, and when; a pause tells nothing of how loud somebody is. */
	peakDb: number;
	peakAt: number;
};
/** What became of asking a host whether it would take the stream, or of sending it. */
export interface DestinationFact {
	at: number;
	fault: SendFault | null;
}

/** All times in milliseconds since 1970, by the server's clock. */
export interface Facts {
	/** By source. */
	sources: Readonly<Record<string, SourceFact>>;
	/** By channel. */
	channels: Readonly<Record<string, ChannelFact>>;
	/** By destination. */
	destinations: Readonly<Record<string, DestinationFact>>;
	/** When the delay of a channel was measured, by channel. */
	lips: Readonly<Record<string, number>>;
	/** The rest of the newest look; null before the first. */
	look: (Omit<Look, 'sources' | 'channels'> & { at: number }) | null;
	/** When the setup was changed last, and when a rehearsal ended last; 0 for never. */
	changedAt: number;
	rehearsedAt: number;
}

export function noFacts(): Facts {
	return { sources: {}, channels: {}, destinations: {}, lips: {}, look: null, changedAt: 0, rehearsedAt: 0 };
}

/** What is softer is no sound of anybody, dB relative to full scale. */
const HEARD_DB = -50;
/** A peak counts for so long. */
const PEAK_HOLDS_MS = 10 * 60_000;

/** Facts after a page has looked. @param at when it did, by the server's clock */
export function looked(facts: Facts, { sources, channels, ...rest }: Look, at: number): Facts {
	const seen = sources.map(({ id, ...source }): [string, SourceFact] => {
		const isGood = source.state === 'live' && source.fault === null;
		return [id, { ...source, at, goodAt: isGood ? at : (facts.sources[id]?.goodAt ?? null) }];
	});
	const heard = channels.map(({ id, ...channel }): [string, ChannelFact] => {
		const known = facts.channels[id];
		const heardAt = channel.levelDb >= HEARD_DB ? at : (known?.heardAt ?? null);
		const isPeak = !known || channel.levelDb >= known.peakDb || at - known.peakAt >= PEAK_HOLDS_MS;
		const peak = isPeak ? { peakDb: channel.levelDb, peakAt: at } : { peakDb: known.peakDb, peakAt: known.peakAt };
		return [id, { ...channel, at, heardAt, ...peak }];
	});
	return {
		...facts,
		sources: { ...facts.sources, ...Object.fromEntries(seen) },
		channels: { ...facts.channels, ...Object.fromEntries(heard) },
		look: { ...rest, at },
	};
}

/** What a rehearsal tries. Faders, and where it goes, are moved all evening long. */
const TRIED: readonly (keyof Setup)[] = [
	...(['picture', 'sources', 'scenes', 'background', 'people', 'look', 'overlays', 'patches', 'transition'] as const),
	...(['cues', 'words', 'macros', 'fields'] as const),
];

/** True where something has changed that a rehearsal tries: it is worth less after that. */
export function isChanged(before: Setup, after: Setup): boolean {
	return before !== after && TRIED.some((part) => before[part] !== after[part]);
}

const MOST_KEPT = 400;
const factRecord = <S extends v.GenericSchema>(fact: S) =>
	v.optional(
		v.pipe(
			v.record(idSchema, fact),
			v.check((record) => Object.keys(record).length <= MOST_KEPT),
		),
		() => ({}),
	);
const { id: _, ...sourceEntries } = seenSourceSchema.entries;
const { id: __, ...channelEntries } = heardChannelSchema.entries;
const { sources: ___, channels: ____, ...lookEntries } = lookSchema.entries;

/** Facts as they are stored. */
const factsSchema = v.object({
	sources: factRecord(v.object({ ...sourceEntries, at: timeSchema, goodAt: v.nullable(timeSchema) })),
	channels: factRecord(
		v.object({
			...channelEntries,
			at: timeSchema,
			heardAt: v.nullable(timeSchema),
			peakDb: numberSchema,
			peakAt: timeSchema,
		}),
	),
	destinations: factRecord(
		v.object({
			at: timeSchema,
			fault: v.nullable(v.object({ code: codeSchema, about: v.record(v.string(), v.any()) })),
		}),
	),
	lips: factRecord(timeSchema),
	look: v.nullable(v.object({ ...lookEntries, at: timeSchema })),
	changedAt: timeSchema,
	rehearsedAt: timeSchema,
});

/** Facts that were stored; none where they cannot be read: everything is looked at again then. */
export function readFacts(stored: unknown): Facts {
	const read = v.safeParse(factsSchema, stored);
	return read.success ? (read.output as Facts) : noFacts();
}
