/** What is given up so that a machine sends an event without gaps: what viewers never see first. */
import type { Deliverable } from '../show/delivery/delivery.ts';
import { planTracks } from '../show/delivery/tracks.ts';
import { PICTURES } from '../show/event/picture.ts';
import type { Picture, Setup } from '../show/state.ts';
import type { Judgement } from './machine.ts';

/** What is left of it. */
export interface Lighter {
	picture: Picture;
	/** Sources that are recorded apart. */
	sourceIds: readonly string[];
}

type Weighed = Deliverable & { setup: Setup };

/** The same show, made lighter. */
export function withLighter<S extends Weighed>(show: S, { picture, sourceIds }: Lighter): S {
	const { delivery } = show.setup;
	const apart = { ...delivery.apart, sourceIds: [...sourceIds] };
	return { ...show, setup: { ...show.setup, picture, delivery: { ...delivery, apart } } };
}

/**
 * The least that has to go: sources that are recorded apart, the last of them first, then every other picture a
 * second, then lines. What leaves room to spare is better than what just fits.
 * @param judge what the machine makes of a show; null where nobody knows
 * @returns null where nothing has to go, or nothing helps
 */
export function lighterShow<S extends Weighed>(show: S, judge: (show: S) => Judgement | null): Lighter | null {
	if (judge(show)?.verdict !== 'drops') return null;
	const { picture: now } = show.setup;
	// Half as often goes with the same lamps and cameras; 25 a second instead of 30 would make them flicker.
	const slower = PICTURES.filter(({ fps }) => fps === now.fps || fps === now.fps / 2);
	const less = slower
		.filter(({ height, fps }) => height <= now.height && (height < now.height || fps < now.fps))
		.toSorted((a, b) => b.height - a.height || b.fps - a.fps);
	// Only those that are there: what was removed since costs nothing.
	const sourceIds = planTracks(show.setup).flatMap(({ kind, id }) => (kind === 'source' ? id : []));
	const counts = sourceIds.map((_, i) => i).toReversed();
	const all = [now, ...less].flatMap((picture) =>
		(picture === now ? counts : [sourceIds.length, ...counts]).map((count): Lighter => ({
			picture,
			sourceIds: sourceIds.slice(0, count),
		})),
	);
	const makes = (verdict: Judgement['verdict']) =>
		all.find((lighter) => judge(withLighter(show, lighter))?.verdict === verdict);
	return makes('ample') ?? makes('tight') ?? null;
}
