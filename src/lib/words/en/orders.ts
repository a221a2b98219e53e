import type { ButtonState } from '../../../core/show/actions/actions.ts';
import type { ActionId, Order, Subject } from '../../../core/show/actions/order.ts';
import { EVERYTHING_OFF } from '../../../core/show/macros/macro.ts';

/** What an action is called where one is chosen. */
export const actionNames: Readonly<Record<ActionId, string>> = {
	go: 'Go: the next line of the run sheet',
	'go-back': 'Go back: the line before again',
	'hold-cue': 'Hold what follows by itself',
	'choose-cue': 'Choose a line for the next Go',
	'do-cue': 'Do a line of the run sheet now',
	take: 'Take what is in Next',
	'take-scene': 'Take a scene',
	'next-scene': 'Put a scene in Next',
	'choose-scene': 'Choose a scene, as on the desk',
	'previous-scene': 'Previous scene',
	'call-back': 'Reverse the newest take',
	'holding-card': 'Take the card for breaks',
	black: 'Black over everything',
	direct: 'Choosing takes at once',
	overlay: 'Show or hide an overlay',
	name: 'Name a person',
	words: 'Words for viewers',
	'next-line': 'Next line of the words',
	'previous-line': 'Line before',
	song: 'Begin a song or text',
	'hall-words': 'Words in the hall',
	mute: 'Mute a channel',
	speak: 'Open a channel while held',
	'mute-group': 'Mute a group',
	snapshot: 'Call up a mix',
	hush: 'Hush: the stream is silent',
	clip: 'Play or pause a clip',
	'rewind-clip': 'Rewind a clip',
	'stop-clips': 'Pause all clips',
	marker: 'Set a marker',
	crew: 'Say something to the crew',
	'viewer-chat': 'Write to viewers',
	macro: 'Run a macro',
};

export const subjectNames: Readonly<Record<Subject, string>> = {
	scene: 'Scene',
	overlay: 'Overlay',
	person: 'Person',
	cue: 'Line',
	channel: 'Channel',
	group: 'Group',
	snapshot: 'Mix',
	clip: 'Clip',
	song: 'Song or text',
	macro: 'Macro',
};

const GROUP_NAMES: Readonly<Record<string, string>> = { speech: 'Speech', music: 'Music', audience: 'Audience' };

/** What stands on a button; `name` of what it is about, null for what is gone. */
export function orderLabel({ action, of, text, to }: Order, name: string | null): string {
	if (name === null) return 'No longer there';
	const said = (text ?? '').slice(0, 60);
	switch (action) {
		case 'go':
			return name === '' ? 'Go' : `Go: ${name}`;
		case 'take':
			return name === '' ? 'Take' : `Take ${name}`;
		case 'previous-scene':
			return name === '' ? 'Previous' : `Back to ${name}`;
		case 'next-line':
			return name === '' ? 'Words away' : name;
		case 'mute':
			return to === 'off' ? `Open ${name}` : to === 'on' ? `Mute ${name}` : name;
		case 'mute-group':
			return GROUP_NAMES[of ?? ''] ?? '';
		case 'rewind-clip':
			return `Rewind ${name}`;
		case 'do-cue':
			return `Now: ${name}`;
		case 'holding-card':
			return name;
		case 'marker':
		case 'crew':
		case 'viewer-chat':
			return said;
		case 'go-back':
			return 'Go back';
		case 'hold-cue':
			return 'Hold';
		case 'call-back':
			return 'Reverse';
		case 'black':
			return 'Black';
		case 'direct':
			return 'Direct';
		case 'words':
			return 'Words';
		case 'previous-line':
			return 'Line before';
		case 'hall-words':
			return 'Words in the hall';
		case 'hush':
			return 'Hush';
		case 'stop-clips':
			return 'Pause all clips';
		case 'macro':
			return macroName(of ?? '', name);
		default:
			return name;
	}
}

/** The macro that ships has no name in the show. */
export function macroName(id: string, name: string): string {
	return id === EVERYTHING_OFF ? 'Everything off' : name;
}

/** The word that says how a button stands; '' for nothing in particular. */
export function standWord(state: ButtonState, action: ActionId, isOnAir: boolean): string {
	switch (state) {
		case 'program':
			return isOnAir ? 'ON AIR' : 'PROGRAM';
		case 'next':
			return 'NEXT';
		case 'armed':
			return 'BY ITSELF';
		case 'muted':
			return action === 'hush' ? 'HUSHED' : 'MUTED';
		case 'running':
			return action === 'clip' || action === 'stop-clips' ? 'PLAYING' : action === 'macro' ? 'RUNNING' : 'NOW';
		case 'on':
			return action === 'macro' ? 'DONE, press to undo' : 'ON';
		case 'gone':
			return 'GONE';
		case 'idle':
		case 'plain':
			return '';
	}
}

/** Which way something is switched. */
export const switchNames = { over: 'The other way', on: 'On', off: 'Off' } as const;
