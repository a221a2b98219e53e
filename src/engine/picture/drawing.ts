/** Draws cards, clocks, lower thirds and tickers on a canvas: only when what they say has changed. */
import boldUrl from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff2?url';
import boldExtUrl from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-700-normal.woff2?url';
import plainUrl from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff2?url';
import plainExtUrl from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff2?url';
import figuresUrl from '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-600-normal.woff2?url';
import type { Rect, Size } from '../../core/picture/geometry.ts';
import { layOutText, LINE_HEIGHT } from '../../core/picture/text-layout.ts';
import type { Card } from '../../core/show/sources/kinds/card.ts';
import type { Drawing } from './lazy-drawing.ts';
import { engineFailure } from '../trouble.ts';

const FAMILY = 'Bivvo';
const FIGURES = 'Bivvo figures';
const INK = '#12161c';
const PAPER = '#ece7db';
const LAMP = '#f0a830';

type Context = OffscreenCanvasRenderingContext2D;

/** Loads the fonts that ship with the application. Without one, the browser's own takes its place. */
export async function loadFonts(): Promise<void> {
	const latinExtended = { unicodeRange: 'U+0100-02BA, U+1E00-1E9F, U+1EF2-1EFF, U+2C60-2C7F, U+A720-A7FF' };
	const faces = [
		new FontFace(FAMILY, `url(${plainUrl})`, { weight: '400' }),
		new FontFace(FAMILY, `url(${plainExtUrl})`, { weight: '400', ...latinExtended }),
		new FontFace(FAMILY, `url(${boldUrl})`, { weight: '700' }),
		new FontFace(FAMILY, `url(${boldExtUrl})`, { weight: '700', ...latinExtended }),
		new FontFace(FIGURES, `url(${figuresUrl})`, { weight: '600' }),
	];
	const { fonts } = self as unknown as { fonts: FontFaceSet };
	await Promise.allSettled(
		faces.map(async (face) => {
			fonts.add(face);
			await face.load();
		}),
	);
}

function canvasOf({ width, height }: Size): Context {
	const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true });
	if (!context) throw engineFailure('noCanvas', {});
	return context;
}

function finished(context: Context, at: Rect): Drawing {
	const { width, height } = context.canvas;
	return { width, height, rgba: context.getImageData(0, 0, width, height).data, at };
}

const even = (value: number) => 2 * Math.ceil(value / 2);

/** Writes a text into a box; returns the height it took. */
function write(
	context: Context,
	text: string,
	{ x, y, width, height }: Rect,
	wanted: number,
	{ weight = 400, align = 'left' as 'left' | 'center', family = FAMILY } = {},
): number {
	const font = (size: number) => `${weight} ${size}px "${family}", sans-serif`;
	const measure = (part: string) => {
		context.font = font(100);
		return context.measureText(part).width / 100;
	};
	const { size, lines } = layOutText(text, width, height, wanted, measure);
	context.font = font(size);
	context.textAlign = align;
	context.textBaseline = 'alphabetic';
	const start = align === 'center' ? x + width / 2 : x;
	for (const [i, line] of lines.entries()) context.fillText(line, start, y + size * (0.86 + i * LINE_HEIGHT));
	return lines.length * size * LINE_HEIGHT;
}

/** A card of the picture's size. */
export function drawCard({ layout, paper, ink }: Card, texts: readonly string[], picture: Size): Drawing {
	const context = canvasOf(picture);
	const { width, height } = picture;
	context.fillStyle = paper;
	context.fillRect(0, 0, width, height);
	const said = texts.filter((text) => text.trim() !== '');
	const margin = 0.1 * width;
	const align = layout === 'centred' ? 'center' : 'left';
	const room = 0.76 * height;
	// The first line is the largest; each may wrap within its share.
	const shares = said.map((_, i) => (i === 0 ? 2 : 1));
	const total = shares.reduce((sum, share) => sum + share, 0);
	const sizeOf = (i: number) => (i === 0 ? 0.13 : 0.062) * height;
	const heightOf = (i: number) => (room * shares[i]!) / Math.max(total, 3);
	const box = (i: number, y: number) => ({ x: margin, y, width: width - 2 * margin, height: heightOf(i) });
	const weight = (i: number) => (i === 0 ? 700 : 400);
	const gap = 0.03 * height;
	context.fillStyle = 'transparent';
	const heights = said.map((text, i) => write(context, text, box(i, 0), sizeOf(i), { weight: weight(i), align }));
	const all = heights.reduce((sum, each) => sum + each + gap, -gap);
	let y = layout === 'band' ? 0.9 * height - all : (height - all) / 2;
	if (layout === 'band') {
		context.fillStyle = ink;
		context.fillRect(margin, y - 0.06 * height, 0.12 * width, 0.012 * height);
	}
	context.fillStyle = ink;
	for (const [i, text] of said.entries())
		y += gap + write(context, text, box(i, y), sizeOf(i), { weight: weight(i), align });
	return finished(context, { x: 0, y: 0, ...picture });
}

