/** Runs the page's actions, for its keys and for all buttons below it. */
import { createContext } from 'svelte';
import type { Action } from './actions.ts';
import type { Keys } from './keys.svelte.ts';

export interface ActionRunner {
	/** The keys of this machine. */
	keys: Keys;
	/** @param event the press */
	run(action: Action, event: Event): void;
}

export const [useActions, provideActions] = createContext<ActionRunner>();

/** How long a press has waited for a busy page, milliseconds: what a hand does quickly, it may hear of slowly. */
export function waitedMs({ timeStamp }: Event): number {
	return Math.max(0, performance.now() - timeStamp);
}
