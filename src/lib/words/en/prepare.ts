import type { Value } from '../value.ts';

/** Words of the interface: the page on which an event is prepared. */
export const prepare = {
	page: 'the preparation',
	starts: (when: Value) => `Starts ${when}`,
	noStart: 'No time is set yet.',
	sources: 'Cameras, sounds and pictures',
	addSource: 'Add a source',
	noSource: 'Nothing here yet. Add the first camera: of this machine, or a simulated one to try things out.',
	change: (name: Value) => `Change ${name}`,
	remove: (name: Value) => `Remove ${name}`,
	picturesInDesk: 'The pictures are made on the desk that is open now.',
	picturesHere: 'Live pictures are shown on a wider screen.',
	soundOnly: 'Sound only',
	noPicture: 'no picture',
	level: (name: Value) => `Level of ${name}`,
	clips: 'Clips of this event',
	noClip: 'No clip yet. Drop the film of the evening below, or take one from the library.',
	fromLibrary: 'From the library',
	openLibrary: 'Media library',
	reel: (count: Value) => `reel of ${count}`,
	dragClip: 'Drag it into the run sheet',
	sheet: 'Run sheet',
	onAir: 'ON AIR',
	rehearsal: 'REHEARSAL',
	offAir: 'Off air',
	toDesk: 'To the desk',
};
