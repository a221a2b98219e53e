/** Words of the interface: troubles. */
export const troubles = {
	nothingWrongWithSound: 'Nothing is wrong with the sound.',
	nothingWrong: 'Nothing is wrong.',
	alarmHeardOnMachineOnly: 'The alarm is heard on this machine only',
	alarmSilent: 'Alarm is silent',
	silenceAlarm: 'Silence the alarm',
	makeProgramHere: 'Make the program here',
	startSoundAndPicture: 'Start sound and picture',
	makePublic: 'Make it public',
	tryAgain: 'Try again now',
};
