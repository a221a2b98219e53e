import { expect, it } from 'vitest';
import { repeatsOf } from './repeats.ts';

it('repeats an evening on the same weekday at the same time, also where clocks change', () => {
	expect(repeatsOf('2027-03-19T19:00', 'weekly', 4)).toEqual([
		'2027-03-26T19:00',
		'2027-04-02T19:00',
		'2027-04-09T19:00',
	]);
	expect(repeatsOf('2026-12-04T19:00', 'fortnightly', 3)).toEqual(['2026-12-18T19:00', '2027-01-01T19:00']);
	expect(repeatsOf('2026-12-04T19:00', 'first', 4)).toEqual([
		'2027-01-01T19:00',
		'2027-02-05T19:00',
		'2027-03-05T19:00',
	]);
	expect(repeatsOf('2026-12-25T19:00', 'last', 3)).toEqual(['2027-01-29T19:00', '2027-02-26T19:00']);
	// The first one is where somebody has put it, whatever the rule.
	expect(repeatsOf('2026-12-11T18:30', 'first', 2)).toEqual(['2027-01-01T18:30']);
	expect(repeatsOf('', 'weekly', 4)).toEqual([]);
});
