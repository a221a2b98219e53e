import type { Value } from '../value.ts';

/** Words of the interface: show. */
export const show = {
	closeNotice: 'Close this notice',
	undo: 'Undo',
	thereNoSuchEvent: 'There is no such event.',
	allEvents: 'All events',
	opening: (what: Value) => `Opening ${what}…`,
};
