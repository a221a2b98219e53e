import type { Value } from '../value.ts';

/** Words of the interface: messages among the crew. */
export const crew = {
	messages: 'Crew',
	from: (name: Value) => `${name}:`,
	seen: 'Seen',
	seenBy: (names: Value) => `seen by ${names}`,
	notSeen: 'not seen yet',
	hear: 'Hear the desk',
	hearSoon: 'Finding the desk…',
	hears: 'Hears the desk',
	talk: 'Speak to the crew (hold)',
	talkHint: 'Phones on which somebody has pressed “Hear the desk” hear you. Viewers and guests do not.',
	say: 'Write to the crew',
	send: 'Send',
	to: 'To',
	toAll: 'Everybody',
	toPages: {
		desk: 'The desk',
		panel: 'Panels',
		tally: 'All cameras',
		sheet: 'Run sheets',
		stage: 'The stage screen',
		words: 'Words',
		guests: 'All guests',
	},
	nothingYet: 'Nothing was said yet.',
	/** Where an event has none of its own. */
	prepared: ['Closer', 'Wider', 'Hold it there', 'You are next', 'Wait', 'Thank you'],
	editPrepared: 'Prepared messages',
	editPreparedHint: 'One a line.',
	places: { desk: 'Desk', panel: 'Panel', tally: 'Camera', sheet: 'Run sheet', stage: 'Stage', words: 'Words' },
};
