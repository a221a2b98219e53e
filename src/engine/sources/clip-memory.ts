/**
 * Memory that the parts of a clip share: the clip worker fills its ring of sound, the picture worker says where the clip
 * is, the sound worklet reads both. Numbers are written between two counts, so that none is read half written.
 */
import { CLIP_RING_SAMPLES, type ClipAnchor, type ClipFilled } from '../../core/sound/clip-voice.ts';

export interface ClipMemory {
	/** Left and right. */
	rings: [Float32Array<SharedArrayBuffer>, Float32Array<SharedArrayBuffer>];
	/** Anchor: playing, sample, position; ring: from, to. */
	numbers: Float64Array<SharedArrayBuffer>;
	/** Counts of writings of the anchor, and of the ring; odd while one is under way. */
	counts: Int32Array<SharedArrayBuffer>;
}

const ANCHOR = 0;
const RING = 1;

export function makeClipMemory(): ClipMemory {
	const ring = () => new Float32Array(new SharedArrayBuffer(CLIP_RING_SAMPLES * 4));
	return {
		rings: [ring(), ring()],
		numbers: new Float64Array(new SharedArrayBuffer(5 * 8)),
		counts: new Int32Array(new SharedArrayBuffer(2 * 4)),
	};
}

/** Says where the clip is. Only the picture worker does. */
export function setAnchor({ numbers, counts }: ClipMemory, playing: boolean, sample: number, position: number): void {
	Atomics.add(counts, ANCHOR, 1);
	numbers[0] = playing ? 1 : 0;
	numbers[1] = sample;
	numbers[2] = position;
	Atomics.add(counts, ANCHOR, 1);
}

/** Says what is in the ring. Only the clip worker does. */
export function setFilled({ numbers, counts }: ClipMemory, from: number, to: number): void {
	Atomics.add(counts, RING, 1);
	numbers[3] = from;
	numbers[4] = to;
	Atomics.add(counts, RING, 1);
}

/** Reads where the clip is; leaves what was read last while somebody writes. */
export function readAnchor({ numbers, counts }: ClipMemory, into: ClipAnchor): void {
	const version = Atomics.load(counts, ANCHOR);
	const [playing, sample, position] = [numbers[0]!, numbers[1]!, numbers[2]!];
	if (version % 2 === 1 || Atomics.load(counts, ANCHOR) !== version) return;
	into.playing = playing === 1;
	into.sample = sample;
	into.position = position;
	into.version = version;
}

/** Reads what is in the ring, likewise. */
export function readFilled({ numbers, counts }: ClipMemory, into: ClipFilled): void {
	const count = Atomics.load(counts, RING);
	const [from, to] = [numbers[3]!, numbers[4]!];
	if (count % 2 === 1 || Atomics.load(counts, RING) !== count) return;
	into.from = from;
	into.to = to;
}
