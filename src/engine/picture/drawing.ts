/** Draws cards, clocks, lower thirds and tickers on a canvas: only when what they say has changed. */
import boldUrl from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff2?url';
import boldExtUrl from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-700-normal.woff2?url';
import plainUrl from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff2?url';
import plainExtUrl from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff2?url';
import figuresUrl from '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-600-normal.woff2?url';
import { create } from 'qrcode';
import type { Rect, Size } from '../../core/picture/geometry.ts';
import { layOutText, LINE_HEIGHT } from '../../core/picture/text-layout.ts';
import type { Look } from '../../core/show/event/look.ts';
import type { Card } from '../../core/show/sources/kinds/card.ts';
import { BENEATH_SIZE, ROW_HEIGHT, type Row } from '../../core/words/cutting.ts';
import type { WordsLine, WordsPlace } from './graphics.ts';
import { drawGround, type Dress } from './grounds.ts';
import type { Drawing } from './lazy-drawing.ts';
import { engineFailure } from '../trouble.ts';

const FAMILY = 'Bivvo';
const FIGURES = 'Bivvo figures';

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

/** Measures where nothing is drawn. */
let ruler: Context | null = null;

/** Writes a text into a box, or only measures it without a context; returns the height it took. */
function write(
	on: Context | null,
	text: string,
	{ x, y, width, height }: Rect,
	wanted: number,
	{ weight = 400, align = 'left' as 'left' | 'center', family = FAMILY } = {},
): number {
	const context = on ?? (ruler ??= canvasOf({ width: 2, height: 2 }));
	const font = (size: number) => `${weight} ${size}px "${family}", sans-serif`;
	const measure = (part: string) => {
		context.font = font(100);
		return context.measureText(part).width / 100;
	};
	const { size, lines } = layOutText(text, width, height, wanted, measure);
	if (!on) return lines.length * size * LINE_HEIGHT;
	context.font = font(size);
	context.textAlign = align;
	context.textBaseline = 'alphabetic';
	const start = align === 'center' ? x + width / 2 : x;
	for (const [i, line] of lines.entries()) context.fillText(line, start, y + size * (0.86 + i * LINE_HEIGHT));
	return lines.length * size * LINE_HEIGHT;
}

/** One line of a card: words, or what a QR code says. */
export interface CardText {
	text: string;
	isCode: boolean;
}

/** Parts of the picture's height that a code takes, with its quiet zone. */
const CODE_PART = 0.5;

/** A card of the picture's size. */
export function drawCard({ layout, ground }: Card, texts: readonly CardText[], dress: Dress, picture: Size): Drawing {
	const context = canvasOf(picture);
	const { width, height } = picture;
	if (ground === 'drawn') drawGround(context, dress);
	const said = texts.filter(({ text, isCode }) => !isCode && text.trim() !== '').map(({ text }) => text);
	const code = texts.find(({ text, isCode }) => isCode && text.trim() !== '')?.text ?? null;
	const margin = 0.1 * width;
	const align = layout === 'centred' && code === null ? 'center' : 'left';
	// A code stands at the right, and the words leave it its place.
	const across = width - 2 * margin - (code === null ? 0 : CODE_PART * height + 0.04 * width);
	const room = 0.76 * height;
	// The first line is the largest; each may wrap within its share.
	const shares = said.map((_, i) => (i === 0 ? 2 : 1));
	const total = shares.reduce((sum, share) => sum + share, 0);
	const sizeOf = (i: number) => (i === 0 ? 0.13 : 0.062) * height;
	const heightOf = (i: number) => (room * shares[i]!) / Math.max(total, 3);
	const box = (i: number, y: number) => ({ x: margin, y, width: across, height: heightOf(i) });
	const weight = (i: number) => (i === 0 ? 700 : 400);
	const gap = 0.03 * height;
	const heights = said.map((text, i) => write(null, text, box(i, 0), sizeOf(i), { weight: weight(i), align }));
	const all = heights.reduce((sum, each) => sum + each + gap, -gap);
	let y = layout === 'band' ? 0.9 * height - all : (height - all) / 2;
	if (layout === 'band') {
		context.fillStyle = dress.accent;
		context.fillRect(margin, y - 0.06 * height, 0.12 * width, 0.012 * height);
	}
	context.fillStyle = dress.ink;
	for (const [i, text] of said.entries())
		y += gap + write(context, text, box(i, y), sizeOf(i), { weight: weight(i), align });
	const side = CODE_PART * height;
	if (code !== null)
		drawCode(context, code, { x: width - margin - side, y: (height - side) / 2, width: side, height: side });
	return finished(context, { x: 0, y: 0, ...picture });
}

