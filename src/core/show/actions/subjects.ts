/** What an action can be about at an event, by name. */
import { withFields } from '../event/fields.ts';
import { isClip } from '../clips/source.ts';
import { macroOf } from '../macros/runs.ts';
import { EVERYTHING_OFF } from '../macros/macro.ts';
import { GROUPS } from '../mix/mix.ts';
import { isDoable } from '../runsheet/order.ts';
import type { Setup } from '../state.ts';
import { ACTION_SUBJECTS, SPOKEN, type ActionId, type Order, type Subject } from './order.ts';

export interface Named {
	id: string;
	name: string;
}

/** All of a kind, in the order of the event. Groups are named by their ids. */
export function subjectsOf(setup: Setup, subject: Subject): Named[] {
	switch (subject) {
		case 'scene':
			return setup.scenes;
		case 'overlay':
			return setup.overlays.filter(({ kind }) => kind !== 'words');
		case 'person':
			return withFields(setup).people;
		case 'cue':
			return setup.cues.filter(isDoable);
		case 'channel':
			return setup.channels;
		case 'group':
			return GROUPS.map((group) => ({ id: group, name: group }));
		case 'snapshot':
			return setup.mix.snapshots;
		case 'clip':
			return setup.sources.filter(isClip);
		case 'song':
			return setup.words.items.map(({ id, song }) => ({ id, name: song.title }));
		case 'macro':
			return [macroOf(setup, EVERYTHING_OFF)!, ...setup.macros.filter(({ id }) => id !== EVERYTHING_OFF)];
	}
}

/** An order of an action with the first thing that it can be about; null where there is none. @param text for what is said */
export function firstOrder(setup: Setup, action: ActionId, text: string): Order | null {
	const subject = ACTION_SUBJECTS[action];
	if (SPOKEN.includes(action)) return { action, text };
	if (subject === null) return { action };
	const [first] = subjectsOf(setup, subject);
	return first ? { action, of: first.id } : null;
}
