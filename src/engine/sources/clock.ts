/** Draws clocks. */
import type { SourceOf } from '../../core/show/sources/source.ts';
import { clockText } from '../../core/show/sources/words.ts';
import type { DrawnKind } from '../picture/drawn-input.ts';
import { drawClock } from '../picture/drawing.ts';
import { dressed } from '../picture/grounds.ts';

export const clock: DrawnKind<SourceOf<'clock'>> = {
	ticks: true,
	stamp: (source, { timeZone, look }, now) =>
		JSON.stringify([clockText(source.clock, now, timeZone), source.says, source.ground, dressed(source, look)]),
	draw: (source, { timeZone, look }, now, picture) =>
		drawClock(clockText(source.clock, now, timeZone), source, dressed(source, look), picture),
};
