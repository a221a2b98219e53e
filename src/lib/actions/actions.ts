/**
 * What has a key or a button on the pages of an event: in which words, by which keys, and which action of the show it is. What
 * that does, when it can be done and when it is lit, the core's registry says (core/show/actions/actions.ts), to panels, macros
 * and other programs as well.
 */
import { commandOf, lowerThirdOf, standOf, type ButtonState } from '../../core/show/actions/actions.ts';
import type { Order } from '../../core/show/actions/order.ts';
import { nextCue } from '../../core/show/runsheet/order.ts';
import type { ShowState } from '../../core/show/state.ts';
import { comingStep } from '../../core/show/words/standing.ts';
import { newId } from '../show/new-id.ts';
import type { ShowSession } from '../show/show-session.svelte.ts';
import { actions as words, runsheet as sheetWords } from '../words/index.ts';

export interface ActionContext {
	session: ShowSession;
	show: ShowState;
	/** How long the press has waited for the page, milliseconds. */
	waitedMs: number;
	/** Opens the list of keys. */
	openHelp(): void;
}

export interface Action {
	id: string;
	/** What it does, in the list of keys and as the hint of its button. */
	words: string;
	/** Words on its button, as things stand. */
	label?(show: ShowState): string;
	/** Keys by default, as `KeyboardEvent.code` names them, with modifiers before them. */
	keys: readonly string[];
	run(context: ActionContext): void;
	/** False while it would do nothing. */
	isPossible?(show: ShowState): boolean;
	/** True while what it switches is on. */
	isLit?(show: ShowState): boolean;
	/** True where the key acts also while a button has the focus, which has a use of its own for Enter. */
	alsoOnButtons?: boolean;
}

/** An action of the show with a key. */
interface Keyed extends Pick<Action, 'id' | 'words' | 'label' | 'keys' | 'alsoOnButtons'> {
	/** Null where what it is about is not there. */
	order: Order | ((show: ShowState) => Order | null);
	/** Said when there is nothing to do, and after it was done. */
	nothing?: string;
	done?: string;
	/** States in which its button is lit. */
	lit?: readonly ButtonState[];
	/** True where its button cannot be pressed while there is nothing to do. */
	waits?: boolean;
}

const SWITCHED: readonly ButtonState[] = ['on', 'muted'];

function keyed({ order, nothing, done, lit, waits, ...rest }: Keyed): Action {
	const orderOf = (show: ShowState) => (typeof order === 'function' ? order(show) : order);
	const stands = (show: ShowState) => {
		const asked = orderOf(show);
		return asked ? standOf(show, asked, Date.now()) : 'gone';
	};
	return {
		...rest,
		run({ session, show, waitedMs }) {
			const asked = orderOf(show);
			const press = { at: session.show.now - waitedMs, from: words.desk, newId: newId() };
			const command = asked && commandOf(show, asked, press);
			if (command ? session.do(command) && done : nothing) session.notify((command ? done : nothing)!);
		},
		...(waits && { isPossible: (show) => !['idle', 'gone'].includes(stands(show)) }),
		...(lit && { isLit: (show) => lit.includes(stands(show)) }),
	};
}

const sceneNumbers = Array.from({ length: 9 }, (_, i) => i + 1);
const sceneAt = (show: ShowState, number: number, action: Order['action']): Order | null => {
	const scene = show.setup.scenes[number - 1];
	return scene ? { action, of: scene.id } : null;
};
const nextScene = ({ setup, live }: ShowState) => setup.scenes.find(({ id }) => id === live.next);

