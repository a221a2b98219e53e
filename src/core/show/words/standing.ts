/** What of the words stands in the hall and on the stream, and what comes next. */
import { cutSong, type Cut, type HallSlide, type Step } from '../../words/cutting.ts';
import { wordsOf } from '../../words/wrapping.ts';
import { measureWords } from '../../words/measure.ts';
import type { ShowState } from '../state.ts';
import type { WordsItem, WordsLook } from './words.ts';

/** A cut takes some milliseconds, and songs and looks never change, they are replaced. */
const cuts = new WeakMap<WordsItem, { look: WordsLook; cut: Cut }>();

/** How an item is cut for this event. */
export function cutOf(item: WordsItem, look: WordsLook): Cut {
	const known = cuts.get(item);
	if (known?.look.hall.fit === look.hall.fit && known.look.stream.fit === look.stream.fit) return known.cut;
	const cut = cutSong(item.song, look.hall.fit, look.stream.fit, measureWords);
	cuts.set(item, { look, cut });
	return cut;
}

/**
 * The step of another cut of the same words that shows the word with which a step begins.
 * @param step −1 before the first, their number after the last
 */
export function sameStep(from: Cut, step: number, to: Cut): number {
	if (step < 0) return step;
	if (step >= from.steps.length) return to.steps.length;
	const counts = ({ steps }: Cut) =>
		steps.map(({ rows }) => rows.flatMap((row) => (row.language === 0 ? wordsOf(row.text) : [])).length);
	let before = counts(from)
		.slice(0, step)
		.reduce((sum, count) => sum + count, 0);
	const index = counts(to).findIndex((count) => (before -= count) < 0);
	return index < 0 ? to.steps.length : index;
}

export interface Standing {
	item: WordsItem;
	cut: Cut;
	/** −1 before the first step, their number after the last. */
	step: number;
}

/** What is sung or read now; null before anything was chosen. */
export function standing({ setup, live }: Pick<ShowState, 'setup' | 'live'>): Standing | null {
	const item = setup.words.items.find(({ id }) => id === live.words.itemId);
	if (!item) return null;
	const cut = cutOf(item, setup.words.look);
	return { item, cut, step: Math.min(live.words.step, cut.steps.length) };
}

/** What viewers read now, where an overlay of words is shown; null for nothing. */
export function onStream(state: Pick<ShowState, 'setup' | 'live'>): Step | null {
	const now = standing(state);
	return now?.cut.steps[now.step] ?? null;
}

/** What the hall reads now; null for nothing. */
export function inHall(state: Pick<ShowState, 'setup' | 'live'>): HallSlide | null {
	const now = standing(state);
	const step = now?.cut.steps[now.step];
	return state.live.hall.words && step ? now!.cut.slides[step.slide]! : null;
}

/** The step that the next press brings, with its item; null when the evening's words are over. */
export function comingStep(state: Pick<ShowState, 'setup' | 'live'>): { item: WordsItem; step: Step } | null {
	const now = standing(state);
	const { items, look } = state.setup.words;
	if (now && now.step + 1 < now.cut.steps.length) return { item: now.item, step: now.cut.steps[now.step + 1]! };
	if (now && now.step < now.cut.steps.length) return null;
	const item = items[now ? items.indexOf(now.item) + 1 : 0];
	const step = item && cutOf(item, look).steps[0];
	return step ? { item, step } : null;
}

/** True while viewers see words that stand: an overlay of them is shown. */
export function isWordsShown({ setup, live }: Pick<ShowState, 'setup' | 'live'>): boolean {
	return setup.overlays.some(({ id, kind }) => kind === 'words' && live.shown[id] !== undefined);
}
