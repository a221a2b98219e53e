/** The panel that an event makes of itself: what was set up is on a button, without anybody putting it there. */
import { EVERYTHING_OFF } from '../macros/macro.ts';
import { isClip } from '../clips/source.ts';
import { isDoable } from '../runsheet/order.ts';
import type { Order } from '../actions/order.ts';
import type { Setup } from '../state.ts';
import { MOST_BUTTONS, plainButton, type Panel, type PanelButton } from './panel.ts';

export const OWN_PANEL = 'event';

/** Names of its pages. */
export interface OwnPanelNames {
	panel: string;
	scenes: string;
	overlays: string;
	cues: string;
	words: string;
	sound: string;
	clips: string;
	macros: string;
}

const idOf = ({ action, of, to }: Order) => [action, of, to].filter(Boolean).join('-').slice(0, 64);
const button = (press: Order, part: Partial<PanelButton> = {}) => plainButton(idOf(press), press, part);

/** @param names as pages are called where it is shown */
export function ownPanel(setup: Setup, names: OwnPanelNames): Panel {
	const pages: [string, PanelButton[]][] = [
		[
			names.scenes,
			[
				...setup.scenes.map(({ id }) => button({ action: 'choose-scene', of: id }, { picture: true })),
				button({ action: 'take' }, { width: 2, icon: 'next' }),
				button({ action: 'previous-scene' }, { icon: 'back' }),
				button({ action: 'black' }),
			],
		],
		[
			names.cues,
			setup.cues.some(isDoable)
				? [
						button({ action: 'go' }, { width: 3, height: 2, icon: 'next' }),
						button({ action: 'go-back' }, { icon: 'back' }),
						button({ action: 'hold-cue' }),
						...setup.cues.filter(isDoable).map(({ id }) => button({ action: 'choose-cue', of: id })),
					]
				: [],
		],
		[
			names.overlays,
			[
				...setup.people.map(({ id }) => button({ action: 'name', of: id }, { icon: 'name' })),
				...setup.overlays
					.filter(({ kind }) => kind !== 'words')
					.map(({ id }) => button({ action: 'overlay', of: id }, { icon: 'card' })),
			],
		],
		[
			names.words,
			setup.words.items.length === 0
				? []
				: [
						button({ action: 'next-line' }, { width: 3, height: 2, icon: 'next' }),
						button({ action: 'previous-line' }, { icon: 'back' }),
						button({ action: 'words' }, { icon: 'words' }),
						button({ action: 'hall-words' }, { icon: 'words' }),
						...setup.words.items.map(({ id }) => button({ action: 'song', of: id }, { icon: 'words' })),
					],
		],
		[
			names.sound,
			[
				button({ action: 'hush' }, { width: 3, icon: 'hush' }),
				...setup.channels.map(({ id, follow }) =>
					follow === 'press'
						? button({ action: 'speak', of: id }, { icon: 'microphone' })
						: button({ action: 'mute', of: id }, { icon: 'microphone' }),
				),
				...setup.mix.snapshots.map(({ id }) => button({ action: 'snapshot', of: id }, { icon: 'music' })),
			],
		],
		[
			names.clips,
			setup.sources
				.filter(isClip)
				.flatMap(({ id }) => [
					button({ action: 'clip', of: id }, { width: 2, icon: 'play' }),
					button({ action: 'rewind-clip', of: id }, { icon: 'back' }),
				]),
		],
		[
			names.macros,
			[
				button({ action: 'macro', of: EVERYTHING_OFF }, { width: 3, icon: 'warning' }),
				...setup.macros.map(({ id }) => button({ action: 'macro', of: id })),
			],
		],
	];
	return {
		id: OWN_PANEL,
		name: names.panel,
		columns: 3,
		vibrates: true,
		pages: pages
			.filter(([, buttons]) => buttons.length > 0)
			.map(([name, buttons]) => ({ name, buttons: buttons.slice(0, MOST_BUTTONS) })),
	};
}
