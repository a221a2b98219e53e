import { describe, expect, it } from 'vitest';
import { distance } from './hardware.ts';
import { grainyPicture, LOOP, movingFrames } from './made-frames.ts';

const SIZE = { width: 64, height: 36 };
const BYTES = (64 * 36 * 3) / 2;
const grain = grainyPicture(SIZE);
const luma = (bytes: Uint8Array) => bytes.subarray(0, SIZE.width * SIZE.height);

describe('frames that stand for a source', () => {
	it('are what it shows, as long as that moves', () => {
		const frames = Array.from({ length: LOOP }, (_, i) => new Uint8Array(BYTES).fill(i));
		expect(movingFrames({ ...SIZE, frames })).toBe(frames);
	});

	it('are moved along where it stands still, and lose nothing', () => {
		const moved = movingFrames({ ...SIZE, frames: Array.from({ length: LOOP }, () => grain.slice()) });
		expect(moved).toHaveLength(LOOP);
		for (const [i, frame] of moved.entries()) {
			expect(frame[0]).toBe(grain[((2 * i) % SIZE.height) * SIZE.width + 4 * i]);
			expect(luma(frame).toSorted()).toEqual(luma(grain).toSorted());
			expect(i === 0 || !frame.every((byte, at) => byte === moved[i - 1]![at])).toBe(true);
		}
	});

	it('keep planes of an odd size apart', () => {
		const size = { width: 5, height: 3 };
		const bytes = new Uint8Array(15 + 2 * 6).fill(1, 0, 15).fill(2, 15, 21).fill(3, 21);
		for (const frame of movingFrames({ ...size, frames: [bytes] })) expect(frame).toEqual(bytes);
	});
});

describe('a picture that an encoder gave out', () => {
	const packed = { offset: 0, stride: SIZE.width };

	it('is compared where its decoder put it', () => {
		const wide = new Uint8Array(10 + 80 * 36);
		for (let y = 0; y < SIZE.height; y++) wide.set(grain.subarray(y * 64, y * 64 + 64), 10 + y * 80);
		expect(distance(grain, wide, { offset: 10, stride: 80 }, SIZE)).toBe(0);
	});

	it('is far off when it is green, grey, or another one', () => {
		expect(distance(grain, grain, packed, SIZE)).toBe(0);
		expect(distance(grain, new Uint8Array(BYTES), packed, SIZE)).toBeGreaterThan(8);
		expect(distance(grain, new Uint8Array(BYTES).fill(126), packed, SIZE)).toBeGreaterThan(8);
	});
});
