/** Which keys do which action: those that the operator has chosen, and else those of the registry. */
import * as v from 'valibot';
import { orderSchema } from '../../core/show/actions/order.ts';
import { actions as words } from '../words/index.ts';
import { ACTIONS } from './actions.ts';

/** Keys that the operator has chosen, by action. */
export type ChosenKeys = Readonly<Record<string, readonly string[]>>;

const KEPT_AS = 'bivvo-keys';
const chosenSchema = v.record(v.string(), v.pipe(v.array(v.pipe(v.string(), v.maxLength(40))), v.maxLength(4)));

/** The keys of an action. */
export function keysOf(actionId: string, chosen: ChosenKeys): readonly string[] {
	return chosen[actionId] ?? ACTIONS.get(actionId)!.keys;
}

/**
 * Gives a key to an action, and takes it from the one that had it.
 * @returns all chosen keys, and the action that lost its key, if one did
 */
export function withKey(
	chosen: ChosenKeys,
	actionId: string,
	key: string,
): { chosen: ChosenKeys; lost: string | null } {
	const lost = [...ACTIONS.keys()].find((id) => id !== actionId && keysOf(id, chosen).includes(key)) ?? null;
	const without = lost === null ? {} : { [lost]: keysOf(lost, chosen).filter((each) => each !== key) };
	return { chosen: { ...chosen, ...without, [actionId]: [key] }, lost };
}

/** A key that somebody has given to an action with all it needs: a macro, a scene by name, a channel's mute. */
const ownKeySchema = v.object({ key: v.pipe(v.string(), v.minLength(1), v.maxLength(40)), order: orderSchema });
const ownKeysSchema = v.pipe(v.array(ownKeySchema), v.maxLength(60));
export type OwnKey = v.InferOutput<typeof ownKeySchema>;
const OWN_KEPT_AS = 'bivvo-own-keys';

/** Takes a key from the action of the registry that has it. @returns all chosen keys, and the action that lost it, if one did */
export function withoutKey(chosen: ChosenKeys, key: string): { chosen: ChosenKeys; lost: string | null } {
	const lost = [...ACTIONS.keys()].find((id) => keysOf(id, chosen).includes(key)) ?? null;
	if (lost === null) return { chosen, lost };
	return { chosen: { ...chosen, [lost]: keysOf(lost, chosen).filter((each) => each !== key) }, lost };
}

export function keptOwnKeys(storage: Pick<Storage, 'getItem'>): OwnKey[] {
	try {
		const kept = v.safeParse(ownKeysSchema, JSON.parse(storage.getItem(OWN_KEPT_AS) ?? '[]'));
		return kept.success ? kept.output : [];
	} catch {
		return [];
	}
}

export function keepOwnKeys(storage: Pick<Storage, 'setItem'>, own: readonly OwnKey[]): void {
	try {
		storage.setItem(OWN_KEPT_AS, JSON.stringify(own));
	} catch {
		// They hold until the page is closed.
	}
}

/** A key as people read it: "Shift + 1" of `Shift+Digit1`. */
export function keyWords(key: string): string {
	return key
		.split('+')
		.map((part) => part.replace(/^(Digit|Key)/, '').replace(/^Numpad(\d)/, words.numberPad))
		.join(' + ');
}

/** A key that was pressed, as it is written in the registry; null for a modifier alone. */
export function keyOf({ code, key, shiftKey, ctrlKey, altKey, metaKey }: KeyboardEvent): string | null {
	if (['Shift', 'Control', 'Alt', 'Meta'].includes(key)) return null;
	const held = [ctrlKey && 'Control', altKey && 'Alt', metaKey && 'Meta', shiftKey && 'Shift'].filter(Boolean);
	return [...held, code].join('+');
}

/** What was kept on this machine; nothing where that cannot be read. */
export function keptKeys(storage: Pick<Storage, 'getItem'>): ChosenKeys {
	try {
		const kept = v.safeParse(chosenSchema, JSON.parse(storage.getItem(KEPT_AS) ?? '{}'));
		return kept.success ? kept.output : {};
	} catch {
		return {};
	}
}

export function keepKeys(storage: Pick<Storage, 'setItem'>, chosen: ChosenKeys): void {
	try {
		storage.setItem(KEPT_AS, JSON.stringify(chosen));
	} catch {
		// They hold until the page is closed.
	}
}
