/** Fills the picture with one colour. */
import type { SourceOf } from '../../core/show/sources/source.ts';
import type { DrawnKind } from '../picture/drawn-input.ts';

export const colour: DrawnKind<SourceOf<'colour'>> = {
	ticks: false,
	stamp: ({ colour: made }) => made,
	draw: ({ colour: made }, _, __, { width, height }) => ({ colour: made, width, height }),
};
