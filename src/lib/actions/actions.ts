/**
 * Everything a press can do in an event: in which words, by which keys, what it runs, when it can be done and when it is
 * lit. Keys, their list and the buttons of the desk and the mix page read it; nothing of this is said twice.
 */
import { isShown } from '../../core/show/overlays/overlay.ts';
import { nextCue, previousCue, following } from '../../core/show/runsheet/order.ts';
import type { ShowState } from '../../core/show/state.ts';
import { wordsShownCommand } from '../../core/show/words/shown.ts';
import { comingStep, isWordsShown, onStream } from '../../core/show/words/standing.ts';
import type { Step } from '../../core/words/cutting.ts';
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

const sceneNumbers = Array.from({ length: 9 }, (_, i) => i + 1);
const sceneAt = (show: ShowState, number: number) => show.setup.scenes[number - 1];
const nextScene = ({ setup, live }: ShowState) => setup.scenes.find(({ id }) => id === live.next);

const ALL: Action[] = [
	{
		id: 'go',
		words: sheetWords.goWords,
		label: (show) => sheetWords.goTo(nextCue(show)?.name ?? sheetWords.sheetOver),
		keys: ['Space'],
		run({ session, show, waitedMs }) {
			const { count, since } = show.live.progress;
			const afterMs = Math.max(0, session.show.now - waitedMs - since);
			session.do({ type: 'go', count, afterMs });
		},
		isPossible: (show) => nextCue(show) !== null,
		alsoOnButtons: true,
	},
	{
		id: 'go-back',
		words: sheetWords.goBackWords,
		label: () => sheetWords.goBack,
		keys: ['Shift+Space'],
		run: ({ session }) => void session.do({ type: 'goBack' }),
		isPossible: (show) => previousCue(show) !== null,
		alsoOnButtons: true,
	},
	{
		id: 'hold-cue',
		words: sheetWords.holdWords,
		label: ({ live }) => (live.progress.held ? sheetWords.held : sheetWords.hold),
		keys: ['KeyF'],
		run: ({ session, show }) => void session.do({ type: 'holdCue', held: !show.live.progress.held }),
		isPossible: (show) => show.live.progress.held || following(show) !== null,
		isLit: ({ live }) => live.progress.held,
		alsoOnButtons: true,
	},
	{
		id: 'take',
		words: words.takeNext,
		label(show) {
			const next = nextScene(show);
			return next ? words.takeScene(next.name) : words.take;
		},
		keys: ['Enter'],
		run: ({ session }) => void session.do({ type: 'take' }),
		isPossible: (show) => nextScene(show) !== undefined,
	},
	{
		id: 'previous-scene',
		words: words.previousSceneWords,
		label: () => words.previousScene,
		keys: ['Backspace'],
		run: ({ session }) => void session.do({ type: 'takeBack' }),
		isPossible: ({ live }) => live.previous !== null,
		alsoOnButtons: true,
	},
	{
		id: 'call-back',
		words: words.reverseTakeWords,
		label: () => words.reverseTake,
		keys: ['KeyC'],
		run: ({ session }) => void session.do({ type: 'callBack' }),
		isPossible: ({ live }) => live.take.from !== null && !live.take.calledBack,
		alsoOnButtons: true,
	},
	{
		id: 'lower-third',
		words: words.lowerThird,
		keys: ['KeyL'],
		run({ session, show }) {
			const overlay = lowerThirdOf(show);
			if (!overlay) return session.notify(words.noLowerThird);
			const isOn = isShown(overlay, show.live.shown[overlay.id], Date.now() + session.show.clockOffsetMs);
			session.do({ type: isOn ? 'hideOverlay' : 'showOverlay', overlayId: overlay.id });
		},
		isLit: (show) => lowerThirdOf(show) !== undefined && show.live.shown[lowerThirdOf(show)!.id] !== undefined,
		alsoOnButtons: true,
	},
	{
		id: 'words',
		words: words.wordsWords,
		keys: ['KeyW'],
		run({ session, show }) {
			const command = wordsShownCommand(show, !isWordsShown(show));
			if (command) session.do(command);
			else session.notify(words.noWords);
		},
		isLit: isWordsShown,
		alsoOnButtons: true,
	},
	{
		id: 'next-line',
		words: words.nextLineWords,
		label: (show) => words.nextLine(firstRow(comingStep(show)?.step)),
		// What pedals and presenters send.
		keys: ['PageDown'],
		run: ({ session }) => void session.do({ type: 'nextLine' }),
		isPossible: (show) => comingStep(show) !== null || onStream(show) !== null,
		alsoOnButtons: true,
	},
	{
		id: 'previous-line',
		words: words.previousLineWords,
		label: () => words.previousLine,
		keys: ['PageUp'],
		run: ({ session }) => void session.do({ type: 'previousLine' }),
		isPossible: ({ live }) => live.words.itemId !== null && live.words.step >= 0,
		alsoOnButtons: true,
	},
	{
		id: 'black',
		words: words.blackWords,
		label: ({ live }) => (live.black ? words.endBlack : words.black),
		keys: ['KeyB'],
		run: ({ session, show }) => void session.do({ type: 'setBlack', black: !show.live.black }),
		isLit: (show) => show.live.black,
		alsoOnButtons: true,
	},
	{
		id: 'direct',
		words: words.directWords,
		label: () => words.direct,
		keys: ['KeyD'],
		run: ({ session, show }) => void session.do({ type: 'setDirect', direct: !show.setup.direct }),
		isLit: (show) => show.setup.direct,
		alsoOnButtons: true,
	},
	{
		id: 'marker',
		words: words.setMarker,
		keys: ['KeyM'],
		run({ session, show }) {
			const scene = show.setup.scenes.find(({ id }) => id === show.live.program);
			const text = words.markerAt(scene?.name ?? words.blackPicture);
			if (session.do({ type: 'addMarker', text })) session.notify(words.markerSet);
		},
		alsoOnButtons: true,
	},
	{
		id: 'hush',
		words: words.hushWords,
		label: ({ live }) => (live.hushed ? words.hushed : words.hush),
		keys: ['KeyH'],
		run: ({ session, show }) => void session.do({ type: 'setHush', hushed: !show.live.hushed }),
		isLit: (show) => show.live.hushed,
		alsoOnButtons: true,
	},
	{
		id: 'keys',
		words: words.listOfKeys,
		keys: ['Shift+?'],
		run: ({ openHelp }) => openHelp(),
		alsoOnButtons: true,
	},
	...sceneNumbers.map((number): Action => ({
		id: `scene-${number}`,
		words: words.putInNext(number),
		keys: [`Digit${number}`, `Numpad${number}`],
		run({ session, show }) {
			const scene = sceneAt(show, number);
			if (scene) session.choose(scene.id, false);
		},
		isLit: (show) => sceneAt(show, number) !== undefined && sceneAt(show, number)!.id === show.live.next,
		alsoOnButtons: true,
	})),
	...sceneNumbers.map((number): Action => ({
		id: `take-scene-${number}`,
		words: words.takeAtOnce(number),
		keys: [`Shift+Digit${number}`],
		run({ session, show }) {
			const scene = sceneAt(show, number);
			if (scene) session.choose(scene.id, true);
		},
		isLit: (show) => sceneAt(show, number) !== undefined && sceneAt(show, number)!.id === show.live.program,
		alsoOnButtons: true,
	})),
];

export const ACTIONS: ReadonlyMap<string, Action> = new Map(ALL.map((action) => [action.id, action]));

function firstRow(step: Step | undefined): string | null {
	return step?.rows[0]?.text ?? null;
}

function lowerThirdOf({ setup }: ShowState) {
	return setup.overlays.find(({ kind }) => kind === 'lowerThird');
}
