import { expect, it } from 'vitest';
import { newGuest, type Guest } from '../../core/show/guests/guest.ts';
import { isOf, ReturnTable } from './return-table.ts';

const guest = (id: string, seatId: string | null = `${id}-seat`): Guest => ({
	...newGuest(id, id),
	isIn: true,
	seatId,
});
const names = ({ guests }: ReturnTable) => guests.map((each) => each?.id ?? null);

it('whoever keeps their seat keeps their output, whoever comes gets a free one', () => {
	const table = new ReturnTable(3);
	table.follow([guest('a'), guest('b'), guest('c')]);
	expect(names(table)).toEqual(['a', 'b', 'c']);
	table.follow([guest('b'), guest('c')]);
	expect(names(table)).toEqual([null, 'b', 'c']);
	table.follow([guest('b'), guest('c'), guest('d')]);
	expect(names(table)).toEqual(['d', 'b', 'c']);
	table.follow([guest('c', null), guest('b')]);
	expect(names(table)).toEqual([null, 'b']);
});

it('gives none to who waits, is in the green room, or comes when all are taken', () => {
	const table = new ReturnTable(1);
	table.follow([{ ...guest('a'), isIn: false }, guest('b', null), guest('c'), guest('d')]);
	expect(names(table)).toEqual(['c']);
});

it('knows both seats of a guest', () => {
	const both = { ...guest('a'), screenSeatId: 'sheet' };
	expect(['a-seat', 'sheet', 'b-seat'].map((id) => isOf(both, id))).toEqual([true, true, false]);
});
