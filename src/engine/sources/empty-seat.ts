/** Draws what a seat shows while nobody has it. */
import { plainCard, type CardLine } from '../../core/show/sources/kinds/card.ts';
import { plainSource, type SourceOf } from '../../core/show/sources/source.ts';
import type { DrawnKind } from '../picture/drawn-input.ts';
import { card } from './card.ts';

/** The event's own card, or the seat's name. */
function cardOf({ id, name, empty }: SourceOf<'seat'>): SourceOf<'card'> {
	const lines: CardLine[] =
		empty === 'name' ? [{ says: 'text', text: name }] : [{ says: 'event' }, { says: 'organisation' }];
	return plainSource(id, name, { kind: 'card', card: plainCard({ lines }) });
}

export const emptySeat: DrawnKind<SourceOf<'seat'>> = {
	ticks: false,
	draws: ({ empty }) => empty !== 'nothing',
	stamp: (seat, ...rest) => card.stamp(cardOf(seat), ...rest),
	draw: (seat, ...rest) => card.draw(cardOf(seat), ...rest),
};
