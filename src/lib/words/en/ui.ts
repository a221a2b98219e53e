import type { Value } from '../value.ts';

/** Words of the interface: ui. */
export const ui = {
	allEvents: 'All events',
	done: 'Done',
	serverUnreachable: 'The server cannot be reached. Nothing was changed; try again.',
	otherAnswer: (status: Value) => `The server answered something else (${status}). Try again.`,
	moreThanTenDays: 'more than ten days',
	days: (days: Value) => `${days} days`,
};