/** A clock of the picture's size. Its figures do not jump. */
export function drawClock(text: string, paper: string, ink: string, picture: Size): Drawing {
	const context = canvasOf(picture);
	const { width, height } = picture;
	context.fillStyle = paper;
	context.fillRect(0, 0, width, height);
	context.fillStyle = ink;
	const size = 0.28 * height;
	const box = { x: 0.08 * width, y: (height - size * LINE_HEIGHT) / 2, width: 0.84 * width, height: 2 * size };
	write(context, text, box, size, { weight: 600, align: 'center', family: FIGURES });
	return finished(context, { x: 0, y: 0, ...picture });
}

/** Names who is speaking, at the foot of the picture. */
export function drawLowerThird(name: string, role: string, side: 'left' | 'right', picture: Size): Drawing {
	const { width, height } = picture;
	const [padding, bar] = [0.018 * height, 0.012 * height];
	const most = 0.5 * width;
	const ruler = canvasOf({ width: 2, height: 2 });
	const widthOf = (text: string, size: number, weight: number) => {
		ruler.font = `${weight} ${size}px "${FAMILY}", sans-serif`;
		return ruler.measureText(text).width;
	};
	const [nameSize, roleSize] = [0.052 * height, 0.034 * height];
	const inner = Math.min(most, Math.max(widthOf(name, nameSize, 700), widthOf(role, roleSize, 400)) + 4);
	const heights = { name: nameSize * LINE_HEIGHT * 2, role: roleSize * LINE_HEIGHT * 2 };
	const context = canvasOf({
		width: even(inner + 2 * padding + bar),
		height: even(heights.name + heights.role + 2 * padding),
	});
	// Written once to learn the heights, then again on its ground.
	const x = bar + padding;
	const text = (y: number) => {
		const first = write(context, name, { x, y, width: inner, height: heights.name }, nameSize, { weight: 700 });
		return first + write(context, role, { x, y: y + first, width: inner, height: heights.role }, roleSize);
	};
	context.fillStyle = 'transparent';
	const used = even(text(padding) + 2 * padding);
	context.fillStyle = 'rgb(18 22 28 / 0.88)';
	context.fillRect(0, 0, context.canvas.width, used);
	context.fillStyle = LAMP;
	context.fillRect(0, 0, bar, used);
	context.fillStyle = PAPER;
	text(padding);
	const size = { width: context.canvas.width, height: used };
	const left = side === 'left' ? 0.05 * width : 0.95 * width - size.width;
	const rgba = context.getImageData(0, 0, size.width, size.height).data;
	return { ...size, rgba, at: { x: left, y: 0.92 * height - used, ...size } };
}

/** A strip with a line of text, at least as wide as the picture; a longer one is made to run. */
export function drawTicker(text: string, picture: Size): Drawing {
	const height = even(0.062 * picture.height);
	const size = 0.62 * height;
	const ruler = canvasOf({ width: 2, height: 2 });
	const font = `400 ${size}px "${FAMILY}", sans-serif`;
	ruler.font = font;
	const needed = ruler.measureText(text).width + 2 * height;
	const width = even(Math.min(16_000, Math.max(picture.width, needed)));
	const context = canvasOf({ width, height });
	context.fillStyle = INK;
	context.fillRect(0, 0, width, height);
	context.fillStyle = PAPER;
	context.font = font;
	context.textBaseline = 'middle';
	context.fillText(text, height, height * 0.53, width - 2 * height);
	return finished(context, { x: 0, y: picture.height - height, width: picture.width, height });
}
