import type { Action } from 'svelte/action';

/** Tells when a button is held and when it is let go, by pointer, Space or Enter; also when the page loses the focus. */
export const hold: Action<HTMLButtonElement, (held: boolean) => void> = (node, tell) => {
	let held = false;
	const become = (now: boolean) => {
		if (held === now) return;
		held = now;
		tell(now);
	};
	const isKey = ({ key }: KeyboardEvent) => key === ' ' || key === 'Enter';
	const down = (event: PointerEvent) => {
		if (event.button !== 0) return;
		node.setPointerCapture(event.pointerId);
		become(true);
	};
	const up = () => become(false);
	const keyDown = (event: KeyboardEvent) => {
		if (!isKey(event)) return;
		event.preventDefault();
		event.stopPropagation();
		become(true);
	};
	const keyUp = (event: KeyboardEvent) => isKey(event) && up();
	node.addEventListener('pointerdown', down);
	node.addEventListener('lostpointercapture', up);
	node.addEventListener('keydown', keyDown);
	node.addEventListener('keyup', keyUp);
	node.addEventListener('blur', up);
	window.addEventListener('pagehide', up);
	return {
		update: (next) => void (tell = next),
		destroy() {
			up();
			window.removeEventListener('pagehide', up);
		},
	};
};
