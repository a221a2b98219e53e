import { expect, it } from 'vitest';
import { sortEvents } from './order.ts';

const line = (title: string, startsAt: string, archivedAt: number | null = null) => ({ title, startsAt, archivedAt });
const titles = (list: readonly { title: string }[]) => list.map(({ title }) => title);

it('puts the next evening first, those after it by date, and what is over last', () => {
	const events = [
		line('Wool Market', '2026-10-01T10:00'),
		line('Trial', ''),
		line('Mending Day', '2026-12-12T19:00'),
		line('Lantern Night', '2026-11-28T19:00'),
		line('Sheep Fair', '2026-09-01T10:00'),
		line('Old', '2025-09-01T10:00', 1),
	];
	const now = new Date('2026-11-28T20:00').getTime();
	const sorted = sortEvents(events, now);
	expect(sorted.next?.title).toBe('Lantern Night');
	expect(titles(sorted.coming)).toEqual(['Mending Day', 'Trial']);
	expect(titles(sorted.past)).toEqual(['Wool Market', 'Sheep Fair']);
	expect(titles(sorted.archived)).toEqual(['Old']);
	const found = sortEvents(events, now, 'n');
	expect(found.next).toBeNull();
	expect(titles(found.coming)).toEqual(['Lantern Night', 'Mending Day']);
	expect(sortEvents([line('Trial', '')], now).next).toBeNull();
});
