/** Words for viewers, on and off: overlays show them. */
import { batchOf, type PageCommand } from '../command.ts';
import type { ShowState } from '../state.ts';

/** Shows or hides words for viewers; null where no overlay shows words. */
export function wordsShownCommand({ setup, live }: ShowState, isShown: boolean): PageCommand | null {
	const overlays = setup.overlays.filter(({ kind }) => kind === 'words');
	if (overlays.length === 0) return null;
	// Of several, the one that was made first is shown; all are hidden.
	const changed = isShown ? overlays.slice(0, 1) : overlays.filter(({ id }) => live.shown[id]);
	return batchOf(changed.map(({ id: overlayId }) => ({ type: isShown ? 'showOverlay' : 'hideOverlay', overlayId })));
}
