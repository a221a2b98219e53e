/** The grounds that cards and clocks stand on, by the family of their look. */
import { mixed } from '../../core/picture/colour.ts';
import type { Look } from '../../core/show/event/look.ts';

type Context = OffscreenCanvasRenderingContext2D;
/** What a ground is drawn with. */
export type Dress = Pick<Look, 'family' | 'paper' | 'ink' | 'accent'>;

/** The look of the event, or the flat colours of a picture's own. */
export function dressed(
	{ dress, paper, ink }: { dress: 'own' | 'event'; paper: string; ink: string },
	look: Look,
): Dress {
	if (dress === 'own') return { family: 'plain', paper, ink, accent: ink };
	const { organisation: _, ...of } = look;
	return of;
}

/** Fills the whole canvas. */
export function drawGround(context: Context, dress: Dress): void {
	const { width, height } = context.canvas;
	context.fillStyle = dress.paper;
	context.fillRect(0, 0, width, height);
	if (dress.family === 'frame') drawFrame(context, dress);
	else if (dress.family === 'hills') drawHills(context, dress);
	else if (dress.family === 'beam') drawBeam(context, dress);
}

/** Two fine lines, one within the other, and a short rule at the head. */
function drawFrame(context: Context, { accent }: Dress): void {
	const { width, height } = context.canvas;
	const unit = height / 360;
	context.strokeStyle = accent;
	for (const [inset, line] of [
		[14, 2],
		[20, 0.75],
	] as const) {
		context.lineWidth = line * unit;
		context.strokeRect(inset * unit, inset * unit, width - 2 * inset * unit, height - 2 * inset * unit);
	}
	context.fillStyle = accent;
	context.fillRect(width / 2 - 24 * unit, 12 * unit, 48 * unit, 4 * unit);
}

/** Ridges one behind another, the nearest the most of the accent. Each is a sum of folds, so that no two are alike. */
function drawHills(context: Context, { paper, accent }: Dress): void {
	const { width, height } = context.canvas;
	const RIDGES = [
		{ foot: 0.86, rise: 0.16, folds: [1.1, 2.7, 6.1], shift: 0.9, of: 0.14 },
		{ foot: 0.92, rise: 0.14, folds: [1.6, 3.7, 8.3], shift: 2.3, of: 0.24 },
		{ foot: 0.98, rise: 0.1, folds: [2.1, 5.3, 11.9], shift: 3.7, of: 0.38 },
	];
	/** From 0 in a valley to 1 on a peak, which is sharp. */
	const fold = (turns: number) => 1 - Math.abs(2 * (turns - Math.floor(turns)) - 1) ** 0.8;
	for (const { foot, rise, folds, shift, of } of RIDGES) {
		context.fillStyle = mixed(paper, accent, of);
		context.beginPath();
		context.moveTo(0, height);
		for (let x = 0; x <= width; x += width / 320) {
			const up = folds.reduce((sum, count, i) => sum + fold((count * x) / width + shift * (i + 1)) / 3 ** i, 0);
			context.lineTo(x, height * (foot - (rise * up) / 1.45));
		}
		context.lineTo(width, height);
		context.fill();
	}
}

/** Light from above, broad and narrow, as through two windows. */
function drawBeam(context: Context, { paper, accent }: Dress): void {
	const { width, height } = context.canvas;
	const BEAMS = [
		{ from: 0.6, broad: 0.2, of: 0.1 },
		{ from: 0.68, broad: 0.06, of: 0.2 },
		{ from: 0.9, broad: 0.1, of: 0.14 },
	];
	for (const { from, broad, of } of BEAMS) {
		context.fillStyle = mixed(paper, accent, of);
		context.beginPath();
		context.moveTo(from * width, 0);
		context.lineTo((from + broad) * width, 0);
		context.lineTo((from + 2.2 * broad - 0.42) * width, height);
		context.lineTo((from - 0.5 - 0.4 * broad) * width, height);
		context.fill();
	}
}