/** Modules around a code that stay empty (ISO/IEC 18004, 5.3.8). */
const QUIET = 4;

/** A QR code, dark on light whatever the look: cameras read nothing else as surely. */
function drawCode(context: Context, text: string, { x, y, width }: Rect): void {
	const { modules } = create(text, { errorCorrectionLevel: 'M' });
	// Whole pixels for each module: a blurred edge is what cameras stumble over.
	const pixel = Math.max(1, Math.floor(width / (modules.size + 2 * QUIET)));
	const side = pixel * (modules.size + 2 * QUIET);
	const [left, top] = [Math.round(x + (width - side) / 2), Math.round(y + (width - side) / 2)];
	context.fillStyle = '#ffffff';
	context.fillRect(left, top, side, side);
	context.fillStyle = '#000000';
	for (let row = 0; row < modules.size; row++)
		for (let column = 0; column < modules.size; column++)
			if (modules.get(row, column))
				context.fillRect(left + (column + QUIET) * pixel, top + (row + QUIET) * pixel, pixel, pixel);
}

/** A clock of the picture's size. Its figures do not jump. */
export function drawClock(
	text: string,
	{ says, ground }: { says: string; ground: 'drawn' | 'none' },
	dress: Dress,
	picture: Size,
): Drawing {
	const context = canvasOf(picture);
	const { width, height } = picture;
	if (ground === 'drawn') drawGround(context, dress);
	context.fillStyle = dress.ink;
	const size = 0.28 * height;
	const box = { x: 0.08 * width, y: (height - size * LINE_HEIGHT) / 2, width: 0.84 * width, height: 2 * size };
	write(context, text, box, size, { weight: 600, align: 'center', family: FIGURES });
	const above = { x: 0.1 * width, y: 0.16 * height, width: 0.8 * width, height: 0.16 * height };
	write(context, says, above, 0.07 * height, { weight: 700, align: 'center' });
	return finished(context, { x: 0, y: 0, ...picture });
}

/** Names who is speaking, at the foot of the picture. */
export function drawLowerThird(name: string, role: string, side: 'left' | 'right', look: Look, picture: Size): Drawing {
	const { width, height } = picture;
	const [padding, bar] = [0.018 * height, 0.012 * height];
	const most = 0.5 * width;
	const [nameSize, roleSize] = [0.052 * height, 0.034 * height];
	const lines = [
		{ text: name, size: nameSize, weight: 700 },
		{ text: role, size: roleSize, weight: 400 },
	];
	const inner = Math.min(most, Math.max(...lines.map(({ text, size, weight }) => widthOf(text, size, weight))) + 4);
	const x = bar + padding;
	/** Writes both lines, or measures them; returns the height they take. */
	const text = (on: Context | null, from: number) =>
		lines.reduce((y, line) => {
			const box = { x, y, width: inner, height: 2 * line.size * LINE_HEIGHT };
			return y + write(on, line.text, box, line.size, { weight: line.weight });
		}, from) - from;
	const size = { width: even(inner + 2 * padding + bar), height: even(text(null, 0) + 2 * padding) };
	const context = canvasOf(size);
	drawStrip(context, look, bar);
	context.fillStyle = look.ink;
	text(context, padding);
	const left = side === 'left' ? 0.05 * width : 0.95 * width - size.width;
	return finished(context, { x: left, y: 0.92 * height - size.height, ...size });
}

