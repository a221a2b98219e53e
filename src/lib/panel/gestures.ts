/** What a finger does on a button: a press, a hold, two presses, and letting go. */
import type { Attachment } from 'svelte/attachments';

export interface Gestures {
	press?: () => void;
	hold?: () => void;
	double?: () => void;
	/** The finger, or key, is up again after a press that was reported. */
	release?: () => void;
}

const HOLD_MS = 500;
/** A finger on what scrolls may be about to scroll: for so long a press waits there. */
const SETTLES_MS = 120;
/** A second press within this time makes both one double press. */
const DOUBLE_MS = 280;
/** A finger that moves farther than this scrolls, CSS pixels. */
const SCROLLS_PX = 14;

/**
 * Tells gestures apart. A press is reported at once where nothing else can come of it; otherwise when it is clear that no hold
 * and no second press comes.
 * @param read what is wanted now
 */
export function gestures(read: () => Gestures): Attachment<HTMLElement> {
	return (node) => {
		let holding: ReturnType<typeof setTimeout> | undefined;
		let waiting: ReturnType<typeof setTimeout> | undefined;
		let settling: ReturnType<typeof setTimeout> | undefined;
		let isDown = false;
		let isDone = false;
		let hasPressed = false;
		let from = { x: 0, y: 0 };

		const press = () => {
			hasPressed = isDown;
			read().press?.();
			if (!isDown) read().release?.();
		};
		const down = (mayScroll: boolean) => {
			const wanted = read();
			isDown = true;
			isDone = hasPressed = false;
			if (waiting !== undefined) {
				clearTimeout(waiting);
				waiting = undefined;
				isDone = true;
				return wanted.double?.();
			}
			if (wanted.hold)
				holding = setTimeout(() => {
					isDone = true;
					read().hold?.();
				}, HOLD_MS);
			if (wanted.hold || wanted.double) return;
			if (mayScroll) settling = setTimeout(press, SETTLES_MS);
			else press();
		};
		const up = (isMeant: boolean) => {
			if (!isDown) return;
			isDown = false;
			clearTimeout(holding);
			clearTimeout(settling);
			const wanted = read();
			if (hasPressed) wanted.release?.();
			else if (isMeant && !isDone) {
				if (wanted.double)
					waiting = setTimeout(() => {
						waiting = undefined;
						press();
					}, DOUBLE_MS);
				else press();
			}
		};

		const pointerDown = (event: PointerEvent) => {
			if (event.button !== 0) return;
			from = { x: event.clientX, y: event.clientY };
			down(event.pointerType === 'touch' && canScroll(node));
		};
		const pointerMove = ({ clientX, clientY }: PointerEvent) => {
			if (isDown && Math.hypot(clientX - from.x, clientY - from.y) > SCROLLS_PX) up(false);
		};
		const isKey = ({ key, repeat }: KeyboardEvent) => !repeat && (key === 'Enter' || key === ' ');
		const keyDown = (event: KeyboardEvent) => {
			if (event.key === 'Enter' || event.key === ' ') event.preventDefault();
			if (isKey(event)) down(false);
		};
		const keyUp = (event: KeyboardEvent) => {
			if (!isKey(event)) return;
			event.preventDefault();
			up(true);
		};
		// A click that neither a pointer nor a key has made comes from a screen reader.
		const click = (event: MouseEvent) => {
			if (event.detail !== 0 || isDown) return;
			read().press?.();
			read().release?.();
		};
		const meant = () => up(true);
		const notMeant = () => up(false);
		const menu = (event: Event) => event.preventDefault();
		const listeners = {
			pointerdown: pointerDown,
			pointermove: pointerMove,
			pointerup: meant,
			pointercancel: notMeant,
			pointerleave: notMeant,
			keydown: keyDown,
			keyup: keyUp,
			blur: notMeant,
			click,
			contextmenu: menu,
		};
		const each = Object.entries(listeners) as [string, EventListener][];
		for (const [type, listener] of each) node.addEventListener(type, listener);
		return () => {
			up(false);
			clearTimeout(waiting);
			for (const [type, listener] of each) node.removeEventListener(type, listener);
		};
	};
}

/** True within something that a finger would scroll. */
function canScroll(node: HTMLElement): boolean {
	for (let each = node.parentElement; each; each = each.parentElement)
		if (each.scrollHeight > each.clientHeight + 1 && /auto|scroll/.test(getComputedStyle(each).overflowY)) return true;
	return false;
}
