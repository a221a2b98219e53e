/** Runs the page's actions, for its keys and for all buttons below it. */
import { createContext } from 'svelte';
import type { Action } from './actions.ts';
import type { Keys } from './keys.svelte.ts';

export interface ActionRunner {
	/** The keys of this machine. */
	keys: Keys;
	run(action: Action): void;
}

export const [useActions, provideActions] = createContext<ActionRunner>();
