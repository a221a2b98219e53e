import type { Value } from '../value.ts';

/** Words of the interface: plan. */
export const plan = {
	newEvent: 'New event',
	name: 'Name',
	lanternNight: 'Lantern Night',
	starts: 'Starts',
	picture: 'Picture',
	size720: '1280 × 720, safe for most lines',
	size1080: '1920 × 1080, needs a fast line',
	frameRate: 'Frame rate',
	frames: (fps: Value) => `${fps} frames a second`,
	n30SuitsPeopleTalks50: '30 suits people and talks. 50 or 60 is for sport, and costs more.',
	makeEvent: 'Make the event',
	events: 'Events',
	nothingHereYetMakeYour: 'Nothing here yet. Make your first event on the right; you can change everything later.',
	openDesk: 'Open the desk',
	mix: 'Mix',
	prepare: 'Prepare',
	sheet: 'Run sheet',
	recordings: 'Recordings',
	noTime: 'No time set',
};
