/** How far each overlay has come in, frame by frame: in when it is shown, out when it is hidden or its time is up. */
import type { ShownOverlay } from '../../core/picture/draw-list.ts';
import type { Overlay, Showing } from '../../core/show/overlays/overlay.ts';
import { curved } from '../../core/picture/transition.ts';

/** Length of a move in or out. */
const MOVE_MS = 300;

interface Moving {
	overlay: Overlay;
	/** A new showing begins anew. */
	showing: Showing;
	/** First frame of the move in. */
	from: number;
	/** First frame of the move out, or null while it stays. */
	until: number | null;
}

export class OverlayMoves {
	#moving = new Map<string, Moving>();
	#begun = false;
	#frameMs: number;

	/** @param fps frames per second */
	constructor(fps: number) {
		this.#frameMs = 1000 / fps;
	}

	/**
	 * @param overlays from back to front
	 * @param shown those that are shown, by id
	 * @param nextFrame number of the frame that will be made next
	 * @param now milliseconds since 1970, for overlays that were shown before this engine began
	 */
	follow(overlays: readonly Overlay[], shown: Readonly<Record<string, Showing>>, nextFrame: number, now: number): void {
		const before = this.#moving;
		this.#moving = new Map();
		for (const overlay of overlays) {
			const known = before.get(overlay.id);
			const showing = shown[overlay.id];
			if (!showing) {
				// Hidden by hand, perhaps before its time was up.
				if (known)
					this.#moving.set(overlay.id, { ...known, overlay, until: Math.min(known.until ?? nextFrame, nextFrame) });
				continue;
			}
			// Words come in anew with each first line after a pause.
			const isBack = overlay.kind === 'words' && known?.until != null;
			const isSame = !isBack && known?.showing.count === showing.count && known.showing.at === showing.at;
			// What an earlier engine showed does not move in a second time.
			const age = this.#begun ? 0 : Math.round(Math.max(MOVE_MS, now - showing.at) / this.#frameMs);
			const from = isSame ? known.from : nextFrame - age;
			const until = overlay.showMs > 0 ? from + Math.round(overlay.showMs / this.#frameMs) : null;
			this.#moving.set(overlay.id, { overlay, showing, from, until });
		}
		this.#begun = true;
	}

	/** The overlays to be seen in a frame, in their order. */
	shown(frame: number): ShownOverlay[] {
		const length = MOVE_MS / this.#frameMs;
		return [...this.#moving.values()].flatMap(({ overlay, from, until }) => {
			const come = (frame - from + 1) / length;
			const gone = until === null ? 0 : (frame - until + 1) / length;
			const move = Math.min(1, come) - Math.max(0, gone);
			const still = overlay.move === 'none' ? Number(until === null || frame < until) : move;
			return still > 0 ? [{ overlay, presence: curved(still, 'eased'), age: frame - from }] : [];
		});
	}
}
