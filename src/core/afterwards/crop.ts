/** The part of a recording that an upright or a square clip shows, placed by hand or by what was on air. */
import type { Rect, Size } from '../picture/geometry.ts';

/** Width by height. */
export const SHAPES = { upright: 9 / 16, square: 1 } as const;
export type Shape = keyof typeof SHAPES;

/** Where the middle of the crop is from a moment on, in parts of the picture; seconds from the recording's start. */
export interface CropPoint {
	atS: number;
	x: number;
	/** True where the crop jumps here, as a take does; it moves here from the point before otherwise. */
	jumps: boolean;
}

/** A crop that is moved by hand goes so long before it is there, seconds. */
const GOES_S = 1.2;

/**
 * The middle of the crop at a moment, in parts of the picture's width: that of the last point, towards which it goes evenly
 * for a while before it is due. Without points it is the middle.
 */
export function cropAt(points: readonly CropPoint[], atS: number): number {
	const before = points.findLast((point) => point.atS <= atS) ?? points[0];
	if (!before) return 0.5;
	const next = points[points.indexOf(before) + 1];
	if (!next || next.jumps) return before.x;
	const begins = Math.max(before.atS, next.atS - GOES_S);
	const part = (atS - begins) / Math.max(1e-6, next.atS - begins);
	return part <= 0 ? before.x : before.x + (next.x - before.x) * eased(Math.min(1, part));
}

/** Begins and ends slowly: Hermite's cubic. */
function eased(part: number): number {
	return part * part * (3 - 2 * part);
}

/** The crop as pixels, even and whole within the picture, as high as that. */
export function cropRect(shape: Shape, { width, height }: Size, x: number): Rect {
	const wide = Math.min(width & ~1, Math.round((height * SHAPES[shape]) / 2) * 2);
	const left = Math.round((x * width - wide / 2) / 2) * 2;
	return { x: Math.min(Math.max(0, left), (width - wide) & ~1), y: 0, width: wide, height: height & ~1 };
}

/** Size of the clip: that of phones, with no more lines than the recording has in it. */
export function clipSize(shape: Shape, { height }: Size): Size {
	const width = height >= 1080 ? 1080 : 720;
	return shape === 'square' ? { width, height: width } : { width, height: Math.round((width * 16) / 9) };
}

/** Puts a point among others; one that is as good as at the same moment is replaced. */
export function withPoint(points: readonly CropPoint[], point: CropPoint): CropPoint[] {
	const others = points.filter(({ atS }) => Math.abs(atS - point.atS) > 0.25);
	return [...others, point].toSorted((a, b) => a.atS - b.atS);
}
