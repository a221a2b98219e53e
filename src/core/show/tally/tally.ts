/** What somebody behind a camera has to know: whether viewers see it. */
import { kindOf, type Source } from '../sources/source.ts';
import { isSourceShown, type Setup, type ShowState } from '../state.ts';

/** Cameras that somebody may stand behind: whoever sits in a seat has a page of their own. */
export function camerasOf({ sources }: Pick<Setup, 'sources'>): Source[] {
	return sources.filter((source) => {
		const { isLive, showsLips } = kindOf(source);
		return isLive && showsLips && source.kind !== 'seat';
	});
}

/** `program`: in the picture that is made, and seen by viewers while on air. */
export type Tally = 'program' | 'next' | 'free';

/**
 * A framing of a camera is that camera. While one scene goes over into another both are seen, and so is what the hand lever
 * brings in.
 * @param now milliseconds since 1970, by the server's clock
 */
export function tallyOf(state: ShowState, sourceId: string, now: number): Tally {
	const { live } = state;
	if (!live.black) {
		const isLeaving = live.take.from !== null && now < live.take.at + lastsMs(live.take);
		if (isSourceShown(state, sourceId)) return 'program';
		if ((isLeaving && isIn(state, live.take.from, sourceId)) || (live.lever > 0 && isIn(state, live.next, sourceId)))
			return 'program';
	}
	return isIn(state, live.next, sourceId) ? 'next' : 'free';
}

/** When the tally may change by itself, because a transition is over; null when it will not. */
export function tallyChangesAt({ live }: ShowState, now: number): number | null {
	const over = live.take.at + lastsMs(live.take);
	return live.take.from !== null && over > now ? over : null;
}

function lastsMs({ transition }: ShowState['live']['take']): number {
	return transition.kind === 'cut' ? 0 : transition.durationMs;
}

/** True when a scene shows a source in one of its layers, or behind them. */
function isIn({ setup, live }: ShowState, sceneId: string | null, sourceId: string): boolean {
	const scene = live.drafts.find(({ id }) => id === sceneId) ?? setup.scenes.find(({ id }) => id === sceneId);
	if (!scene) return false;
	const behind = scene.background.is === 'own' ? scene.background.sourceId : setup.background;
	return behind === sourceId || scene.layers.some((layer) => layer.sourceId === sourceId && !layer.hidden);
}
