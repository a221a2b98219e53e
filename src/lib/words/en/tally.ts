import type { Value } from '../value.ts';

/** Words of the page for whoever stands behind a camera. */
export const tally = {
	title: 'Tally',
	titleOf: (event: Value) => `Tally · ${event}`,
	page: 'your camera’s page',
	which: 'Which camera is yours?',
	whichHint: 'This page then shows whether viewers see it. It stays yours on this phone.',
	none: 'There is no camera in this event yet.',
	onAir: 'ON AIR',
	/** In the program, which goes to nobody yet. */
	program: 'IN THE PICTURE',
	next: 'NEXT',
	free: 'FREE',
	other: 'Other camera',
	lost: 'NO CONNECTION',
	lostHint: 'It is not known whether viewers see you. It comes back by itself.',
	picture: 'The program',
	gone: 'Your camera is not in this event any more.',
	write: 'Write to the crew',
};
