/** The desk's keys. None acts while somebody types, or presses a button by keyboard. */
import { tinykeys } from 'tinykeys';

export interface KeyLine {
	keys: string;
	does: string;
}

export const KEY_LIST: readonly KeyLine[] = [
	{ keys: '1 to 9', does: 'Put that scene in Next' },
	{ keys: 'Shift + 1 to 9', does: 'Take that scene at once' },
	{ keys: 'Enter', does: 'Take what is in Next' },
	{ keys: 'Backspace', does: 'Back to what was on air before' },
	{ keys: 'C', does: 'Call back the newest take, also half way' },
	{ keys: 'L', does: 'Lower third: show or hide' },
	{ keys: 'B', does: 'Black over everything, and back' },
	{ keys: 'D', does: 'Direct way of working on or off' },
	{ keys: 'M', does: 'Set a marker in the recording' },
	{ keys: 'H', does: 'Hush: all of the stream silent, and back' },
	{ keys: '?', does: 'This list' },
];

export interface KeyActions {
	scene(index: number, atOnce: boolean): void;
	take(): void;
	back(): void;
	direct(): void;
	hush(): void;
	marker(): void;
	lowerThird(): void;
	black(): void;
	callBack(): void;
	help(): void;
}

/** @returns a function that ends it */
export function listenToKeys(target: Window, actions: KeyActions): () => void {
	const digits = Object.fromEntries(
		Array.from({ length: 9 }, (_, i) => [
			[`Digit${i + 1}`, on(() => actions.scene(i, false), true)],
			[`Shift+Digit${i + 1}`, on(() => actions.scene(i, true), true)],
			[`Numpad${i + 1}`, on(() => actions.scene(i, false), true)],
		]).flat(),
	) as Record<string, (event: KeyboardEvent) => void>;
	return tinykeys(target, {
		...digits,
		Enter: on(actions.take),
		Backspace: on(actions.back, true),
		KeyD: on(actions.direct, true),
		KeyC: on(actions.callBack, true),
		KeyL: on(actions.lowerThird, true),
		KeyB: on(actions.black, true),
		KeyH: on(actions.hush, true),
		KeyM: on(actions.marker, true),
		'Shift+?': on(actions.help, true),
	});
}

/** The one key that acts wherever somebody mixes. @returns a function that ends it */
export function listenToHush(target: Window, hush: () => void): () => void {
	return tinykeys(target, { KeyH: on(hush, true) });
}

function on(act: () => void, alsoOnButtons = false): (event: KeyboardEvent) => void {
	return (event) => {
		if (event.repeat || isBusy(event.target, alsoOnButtons)) return;
		event.preventDefault();
		act();
	};
}

/** True when the key belongs to what has the focus: a field, an open dialog, or for Enter a button. */
function isBusy(target: EventTarget | null, alsoOnButtons: boolean): boolean {
	if (!(target instanceof Element)) return false;
	if (document.querySelector('dialog[open]')) return true;
	if (target.closest('input:not([type=range], [type=checkbox]), textarea, select, [contenteditable]')) return true;
	return !alsoOnButtons && target.closest('button, a, input') !== null;
}
