/** Frames that stand for a source while a machine is tested: of what it shows, always moving, since a still picture costs an encoder little. */
import type { Size } from '../../core/picture/geometry.ts';
import type { Sample } from '../picture/sampling.ts';

/** As many as are shown over and over, forwards and backwards. */
export const LOOP = 8;
/** How far a picture that stands still is moved from frame to frame: even, so that chroma goes along. */
const STEP = { x: 4, y: 2 };

/** A picture with as much in it as a hall has: large shapes, and grain upon them. */
export function grainyPicture({ width, height }: Size): Uint8Array<ArrayBuffer> {
	const bytes = new Uint8Array((width * height * 3) / 2).fill(128);
	let random = 1;
	for (let y = 0; y < height; y++)
		for (let x = 0; x < width; x++) {
			random = (Math.imul(random, 1_103_515_245) + 12_345) >>> 0;
			const shape = 126 + 50 * Math.sin(x / 90) * Math.cos(y / 70) + 24 * Math.sin((x + 2 * y) / 17);
			bytes[y * width + x] = shape + (random >>> 29);
		}
	return bytes;
}

/** The frames of a sample, moved along where they are all the same. */
export function movingFrames({ width, height, frames }: Omit<Sample, 'sourceId'>): Uint8Array<ArrayBuffer>[] {
	const [first] = frames;
	const moves = frames.length === LOOP && frames.some((each) => !isSame(each, first!));
	if (moves) return frames;
	return Array.from({ length: LOOP }, (_, i) => moved(first!, { width, height }, i * STEP.x, i * STEP.y));
}

function isSame(a: Uint8Array, b: Uint8Array): boolean {
	return a.length === b.length && a.every((byte, i) => byte === b[i]);
}

/** What goes out at one side comes in at the other. */
function moved(from: Uint8Array, { width, height }: Size, dx: number, dy: number): Uint8Array<ArrayBuffer> {
	const out = new Uint8Array(from.length);
	let at = 0;
	const plane = (columns: number, rows: number, x: number, y: number) => {
		for (let row = 0; row < rows; row++) {
			const source = at + ((row + y) % rows) * columns;
			const target = at + row * columns;
			out.set(from.subarray(source + x, source + columns), target);
			out.set(from.subarray(source, source + x), target + columns - x);
		}
		at += columns * rows;
	};
	const [columnsC, rowsC] = [(width + 1) >> 1, (height + 1) >> 1];
	plane(width, height, dx % width, dy % height);
	for (let i = 0; i < 2; i++) plane(columnsC, rowsC, (dx >> 1) % columnsC, (dy >> 1) % rowsC);
	return out;
}
