/** Geometry of pictures: crops, boxes, fitting, and the sharpness of the result. */

export interface Size {
	width: number;
	height: number;
}

export interface Rect extends Size {
	x: number;
	y: number;
}

/** How a picture meets a box of another shape. */
export type Fit = 'fit' | 'fill' | 'stretch';

/** A part of a part: `inner` in parts of `outer`, as parts of the whole. */
export function cropWithin(outer: Rect, inner: Rect): Rect {
	return {
		x: outer.x + inner.x * outer.width,
		y: outer.y + inner.y * outer.height,
		width: inner.width * outer.width,
		height: inner.height * outer.height,
	};
}

/** The inverse of `cropWithin`: which part of `outer` a part of the whole is, kept within it. */
export function partWithin(outer: Rect, whole: Rect, least = 0.02): Rect {
	const side = (at: number, length: number, from: number, of: number): [number, number] => {
		const start = Math.min(1 - least, Math.max(0, (at - from) / of));
		const end = Math.max(start + least, Math.min(1, (at + length - from) / of));
		return [start, end - start];
	};
	const [x, width] = side(whole.x, whole.width, outer.x, outer.width);
	const [y, height] = side(whole.y, whole.height, outer.y, outer.height);
	return { x, y, width, height };
}

/** Parts of a size, in its own unit. */
export function scaledTo({ width, height }: Size, part: Rect): Rect {
	return { x: part.x * width, y: part.y * height, width: part.width * width, height: part.height * height };
}

/**
 * Brings a region and a box together.
 * @param region of the source, in its pixels
 * @param box in pixels of the picture
 * @returns what of the region is shown, and where, both between pixels if need be
 */
export function fitInto(region: Rect, box: Rect, fit: Fit): { from: Rect; to: Rect } {
	const [across, down] = [box.width / region.width, box.height / region.height];
	if (fit === 'stretch' || across === down) return { from: region, to: box };
	if (fit === 'fit') return { from: region, to: centred(box, region, Math.min(across, down)) };
	return { from: centred(region, box, 1 / Math.max(across, down)), to: box };
}

/** A rectangle of `shape` times `scale` in the middle of another one. */
function centred(within: Rect, shape: Size, scale: number): Rect {
	const [width, height] = [shape.width * scale, shape.height * scale];
	return { x: within.x + (within.width - width) / 2, y: within.y + (within.height - height) / 2, width, height };
}

/** The nearest rectangle on even pixels, two pixels wide and high at least, so that chroma stays in place. */
export function onEvenPixels({ x, y, width, height }: Rect): Rect {
	const even = (value: number) => 2 * Math.round(value / 2);
	return { x: even(x), y: even(y), width: Math.max(2, even(width)), height: Math.max(2, even(height)) };
}

/** The largest rectangle of the source's shape within the picture, centred, on even pixels. */
export function fitted(source: Size, picture: Size): Rect {
	return onEvenPixels(fitInto({ x: 0, y: 0, ...source }, { x: 0, y: 0, ...picture }, 'fit').to);
}

/** What of `to` lies within the picture, and the part of `from` that belongs there; null when nothing does. */
export function clipped(from: Rect, to: Rect, picture: Size): { from: Rect; to: Rect } | null {
	const left = Math.max(0, to.x);
	const top = Math.max(0, to.y);
	const width = Math.min(picture.width, to.x + to.width) - left;
	const height = Math.min(picture.height, to.y + to.height) - top;
	if (width < 2 || height < 2) return null;
	if (width === to.width && height === to.height) return { from, to };
	const part = {
		x: (left - to.x) / to.width,
		y: (top - to.y) / to.height,
		width: width / to.width,
		height: height / to.height,
	};
	return { from: cropWithin(from, part), to: { x: left, y: top, width, height } };
}

export function between(a: Rect, b: Rect, progress: number): Rect {
	const mix = (from: number, to: number) => from + (to - from) * progress;
	return { x: mix(a.x, b.x), y: mix(a.y, b.y), width: mix(a.width, b.width), height: mix(a.height, b.height) };
}

/** Source pixels per pixel of the picture, in the direction that has fewer: 1 is as sharp as can be. */
export function sharpness(from: Size, to: Size): number {
	return Math.min(from.width / to.width, from.height / to.height);
}

/** From here down a picture is visibly soft. */
const VISIBLY_SOFT = 0.67;

/** What a sharpness means for viewers. */
export function softness(value: number): 'none' | 'little' | 'visible' {
	return value >= 1 ? 'none' : value >= VISIBLY_SOFT ? 'little' : 'visible';
}

/**
 * Boxes for 1 to 9 pictures, in parts of the picture, with a gap between and around them.
 * @param gap in parts of the picture's height
 * @param aspect width of the picture over its height
 */
export function arranged(way: 'grid' | 'oneLarge' | 'inCorner', count: number, aspect = 16 / 9, gap = 0.02): Rect[] {
	if (count < 1 || count > 9) throw new RangeError(`There are arrangements of 1 to 9 pictures, not of ${count}`);
	if (count === 1) return [{ x: 0, y: 0, width: 1, height: 1 }];
	const [gapX, gapY] = [gap / aspect, gap];
	if (way === 'inCorner') {
		const size = 0.3;
		const small = Array.from({ length: count - 1 }, (_, i) => ({
			x: 1 - gapX - size - (i % 3) * (size + gapX),
			y: 1 - gapY - size - Math.floor(i / 3) * (size + gapY),
			width: size,
			height: size,
		}));
		return [{ x: 0, y: 0, width: 1, height: 1 }, ...small];
	}
	if (way === 'oneLarge') {
		// The small ones stand in one or two columns at the right; all have the picture's shape.
		const columns = count - 1 > 4 ? 2 : 1;
		const rows = Math.ceil((count - 1) / columns);
		const small = Math.min((1 - gapY * (rows + 1)) / rows, 0.32 / columns);
		const large = 1 - 2 * gapX - columns * (small + gapX);
		const column = Array.from({ length: count - 1 }, (_, i) => ({
			x: 2 * gapX + large + Math.floor(i / rows) * (small + gapX),
			y: (1 - rows * small - (rows - 1) * gapY) / 2 + (i % rows) * (small + gapY),
			width: small,
			height: small,
		}));
		return [{ x: gapX, y: (1 - large) / 2, width: large, height: large }, ...column];
	}
	const columns = Math.ceil(Math.sqrt(count));
	const rows = Math.ceil(count / columns);
	const size = Math.min((1 - gapX * (columns + 1)) / columns, (1 - gapY * (rows + 1)) / rows);
	const top = (1 - rows * size - (rows - 1) * gapY) / 2;
	return Array.from({ length: count }, (_, i) => {
		const row = Math.floor(i / columns);
		const inRow = Math.min(columns, count - row * columns);
		const left = (1 - inRow * size - (inRow - 1) * gapX) / 2;
		return { x: left + (i % columns) * (size + gapX), y: top + row * (size + gapY), width: size, height: size };
	});
}
