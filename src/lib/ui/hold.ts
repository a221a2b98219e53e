import type { Attachment } from 'svelte/attachments';

/**
 * Reports when a button is held and when it is let go, by pointer, Space or Enter; also when the page loses the focus.
 * @param report called with true, and with false when it ends
 */
export function hold(report: (held: boolean) => void): Attachment<HTMLElement> {
	return (node) => {
		let held = false;
		const become = (now: boolean) => {
			if (held === now) return;
			held = now;
			report(now);
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
		return () => {
			up();
			node.removeEventListener('pointerdown', down);
			node.removeEventListener('lostpointercapture', up);
			node.removeEventListener('keydown', keyDown);
			node.removeEventListener('keyup', keyUp);
			node.removeEventListener('blur', up);
			window.removeEventListener('pagehide', up);
		};
	};
}
