/**
 * Clips and reels: files of the media library that are played as a source, and the transport that says where one is.
 * A reel is a clip of several files in order. Its timeline goes on without a seam over all of them, round after round.
 */
import * as v from 'valibot';
import { countSchema, idSchema, nameSchema, timeSchema, wholeWithin, within } from '../basics.ts';

/** Files of one reel. */
export const MOST_REEL_ITEMS = 100;
/** A day. */
const LONGEST_MS = 86_400_000;

/** One file of the library, and the part of it that is played. */
export const clipItemSchema = v.pipe(
	v.object({
		mediaId: idSchema,
		name: nameSchema,
		/** Length of the whole file, milliseconds. */
		lengthMs: within(1, LONGEST_MS),
		/** Where it begins and ends in the file, milliseconds. */
		inMs: within(0, LONGEST_MS),
		outMs: within(1, LONGEST_MS),
		gainDb: within(-60, 24),
	}),
	v.check(({ lengthMs, inMs, outMs }) => inMs < outMs && outMs <= lengthMs + 1, 'clipPart'),
);

/** A music bed comes and goes within this time, milliseconds. */
export const BED_FADE_MS = 2500;

export const CLIP_ENDS = ['stand', 'black'] as const;

export const clipFields = {
	items: v.pipe(v.array(clipItemSchema), v.minLength(1), v.maxLength(MOST_REEL_ITEMS)),
	/** Begins again when it has come to its end. */
	repeats: v.boolean(),
	/** Plays its files in another order each round. */
	shuffled: v.boolean(),
	/** What is seen after its last frame: that frame, or black. */
	ends: v.picklist(CLIP_ENDS),
	/** How long before its end the desk says "leave", milliseconds; 0 for never. */
	leadOutMs: wholeWithin(0, 60_000),
	/** Begins to play when it comes into the program. */
	playsOnTake: v.boolean(),
};

export type ClipItem = v.InferOutput<typeof clipItemSchema>;
export type ClipEnd = (typeof CLIP_ENDS)[number];

/** The part of a clip's source that its timeline is made of. */
export interface Clip {
	items: readonly ClipItem[];
	repeats: boolean;
	shuffled: boolean;
	ends: ClipEnd;
	leadOutMs: number;
}

/** A file of the library, all of it. */
export function wholeItem(mediaId: string, name: string, lengthMs: number): ClipItem {
	return { mediaId, name, lengthMs, inMs: 0, outMs: lengthMs, gainDb: 0 };
}

/** Files in order, played once from the take on; the last frame stands behind them. */
export function plainClip(items: ClipItem[]) {
	return { items, repeats: false, shuffled: false, ends: 'stand' as ClipEnd, leadOutMs: 0, playsOnTake: true };
}

/** Where a clip is. One that has none stands at its beginning. */
export const transportSchema = v.object({
	playing: v.boolean(),
	/** Place on its timeline at the time `since`, milliseconds. */
	positionMs: within(0, Number.MAX_SAFE_INTEGER),
	/** Milliseconds since 1970, by the server's clock. */
	since: timeSchema,
	/** Changes of this transport so far: the engine follows each of them once. */
	count: countSchema,
	/** Chooses the order of a shuffled reel; another one each time it begins. */
	seed: countSchema,
});

export type Transport = v.InferOutput<typeof transportSchema>;

/** A transport at the beginning, which does not play. */
export const AT_START: Readonly<Transport> = { playing: false, positionMs: 0, since: 0, count: 0, seed: 0 };

export function itemLengthMs({ inMs, outMs }: Pick<ClipItem, 'inMs' | 'outMs'>): number {
	return outMs - inMs;
}

/** Length of one round, milliseconds. */
export function roundMs({ items }: Pick<Clip, 'items'>): number {
	return items.reduce((sum, item) => sum + itemLengthMs(item), 0);
}

/**
 * Place on the timeline: not beyond the end of a clip that does not repeat.
 * @param now milliseconds since 1970
 */
export function positionAt(clip: Pick<Clip, 'items' | 'repeats'>, transport: Transport, now: number): number {
	const { playing, positionMs, since } = transport;
	const position = playing ? positionMs + Math.max(0, now - since) : positionMs;
	return clip.repeats ? position : Math.min(position, roundMs(clip));
}

/** When a playing clip comes to its end, milliseconds since 1970; null for one that does not play, or repeats. */
export function endsPlayingAt(clip: Pick<Clip, 'items' | 'repeats'>, transport: Transport): number | null {
	if (!transport.playing || clip.repeats) return null;
	return transport.since + Math.max(0, roundMs(clip) - transport.positionMs);
}

/** A file at its place on the timeline. */
export interface Placed {
	item: ClipItem;
	/** Its place in the reel as it is set up. */
	index: number;
	/** Where on the timeline it begins, milliseconds. */
	startMs: number;
	/** Counts the files that come before it, over all rounds. */
	number: number;
}

/** The file that is played at a place on the timeline, and where it begins; null beyond the end. */
export function itemAt(clip: Clip, positionMs: number, seed: number): Placed | null {
	const length = roundMs(clip);
	const round = clip.repeats ? Math.floor(positionMs / length) : 0;
	let startMs = round * length;
	const order = orderOf(clip, round, seed);
	for (const [place, index] of order.entries()) {
		const item = clip.items[index]!;
		if (positionMs < startMs + itemLengthMs(item))
			return { item, index, startMs, number: round * clip.items.length + place };
		startMs += itemLengthMs(item);
	}
	return null;
}

/** The file that comes `number` files after the first one, and where it begins; null when the reel has ended before. */
export function itemNumber(clip: Clip, number: number, seed: number): Placed | null {
	const count = clip.items.length;
	const round = Math.floor(number / count);
	if (round > 0 && !clip.repeats) return null;
	const order = orderOf(clip, round, seed);
	const before = order.slice(0, number % count);
	const startMs = before.reduce((sum, index) => sum + itemLengthMs(clip.items[index]!), round * roundMs(clip));
	const index = order[number % count]!;
	return { item: clip.items[index]!, index, startMs, number };
}

/** Places of the items in the order in which a round plays them. The same file never comes twice running, if there are others. */
function orderOf({ items, shuffled }: Pick<Clip, 'items' | 'shuffled'>, round: number, seed: number): number[] {
	const inOrder = items.map((_, index) => index);
	if (!shuffled || items.length < 2) return inOrder;
	const order = shuffle(inOrder, seed, round);
	const last = round === 0 ? null : lastOf(inOrder, seed, round - 1);
	if (order[0] === last) order.push(order.shift()!);
	return order;
}

/** The last one of a round, as `orderOf` has it. */
function lastOf(inOrder: readonly number[], seed: number, round: number): number {
	const order = shuffle(inOrder, seed, round);
	const before = round === 0 ? null : lastOf(inOrder, seed, round - 1);
	return order[0] === before ? order[0]! : order.at(-1)!;
}

function shuffle(list: readonly number[], seed: number, round: number): number[] {
	const order = [...list];
	for (let i = order.length - 1; i > 0; i--) {
		const j = Math.floor(scatter(seed, round * MOST_REEL_ITEMS + i) * (i + 1));
		[order[i], order[j]] = [order[j]!, order[i]!];
	}
	return order;
}

/** A number from 0 up to 1 that looks like chance and is always the same for the same two numbers (mulberry32). */
export function scatter(seed: number, n: number): number {
	let t = (Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) + Math.imul(n + 1, 0x6d2b79f5)) | 0;
	t = Math.imul(t ^ (t >>> 15), t | 1);
	t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
	return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
}
