/** The kinds of sources that the picture engine draws itself. */
import type { KindName } from '../../core/show/sources/kinds.ts';
import type { SourceOf } from '../../core/show/sources/source.ts';
import type { DrawnKind } from '../picture/drawn-input.ts';
import { card } from './card.ts';
import { clock } from './clock.ts';
import { colour } from './colour.ts';
import { emptySeat } from './empty-seat.ts';

export const DRAWN_KINDS: { [K in KindName]?: DrawnKind<SourceOf<K>> } = { card, clock, colour, seat: emptySeat };
