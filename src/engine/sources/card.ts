/** Draws cards. */
import type { SourceOf } from '../../core/show/sources/source.ts';
import { cardText } from '../../core/show/sources/words.ts';
import type { DrawnKind } from '../picture/drawn-input.ts';
import { drawCard } from '../picture/drawing.ts';
import { dressed } from '../picture/grounds.ts';

export const card: DrawnKind<SourceOf<'card'>> = {
	ticks: false,
	stamp: ({ card: made }, fields) =>
		JSON.stringify([made, made.lines.map((line) => cardText(line, fields)), dressed(made, fields.look)]),
	draw: ({ card: made }, fields, _, picture) =>
		drawCard(
			made,
			made.lines.map((line) => ({ text: cardText(line, fields), isCode: line.says === 'code' })),
			dressed(made, fields.look),
			picture,
		),
};
