/** Listens to keys and runs actions. None acts while somebody types, or while a dialog is open. */
import { tinykeys } from 'tinykeys';
import { ACTIONS, type Action } from './actions.ts';
import type { ActionRunner } from './context.ts';
import { keepKeys, keptKeys, keysOf, withKey, type ChosenKeys } from './key-map.ts';

type Run = ActionRunner['run'];

export class Keys {
	chosen = $state.raw<ChosenKeys>(keptKeys(localStorage));

	/** Gives a key to an action. @returns the action that had it before, or null */
	choose(actionId: string, key: string): Action | null {
		const { chosen, lost } = withKey(this.chosen, actionId, key);
		this.chosen = chosen;
		keepKeys(localStorage, chosen);
		return lost === null ? null : ACTIONS.get(lost)!;
	}

	/** Back to the keys of the registry. */
	reset(): void {
		this.chosen = {};
		keepKeys(localStorage, {});
	}

	/**
	 * Runs actions when their keys are pressed.
	 * @param ids of the actions that have keys here; all when absent
	 * @param own keys that the page has besides, each with its action
	 * @returns a function that ends it
	 */
	listen(
		target: Window,
		run: Run,
		ids: readonly string[] = [...ACTIONS.keys()],
		own: Readonly<Record<string, string>> = {},
	): () => void {
		const handlers = ids.flatMap((id) => {
			const action = ACTIONS.get(id)!;
			return keysOf(id, this.chosen).map((key) => [key, handlerOf(action, run)] as const);
		});
		const others = Object.entries(own).map(([key, id]) => [key, handlerOf(ACTIONS.get(id)!, run)] as const);
		return tinykeys(target, Object.fromEntries([...handlers, ...others]));
	}
}

function handlerOf(action: Action, run: Run): (event: KeyboardEvent) => void {
	return (event) => {
		if (event.repeat || isBusy(event.target, action.alsoOnButtons ?? false)) return;
		event.preventDefault();
		run(action, event);
	};
}

/** True when the key belongs to what has the focus: a field, an open dialog, or for some keys a button. */
function isBusy(target: EventTarget | null, alsoOnButtons: boolean): boolean {
	if (!(target instanceof Element)) return false;
	if (document.querySelector('dialog[open]')) return true;
	if (target.closest('input:not([type=range], [type=checkbox]), textarea, select, [contenteditable]')) return true;
	return !alsoOnButtons && target.closest('button, a, input') !== null;
}