/** The ground of a lower third, by family. @param bar width of what marks its edge */
function drawStrip(context: Context, { family, paper, accent }: Look, bar: number): void {
	const { width, height } = context.canvas;
	context.globalAlpha = 0.88;
	context.fillStyle = paper;
	context.fillRect(0, 0, width, height);
	context.globalAlpha = 1;
	context.fillStyle = context.strokeStyle = accent;
	if (family === 'plain') context.fillRect(0, 0, bar, height);
	else if (family === 'frame') {
		context.lineWidth = bar / 4;
		context.strokeRect(bar / 3, bar / 3, width - (2 * bar) / 3, height - (2 * bar) / 3);
	} else if (family === 'hills') context.fillRect(0, height - bar / 2, width, bar / 2);
	else {
		context.beginPath();
		context.moveTo(0, 0);
		context.lineTo(1.6 * bar, 0);
		context.lineTo(0.6 * bar, height);
		context.lineTo(0, height);
		context.fill();
	}
}

/** Room between the two columns of languages that stand side by side, in parts of the size. */
const COLUMN_GAP = 1.2;

/** A line of words at the foot or the head of the picture; its last row lies where that of every other line does. */
export function drawWords(line: WordsLine, { ground, place }: WordsPlace, look: Look, picture: Size): Drawing {
	const scale = picture.height / 1080;
	const size = line.size * scale;
	const sizeOf = ({ language }: Row) => (line.languages === 'beneath' && language === 1 ? size * BENEATH_SIZE : size);
	const columns =
		line.languages === 'beside'
			? ([0, 1] as const).map((of) => line.rows.filter((row) => row.language === of))
			: [line.rows];
	const widths = columns.map((rows) => Math.max(0, ...rows.map((row) => widthOf(row.text, sizeOf(row), 700))));
	const heights = columns.map((rows) => rows.reduce((sum, row) => sum + sizeOf(row) * ROW_HEIGHT, 0));
	const [across, down] = [
		widths.reduce((a, b) => a + b) + (columns.length - 1) * COLUMN_GAP * size,
		Math.max(...heights),
	];
	const padding = 0.45 * size;
	const width = ground === 'band' ? picture.width : even(Math.min(picture.width, across + 2 * padding));
	const height = even(down + 2 * padding);
	const context = canvasOf({ width, height });
	if (ground !== 'edge') {
		context.globalAlpha = 0.82;
		context.fillStyle = look.paper;
		context.fillRect(0, 0, width, height);
		context.globalAlpha = 1;
	}
	context.textBaseline = 'alphabetic';
	context.textAlign = 'center';
	context.lineJoin = 'round';
	let x = (width - across) / 2;
	columns.forEach((rows, column) => {
		let y = padding;
		for (const row of rows) {
			const own = sizeOf(row);
			context.font = `700 ${own}px "${FAMILY}", sans-serif`;
			const [middle, base] = [x + widths[column]! / 2, y + 0.93 * own];
			if (ground === 'edge') {
				context.strokeStyle = look.paper;
				context.lineWidth = 0.16 * own;
				context.strokeText(row.text, middle, base);
			}
			context.fillStyle = look.ink;
			context.fillText(row.text, middle, base);
			y += own * ROW_HEIGHT;
		}
		x += widths[column]! + COLUMN_GAP * size;
	});
	const y = place === 'bottom' ? even(0.95 * picture.height) - height : even(0.05 * picture.height);
	return finished(context, { x: even((picture.width - width) / 2), y, width, height });
}

function widthOf(text: string, size: number, weight: number): number {
	ruler ??= canvasOf({ width: 2, height: 2 });
	ruler.font = `${weight} ${size}px "${FAMILY}", sans-serif`;
	return ruler.measureText(text).width;
}

/** A strip with a line of text, at least as wide as the picture; a longer one is made to run. */
export function drawTicker(text: string, { paper, ink }: Look, picture: Size): Drawing {
	const height = even(0.062 * picture.height);
	const size = 0.62 * height;
	const needed = widthOf(text, size, 400) + 2 * height;
	const width = even(Math.min(16_000, Math.max(picture.width, needed)));
	const context = canvasOf({ width, height });
	context.fillStyle = paper;
	context.fillRect(0, 0, width, height);
	context.fillStyle = ink;
	context.font = `400 ${size}px "${FAMILY}", sans-serif`;
	context.textBaseline = 'middle';
	context.fillText(text, height, height * 0.53, width - 2 * height);
	return finished(context, { x: 0, y: picture.height - height, width: picture.width, height });
}
