/**
 * Memory that the sound worklet shares with the workers and the page. The worklet only writes, the others only
 * read, but for the readings, which the page sets back when it has read them, and the history of a broadcast that the
 * engine comes back to, which it puts there before the worklet starts.
 */
import { LOUDNESS_HISTORY } from '../core/sound/loudness.ts';
import { MASTER_READINGS, READINGS } from '../core/sound/readings.ts';

export const SAMPLE_RATE = 48_000;
/** Samples the worklet handles at a time; fixed by the Web Audio specification. */
export const QUANTUM = 128;
/** Length of an AAC frame: the uplink is woken once for each. */
export const AAC_FRAME = 1024;
/** Samples kept of the stream mix, 5.5 s: how long the sound encoder may be held up, its start included. */
export const RING_SAMPLES = 262_144;
export const MAX_CHANNELS = 32;
/** Guests who can be in seats at a time: each has an output of the mixer, from this one on. */
export const MOST_RETURNS = 11;
export const FIRST_RETURN = 2;
export const MIX_READINGS = MAX_CHANNELS * READINGS + MASTER_READINGS;

/** Samples kept of what is recorded apart, 1.4 s. */
export const TRACK_RING_SAMPLES = 65_536;

/** Places in the control array of 32-bit numbers. */
export const Control = {
	/** Frames of the program that have fallen due since the engine started. */
	tick: 0,
	/** AAC frames' worth of mix written to the ring since the engine started. */
	blocks: 1,
} as const;

export interface SharedMemory {
	control: Int32Array<SharedArrayBuffer>;
	/** Left and right in turn. */
	ring: Float32Array<SharedArrayBuffer>;
	/** What the mixer tells of each channel and of the mix; see core/sound/readings. */
	readings: Float32Array<SharedArrayBuffer>;
	/** What the loudness meter remembers of the evening; see core/sound/loudness. */
	history: Float64Array<SharedArrayBuffer>;
}

export function makeSharedMemory(): SharedMemory {
	return {
		control: new Int32Array(new SharedArrayBuffer(16)),
		ring: new Float32Array(new SharedArrayBuffer(RING_SAMPLES * 2 * 4)),
		readings: new Float32Array(new SharedArrayBuffer(MIX_READINGS * 4)),
		history: new Float64Array(new SharedArrayBuffer(LOUDNESS_HISTORY * 8)),
	};
}

/** Sounds that are recorded apart, as they come in; the worklet writes, the uplink reads, both by the engine's clock. */
export interface TrackMemory {
	/** By track, its sides. */
	rings: Float32Array<SharedArrayBuffer>[][];
	/** Its place among all tracks of the broadcast. */
	indices: number[];
}

export function makeTrackMemory(tracks: readonly { sides: number; index: number }[]): TrackMemory {
	const ring = () => new Float32Array(new SharedArrayBuffer(TRACK_RING_SAMPLES * 4));
	return {
		rings: tracks.map(({ sides }) => Array.from({ length: sides }, ring)),
		indices: tracks.map(({ index }) => index),
	};
}

/**
 * Waits until a counter differs from `seen`; returns its value. Not a timer and not an animation frame, so a tab
 * in the background keeps the same pace.
 */
export async function counterAfter(
	control: Int32Array<SharedArrayBuffer>,
	place: number,
	seen: number,
): Promise<number> {
	for (;;) {
		const now = Atomics.load(control, place);
		if (now !== seen) return now;
		const waiting = Atomics.waitAsync(control, place, seen);
		if (waiting.async) await waiting.value;
	}
}