const ALL: Action[] = [
	keyed({
		id: 'go',
		order: { action: 'go' },
		words: sheetWords.goWords,
		label: (show) => sheetWords.goTo(nextCue(show)?.name ?? sheetWords.sheetOver),
		keys: ['Space'],
		waits: true,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'go-back',
		order: { action: 'go-back' },
		words: sheetWords.goBackWords,
		label: () => sheetWords.goBack,
		keys: ['Shift+Space'],
		waits: true,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'hold-cue',
		order: { action: 'hold-cue' },
		words: sheetWords.holdWords,
		label: ({ live }) => (live.progress.held ? sheetWords.held : sheetWords.hold),
		keys: ['KeyF'],
		waits: true,
		lit: SWITCHED,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'take',
		order: { action: 'take' },
		words: words.takeNext,
		label(show) {
			const next = nextScene(show);
			return next ? words.takeScene(next.name) : words.take;
		},
		keys: ['Enter'],
		waits: true,
	}),
	keyed({
		id: 'previous-scene',
		order: { action: 'previous-scene' },
		words: words.previousSceneWords,
		label: () => words.previousScene,
		keys: ['Backspace'],
		waits: true,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'call-back',
		order: { action: 'call-back' },
		words: words.reverseTakeWords,
		label: () => words.reverseTake,
		keys: ['KeyC'],
		waits: true,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'lower-third',
		order(show) {
			const overlay = lowerThirdOf(show);
			return overlay ? { action: 'overlay', of: overlay.id } : null;
		},
		words: words.lowerThird,
		nothing: words.noLowerThird,
		keys: ['KeyL'],
		lit: SWITCHED,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'words',
		order: { action: 'words' },
		words: words.wordsWords,
		nothing: words.noWords,
		keys: ['KeyW'],
		lit: SWITCHED,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'next-line',
		order: { action: 'next-line' },
		words: words.nextLineWords,
		label: (show) => words.nextLine(comingStep(show)?.step.rows[0]?.text ?? null),
		// What pedals and presenters send.
		keys: ['PageDown'],
		waits: true,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'previous-line',
		order: { action: 'previous-line' },
		words: words.previousLineWords,
		label: () => words.previousLine,
		keys: ['PageUp'],
		waits: true,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'black',
		order: { action: 'black' },
		words: words.blackWords,
		label: ({ live }) => (live.black ? words.endBlack : words.black),
		keys: ['KeyB'],
		lit: SWITCHED,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'direct',
		order: { action: 'direct' },
		words: words.directWords,
		label: () => words.direct,
		keys: ['KeyD'],
		lit: SWITCHED,
		alsoOnButtons: true,
	}),
	keyed({
		id: 'marker',
		order(show) {
			const scene = show.setup.scenes.find(({ id }) => id === show.live.program);
			return { action: 'marker', text: words.markerAt(scene?.name ?? words.blackPicture) };
		},
		words: words.setMarker,
		done: words.markerSet,
		nothing: words.markerOffAir,
		keys: ['KeyM'],
		alsoOnButtons: true,
	}),
	keyed({
		id: 'hush',
		order: { action: 'hush' },
		words: words.hushWords,
		label: ({ live }) => (live.hushed ? words.hushed : words.hush),
		keys: ['KeyH'],
		lit: SWITCHED,
		alsoOnButtons: true,
	}),
	{
		id: 'keys',
		words: words.listOfKeys,
		keys: ['Shift+?'],
		run: ({ openHelp }) => openHelp(),
		alsoOnButtons: true,
	},
	...sceneNumbers.map((number) =>
		keyed({
			id: `scene-${number}`,
			order: (show) => sceneAt(show, number, 'choose-scene'),
			words: words.putInNext(number),
			keys: [`Digit${number}`, `Numpad${number}`],
			lit: ['next'],
			alsoOnButtons: true,
		}),
	),
	...sceneNumbers.map((number) =>
		keyed({
			id: `take-scene-${number}`,
			order: (show) => sceneAt(show, number, 'take-scene'),
			words: words.takeAtOnce(number),
			keys: [`Shift+Digit${number}`],
			lit: ['program'],
			alsoOnButtons: true,
		}),
	),
];

export const ACTIONS: ReadonlyMap<string, Action> = new Map(ALL.map((action) => [action.id, action]));

/** Any other action of the show, for a key that somebody has given it. @param label what it does */
export function actionOf(order: Order, label: string): Action {
	return keyed({ id: `own ${JSON.stringify(order)}`, order, words: label, keys: [], alsoOnButtons: true });
}
