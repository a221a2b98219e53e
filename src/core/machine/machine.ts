/** What a machine can do with an event's pictures, as a test of it has found out. */
import * as v from 'valibot';
import { timeSchema, within } from '../show/basics.ts';
import type { Picture } from '../show/state.ts';

/** A video encoder in hardware: one whose pictures come out as they went in, none at all, or one that spoils them. */
const HARDWARE = ['works', 'none', 'spoils'] as const;

export const machineSchema = v.object({
	/** When it was tested, milliseconds since 1970. */
	at: timeSchema,
	cores: within(1, 1024),
	/** Gigabytes, rounded by the browser; null where it does not say. */
	memoryGb: v.nullable(within(0, 100_000)),
	hardware: v.picklist(HARDWARE),
	/** How heavy the event was that it was tested with; see weight.ts. */
	weight: within(0, 1e6),
	/** Frames a second that were made of the event's heaviest scene when nothing held them back. */
	makes: v.pipe(
		v.array(
			v.object({
				width: within(16, 8192),
				height: within(16, 8192),
				fps: within(0, 10_000),
				/** Pixels that were encoded for each of them; see `encodedPixels`. */
				encoded: within(0, 1e12),
			}),
		),
		v.minLength(1),
		v.maxLength(10),
	),
	/** Pixels a second of guests' pictures that were decoded, with nothing else to do. */
	decodes: within(0, 1e12),
});

export type Machine = v.InferOutput<typeof machineSchema>;
export type Hardware = Machine['hardware'];

/** Part of a machine that goes to what the test does not do: sound for viewers, the server, its files. In cores. */
const BESIDE_CORES = 0.15;
/** With less than this part to spare, a moment's disturbance costs frames. */
const AMPLE_ROOM = 0.15;
/** A machine that has more than this part too much to do loses its beat, and sends half of the frames instead, evenly. */
const MOST_OVER = 0.08;
/** An event that has become heavier by this part is tested anew. */
const HEAVIER = 0.05;

export interface Judgement {
	/** Part of the machine that is left over; below 0 where it cannot follow. */
	room: number;
	/** Part of the frames that viewers will get. */
	share: number;
	/** In a word: with room to spare, just so, or not without gaps. */
	verdict: 'ample' | 'tight' | 'drops';
}

/**
 * What a machine makes of a picture.
 * @param encoded pixels that are to be encoded for each frame; see `encodedPixels`
 * @param guests pixels a second that come from guests; see `mostOfGuests`
 * @returns null for a size that was not tested
 */
export function judgeMachine(machine: Machine, picture: Picture, encoded: number, guests: number): Judgement | null {
	const { cores, makes } = machine;
	const made = makes.find(({ width, height }) => width === picture.width && height === picture.height);
	if (!made || made.fps === 0) return null;
	const usable = Math.max(0.1, 1 - BESIDE_CORES / cores);
	const frameS = 1 / made.fps + (encoded - made.encoded) * secondsPerPixel(machine);
	const used = (picture.fps * Math.max(0, frameS) + partOfGuests(machine, guests)) / usable;
	const room = 1 - used;
	const verdict = room >= AMPLE_ROOM ? 'ample' : room >= 0 ? 'tight' : 'drops';
	const possible = Math.min(1, 1 / Math.max(used, Number.EPSILON));
	const share = used <= 1 + MOST_OVER ? possible : Math.min(0.5, possible);
	return { room, share, verdict };
}

/**
 * Part of a machine that decoding guests' pictures takes: more than 1 where it cannot follow, 1 where nothing could be decoded.
 * @param guests pixels a second
 */
export function partOfGuests({ decodes }: Machine, guests: number): number {
	if (guests === 0) return 0;
	return decodes === 0 ? 1 : guests / decodes;
}

/** What one more pixel costs, seconds: what the larger picture of two took longer, or all of the only one's time. */
function secondsPerPixel({ makes }: Machine): number {
	const [least, most] = makes
		.map(({ width, height, fps }) => ({ pixels: width * height, seconds: 1 / fps }))
		.toSorted((a, b) => a.pixels - b.pixels);
	if (!most) return least!.seconds / least!.pixels;
	return Math.max(0, most.seconds - least!.seconds) / (most.pixels - least!.pixels);
}

/** True when an event has become heavier than what the machine was tested with. */
export function isHeavier(weight: number, machine: Machine): boolean {
	return weight > machine.weight * (1 + HEAVIER);
}
