/**
 * Everything a press can do on the desk: in which words, by which keys, what it runs, and when it is lit. Keys, their
 * list and the desk's buttons read it; nothing of this is said twice.
 */
import { isShown } from '../../core/show/overlays/overlay.ts';
import type { ShowState } from '../../core/show/state.ts';
import type { ShowSession } from '../show/show-session.svelte.ts';

export interface ActionContext {
	session: ShowSession;
	show: ShowState;
	/** Opens the list of keys. */
	openHelp(): void;
}

export interface Action {
	id: string;
	words: string;
	/** Keys by default, as `KeyboardEvent.code` names them, with modifiers before them. */
	keys: readonly string[];
	run(context: ActionContext): void;
	/** True while what it switches is on. */
	isLit?(show: ShowState): boolean;
	/** True where the key acts also while a button has the focus, which has a use of its own for Enter. */
	alsoOnButtons?: boolean;
}

const sceneNumbers = Array.from({ length: 9 }, (_, i) => i + 1);
const sceneAt = (show: ShowState, number: number) => show.setup.scenes[number - 1];

const ALL: Action[] = [
	{
		id: 'take',
		words: 'Take what is in Next',
		keys: ['Enter'],
		run: ({ session }) => void session.do({ type: 'take' }),
	},
	{
		id: 'previous-scene',
		words: 'Previous scene',
		keys: ['Backspace'],
		run: ({ session }) => void session.do({ type: 'takeBack' }),
		alsoOnButtons: true,
	},
	{
		id: 'call-back',
		words: 'Call back the newest take, also half way',
		keys: ['KeyC'],
		run: ({ session }) => void session.do({ type: 'callBack' }),
		alsoOnButtons: true,
	},
	{
		id: 'lower-third',
		words: 'Lower third: show or hide',
		keys: ['KeyL'],
		run({ session, show }) {
			const overlay = lowerThirdOf(show);
			if (!overlay) return session.notify('There is no lower third yet. Make one under Names and overlays.');
			const isOn = isShown(overlay, show.live.shown[overlay.id], Date.now() + session.show.clockOffsetMs);
			session.do({ type: isOn ? 'hideOverlay' : 'showOverlay', overlayId: overlay.id });
		},
		isLit: (show) => lowerThirdOf(show) !== undefined && show.live.shown[lowerThirdOf(show)!.id] !== undefined,
		alsoOnButtons: true,
	},
	{
		id: 'black',
		words: 'Black over everything, and back',
		keys: ['KeyB'],
		run: ({ session, show }) => void session.do({ type: 'setBlack', black: !show.live.black }),
		isLit: (show) => show.live.black,
		alsoOnButtons: true,
	},
	{
		id: 'direct',
		words: 'Direct way of working on or off',
		keys: ['KeyD'],
		run: ({ session, show }) => void session.do({ type: 'setDirect', direct: !show.setup.direct }),
		isLit: (show) => show.setup.direct,
		alsoOnButtons: true,
	},
	{
		id: 'marker',
		words: 'Set a marker in the recording',
		keys: ['KeyM'],
		run({ session, show }) {
			const scene = show.setup.scenes.find(({ id }) => id === show.live.program);
			const text = `Marker at ${scene?.name ?? 'black'}`;
			if (session.do({ type: 'addMarker', text })) session.notify('A marker was set in the recording.');
		},
		alsoOnButtons: true,
	},
	{
		id: 'hush',
		words: 'Hush: all of the stream silent, and back',
		keys: ['KeyH'],
		run: ({ session, show }) => void session.do({ type: 'setHush', hushed: !show.live.hushed }),
		isLit: (show) => show.live.hushed,
		alsoOnButtons: true,
	},
	{
		id: 'keys',
		words: 'This list of keys',
		keys: ['Shift+?'],
		run: ({ openHelp }) => openHelp(),
		alsoOnButtons: true,
	},
	...sceneNumbers.map((number): Action => ({
		id: `scene-${number}`,
		words: `Put scene ${number} in Next`,
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
		words: `Take scene ${number} at once`,
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

function lowerThirdOf({ setup }: ShowState) {
	return setup.overlays.find(({ kind }) => kind === 'lowerThird');
}
