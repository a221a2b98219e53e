/** Words of the interface: plan. */
export const plan = {
	newEvent: 'New event',
	name: 'Name',
	lanternNight: 'Lantern Night',
	starts: 'Starts',
	picture: 'Picture',
	frameRate: 'Frame rate',
	n30SuitsPeopleTalks50: '30 suits people and talks. 50 or 60 is for sport, and costs more.',
	makeEvent: 'Make the event',
	events: 'Events',
	nothingHereYetMakeYour: 'Nothing here yet. Make your first event on the right; you can change everything later.',
	openDesk: 'Open the desk',
	recordings: 'Recordings',
	noTime: 'No time set',
};
