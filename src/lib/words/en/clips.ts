import type { Value } from '../value.ts';

/** Words of the interface: clips and their transport. */
export const clips = {
	left: (name: Value, time: Value) => `${name}: ${time} left`,
	repeats: (name: Value) => `${name}, round and round`,
	leave: (seconds: Value) => `Leave in ${seconds} s`,
	timeLeft: 'Time left of the clip on air',
	transport: (name: Value) => `Transport of ${name}`,
	play: 'Play',
	pause: 'Pause',
	fromStart: 'From the start',
	fromStartHint: 'Back to its first frame, where it waits',
	position: (name: Value) => `Place in ${name}`,
	back: 'One frame back',
	forward: 'One frame on',
	files: 'Files, in order',
	repeat: 'Begin again at its end',
	shuffle: 'In another order each time',
	ends: 'After its last frame',
	stands: 'That frame stands',
	black: 'Black',
	leadOut: 'Say “leave” before its end',
	bed: 'Music bed: plays under cards',
	bedHint:
		'It begins with a card, a clock or a still, and fades by itself when the program starts. Its fader sets how loud.',
	playsOnTake: 'Play when it comes into the program',
	earlier: (name: Value) => `${name}: earlier`,
	later: (name: Value) => `${name}: later`,
	remove: (name: Value) => `Take ${name} out`,
	addFile: 'Add a file from the library',
	seconds: 's',
	decibels: 'dB',
};
