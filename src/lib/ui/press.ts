import type { Attachment } from 'svelte/attachments';

/**
 * Acts on press, not on release: half a blink sooner, and a hand that slips off the button has still pressed it.
 * By keyboard the button works as buttons do. The pointer leaves the focus where it was, so that Enter stays "take".
 */
export function press(act: (event: Event) => void): Attachment<HTMLElement> {
	return (node) => {
		const down = (event: PointerEvent) => {
			if (event.button !== 0 || (node instanceof HTMLButtonElement && node.disabled)) return;
			event.preventDefault();
			act(event);
		};
		const keepFocus = (event: MouseEvent) => event.preventDefault();
		// A click without a pointer press before it comes from the keyboard or a screen reader.
		const click = (event: MouseEvent) => void (event.detail === 0 && act(event));
		node.addEventListener('pointerdown', down);
		node.addEventListener('mousedown', keepFocus);
		node.addEventListener('click', click);
		return () => {
			node.removeEventListener('pointerdown', down);
			node.removeEventListener('mousedown', keepFocus);
			node.removeEventListener('click', click);
		};
	};
}
