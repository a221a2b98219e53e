import type { Value } from '../value.ts';

/** Words of the interface: panels and macros. */
export const panels = {
	page: 'the panel',
	panelOf: (panel: Value, event: Value) => `${panel} · ${event}`,
	own: 'This event',
	ownPages: {
		panel: 'This event',
		scenes: 'Scenes',
		overlays: 'Names',
		cues: 'Run sheet',
		words: 'Words',
		sound: 'Sound',
		clips: 'Clips',
		macros: 'Macros',
	},
	gone: 'This panel is not there any more.',
	pages: 'Pages of this panel',
	lost: 'No connection. Nothing you press here is done.',
	notYours: 'Not for your role',
	refused: 'NOT DONE',
	hold: 'hold',
	double: 'twice',
	sure: (name: Value) => `Really? ${name}`,
	yes: 'Yes',
	no: 'No',
	crew: 'Crew',
	me: 'Panel',
	stop: (name: Value) => `Stop ${name}`,
	waits: 'waits',
	missed: (name: Value, steps: Value) => `${name}: step ${steps} could not be done.`,
};
