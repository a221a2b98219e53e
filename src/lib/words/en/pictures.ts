import type { Value } from '../value.ts';

/** Words of the interface: pictures. */
export const pictures = {
	picture: (label: Value) => `Picture of ${label}`,
	madeInAnotherTab: 'Made in another tab',
	nothingHere: 'Nothing here',
	starting: 'Starting…',
	programNotSent: 'PROGRAM, not sent',
	onAir: 'ON AIR',
	rehearsal: 'REHEARSAL',
	program: 'PROGRAM',
	next: 'NEXT',
	picturePickFrom: 'Picture to pick from',
	thereNoPicturePickFrom: 'There is no picture to pick from.',
	dropSourceHere: 'Drop a source here',
	chosenArrowKeysMoveWith: (name: Value) => `${name}, chosen. Arrow keys move it, with Shift they resize it.`,
	choose: (name: Value) => `Choose ${name}`,
	pickColourFromPicture: 'Pick a colour from the picture',
};
