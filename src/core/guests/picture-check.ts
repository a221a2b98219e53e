/** Whether somebody before a camera can be seen: judged from a small picture, before they are let in. */

export type PictureAdvice =
	/** Next to no light: the room's is off, or something is over the lens. */
	| 'covered'
	| 'tooDark'
	/** A window or a lamp behind the person. */
	| 'againstLight'
	/** A lamp straight into the face: what is white has no detail left. */
	| 'tooBright';

/** A small picture's luma, 0 to 255 (full range, BT.601 weights as of an sRGB canvas), row by row. */
export interface SmallPicture {
	luma: Uint8Array;
	width: number;
	height: number;
}

const COVERED = 16;
/** Middle luma of what is in the middle. Skin of any tone under household light lies above it. */
const DARK = 52;
/** Part of the middle that may be burnt out. */
const BURNT_PART = 0.2;
const BURNT = 250;
/** By so much the edges are brighter than a person against the light. */
const BACKLIGHT = 70;
/** Somebody who is lit well from the front may sit before a window. */
const LIT = 110;
/** Part of the width and height where a person is looked for. */
const MIDDLE = 0.4;

/** Luma of a picture with four bytes for each pixel, as a canvas gives it. */
export function lumaOf(rgba: Uint8ClampedArray, width: number, height: number): SmallPicture {
	const luma = Uint8Array.from({ length: width * height }, (_, i) => {
		const [r, g, b] = [rgba[4 * i]!, rgba[4 * i + 1]!, rgba[4 * i + 2]!];
		return Math.round(0.299 * r + 0.587 * g + 0.114 * b);
	});
	return { luma, width, height };
}

/** What should be changed, the gravest only; null while nothing should. */
export function judgePicture({ luma, width, height }: SmallPicture): PictureAdvice | null {
	const [middle, edge]: [number[], number[]] = [[], []];
	const isNear = (at: number, length: number) => Math.abs((at + 0.5) / length - 0.5) < MIDDLE / 2;
	for (let y = 0; y < height; y++)
		for (let x = 0; x < width; x++) {
			const value = luma[y * width + x]!;
			if (isNear(x, width) && isNear(y, height)) middle.push(value);
			// The lower edge shows a body and a table.
			else if (y < height / 2) edge.push(value);
		}
	const person = median(middle);
	if (person < COVERED && median(edge) < COVERED) return 'covered';
	if (middle.filter((value) => value >= BURNT).length > BURNT_PART * middle.length) return 'tooBright';
	if (person < LIT && median(edge) - person > BACKLIGHT) return 'againstLight';
	return person < DARK ? 'tooDark' : null;
}

function median(values: readonly number[]): number {
	return values.toSorted((a, b) => a - b)[values.length >> 1] ?? 0;
}
