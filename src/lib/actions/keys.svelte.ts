/** Listens to keys and runs actions. None acts while somebody types, or while a dialog is open. */
import { tinykeys } from 'tinykeys';
import type { Order } from '../../core/show/actions/order.ts';
import { actionOf, ACTIONS, type Action } from './actions.ts';
import type { ActionRunner } from './context.ts';
import {
	keepKeys,
	keepOwnKeys,
	keptKeys,
	keptOwnKeys,
	keysOf,
	withKey,
	withoutKey,
	type ChosenKeys,
	type OwnKey,
} from './key-map.ts';

type Run = ActionRunner['run'];

export class Keys {
	chosen = $state.raw<ChosenKeys>(keptKeys(localStorage));
	/** Keys of actions that the registry has none for. */
	own = $state.raw<OwnKey[]>(keptOwnKeys(localStorage));

	/** Gives a key to an action. @returns the action that had it before, or null */
	choose(actionId: string, key: string): Action | null {
		this.takeBack(key);
		const { chosen, lost } = withKey(this.chosen, actionId, key);
		this.chosen = chosen;
		keepKeys(localStorage, chosen);
		return lost === null ? null : ACTIONS.get(lost)!;
	}

	/** Gives a key to any action. @returns the action of the registry that had it before, or null */
	give(key: string, order: Order): Action | null {
		const { chosen, lost } = withoutKey(this.chosen, key);
		this.chosen = chosen;
		keepKeys(localStorage, chosen);
		this.#setOwn([...this.own.filter((each) => each.key !== key), { key, order }]);
		return lost === null ? null : ACTIONS.get(lost)!;
	}

	takeBack(key: string): void {
		this.#setOwn(this.own.filter((each) => each.key !== key));
	}

	#setOwn(own: OwnKey[]): void {
		this.own = own;
		keepOwnKeys(localStorage, own);
	}

	/** Back to the keys of the registry. */
	reset(): void {
		this.chosen = {};
		keepKeys(localStorage, {});
		this.#setOwn([]);
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
		ids: readonly string[] | null = null,
		own: Readonly<Record<string, string>> = {},
	): () => void {
		const isAll = ids === null;
		const handlers = (ids ?? [...ACTIONS.keys()]).flatMap((id) => {
			const action = ACTIONS.get(id)!;
			return keysOf(id, this.chosen).map((key) => [key, handlerOf(action, run)] as const);
		});
		const others = Object.entries(own).map(([key, id]) => [key, handlerOf(ACTIONS.get(id)!, run)] as const);
		// Where only some actions have keys, these are left out as well.
		const given = isAll ? this.own : [];
		const more = given.map(({ key, order }) => [key, handlerOf(actionOf(order, ''), run)] as const);
		return tinykeys(target, Object.fromEntries([...handlers, ...others, ...more]));
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
