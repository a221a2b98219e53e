/** Draws clocks. */
import type { SourceOf } from '../../core/show/sources/source.ts';
import { clockText } from '../../core/show/sources/words.ts';
import type { DrawnKind } from '../picture/drawn-input.ts';
import { drawClock } from '../picture/drawing.ts';

export const clock: DrawnKind<SourceOf<'clock'>> = {
	ticks: true,
	stamp: ({ clock: made, paper, ink }, _, now) => JSON.stringify([clockText(made, now), paper, ink]),
	draw: ({ clock: made, paper, ink }, _, now, picture) => drawClock(clockText(made, now), paper, ink, picture),
};
