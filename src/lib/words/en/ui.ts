import type { Value } from '../value.ts';

/** Words of the interface: ui. */
export const ui = {
	allEvents: 'All events',
	pagesOfEvent: 'Pages of the event',
	prepare: 'Prepare',
	check: 'Line check',
	desk: 'Desk',
	mix: 'Mix',
	words: 'Words',
	panels: 'Panels',
	panel: 'Panel',
	tally: 'Tally',
	hall: 'Hall screen',
	stage: 'Stage screen',
	sheet: 'Run sheet',
	recordings: 'Recordings',
	report: 'Report',
	done: 'Done',
	copy: 'Copy',
	copied: 'Copied',
	copyThis: (label: Value) => `Copy: ${label}`,
	timeOfDay: 'A time of day, such as 19:00.',
	serverUnreachable: 'The server cannot be reached. Nothing was changed; try again.',
	otherAnswer: (status: Value) => `The server answered something else (${status}). Try again.`,
};
