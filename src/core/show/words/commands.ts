/** Commands about words: the songs of an evening, how they look, and the press that brings the next line. */
import { refuse } from '../../refusal.ts';
import { countSchema, idSchema, placeSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import type { SingleCommand } from '../command.ts';
import { commands, withLive, withSetup, type Change, type Handlers } from '../slice.ts';
import type { ShowState } from '../state.ts';
import { cutOf, sameStep, standing } from './standing.ts';
import {
	hallSchema,
	MOST_WORDS,
	wordsItemSchema,
	wordsLookSchema,
	wordsPlaceSchema,
	type WordsItem,
	type WordsPlace,
} from './words.ts';

export const wordsCommands = commands({
	addWords: { item: wordsItemSchema, at: placeSchema },
	changeWords: { item: wordsItemSchema },
	removeWords: { itemId: idSchema },
	moveWords: { itemId: idSchema, at: countSchema },
	setWordsLook: { look: wordsLookSchema },

	/** Brings the next line; after the last one nothing stands, and then the first of what comes next. */
	nextLine: {},
	/** Back to the line before. */
	previousLine: {},
	/** A line of a song or text; −1 waits before its first one. */
	showWords: { itemId: idSchema, step: wordsPlaceSchema.entries.step },
	/** Chooses what the hall's screen shows. */
	setHall: { hall: hallSchema },
	/** Nothing was chosen. */
	clearWords: {},
});

const items = collection<WordsItem>({
	what: 'song',
	most: MOST_WORDS,
	list: ({ setup }) => setup.words.items,
	put: (state, list) => withSetup(state, { words: { ...state.setup.words, items: list } }),
	adding: (item, at) => [{ type: 'addWords', item, at }],
	changing: (item) => [{ type: 'changeWords', item }],
	removing: ({ id: itemId }) => [{ type: 'removeWords', itemId }],
	moving: (itemId, at) => ({ type: 'moveWords', itemId, at }),
});

export const wordsHandlers: Handlers<typeof wordsCommands> = {
	addWords: (state, { item, at }) => items.add(state, item, at),
	changeWords(state, { item }) {
		const before = standing(state);
		const changed = items.change(state, item.id, () => item);
		if (before?.item.id !== item.id) return changed;
		// A typo that is corrected leaves the line where it is; a line that is gone ends the song.
		const step = Math.min(before.step, cutOf(item, state.setup.words.look).steps.length);
		return movedTo(changed, state, step);
	},
	removeWords(state, { itemId }) {
		const { words } = state.live;
		const removed = items.remove(state, itemId);
		if (words.itemId !== itemId) return removed;
		return {
			state: withPlace(removed.state, { itemId: null, step: -1 }),
			inverse: [...removed.inverse, { type: 'showWords', itemId, step: words.step }],
		};
	},
	moveWords: (state, { itemId, at }) => items.move(state, itemId, at),
	setWordsLook(state, { look }) {
		const { words } = state.setup;
		const changed: Change = {
			state: withSetup(state, { words: { ...words, look } }),
			inverse: [{ type: 'setWordsLook', look: words.look }],
		};
		const now = standing(state);
		return now ? movedTo(changed, state, sameStep(now.cut, now.step, cutOf(now.item, look))) : changed;
	},

	nextLine(state) {
		const now = standing(state);
		if (now && now.step < now.cut.steps.length) return placed(state, { step: now.step + 1 });
		const list = state.setup.words.items;
		const coming = list[now ? list.indexOf(now.item) + 1 : 0];
		if (!coming) throw refuse('wordsOver', {});
		return placed(state, { itemId: coming.id, step: 0 });
	},
	previousLine(state) {
		const now = standing(state);
		if (!now || now.step < 0) throw refuse('wordsAtStart', {});
		return placed(state, { step: now.step - 1 });
	},
	showWords(state, { itemId, step }) {
		const { steps } = cutOf(items.get(state, itemId), state.setup.words.look);
		return placed(state, { itemId, step: Math.min(step, steps.length) });
	},
	setHall(state, { hall }) {
		const { behind } = hall;
		const { scenes } = state.setup;
		if (behind.is === 'scene' && !scenes.some(({ id }) => id === behind.sceneId))
			throw refuse('gone', { what: 'scene' });
		return { state: withLive(state, { hall }), inverse: [{ type: 'setHall', hall: state.live.hall }] };
	},
	clearWords: (state) => placed(state, { itemId: null, step: -1 }),
};

function withPlace(state: ShowState, place: Partial<WordsPlace>): ShowState {
	return withLive(state, { words: { ...state.live.words, ...place } });
}

/** A change after which another step stands, so that the same words do. */
function movedTo(change: Change, before: ShowState, step: number): Change {
	const { itemId, step: old } = before.live.words;
	if (step === old || itemId === null) return change;
	const back: SingleCommand = { type: 'showWords', itemId, step: old };
	return { state: withPlace(change.state, { step }), inverse: [...change.inverse, back] };
}

function placed(state: ShowState, place: Pick<Partial<WordsPlace>, 'itemId'> & { step: number }): Change {
	const { itemId, step } = state.live.words;
	const back: SingleCommand = itemId === null ? { type: 'clearWords' } : { type: 'showWords', itemId, step };
	return { state: withPlace(state, place), inverse: [back] };
}
