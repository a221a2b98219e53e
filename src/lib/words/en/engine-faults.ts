/** The sentences for what is wrong with the engine. */
import type { Trouble, TroubleCode, Troubles } from '../../../engine/trouble.ts';

/** What was given up for the viewers' sake, by how far that went. */
const GIVEN_UP = [
	'some of the desk’s pictures are refreshed less often',
	'the desk’s pictures are refreshed less often, and what is recorded apart has fewer',
	'viewers get every other picture, and the desk fewer',
];

const SENTENCES: { [C in TroubleCode]: (about: Troubles[C]) => string } = {
	partStopped: ({ problem }) => `A part of the engine stopped (${problem}). Reload the desk.`,
	failed: ({ problem }) => problem,
	pictureEncoding: ({ problem }) => `The picture cannot be encoded (${problem}). Reload the desk.`,
	soundEncoding: ({ problem }) => `The sound cannot be encoded (${problem}). Reload the desk.`,
	noCanvas: () => 'This browser gives no canvas to draw on.',
	headphonesGone: () => 'These headphones are not connected. Plug them in, or choose others.',
	headphones: ({ problem }) => `These headphones cannot be used (${problem}).`,
	delayNotMeasured: ({ problem }) => `The delay could not be measured (${problem}).`,
	notIsolated: () =>
		'This page is not isolated, so the engine has no shared memory. Open Bivvo at the address it printed.',
	noEncoder: () => 'This browser cannot encode the program. Use a current Chromium, Chrome or Edge.',
	serverLost: ({ problem }) =>
		`The desk has lost the server${problem ? ` (${problem})` : ''}. It tries again by itself.`,
	busy: ({ relief, load }) => {
		const busy =
			load > 0.5 ? `is busy (${Math.min(100, Math.round(100 * load))} % of the time for each picture)` : 'was too busy';
		const advice = relief < 3 ? 'Viewers come first.' : 'Close other programs, or choose a smaller picture next time.';
		return `This machine ${busy}, so ${GIVEN_UP[relief - 1]}. ${advice}`;
	},
	closed: () => 'The desk was stopped meanwhile. Try again.',
	channelSilent: () => 'One of these channels has no sound now.',
};

export function troubleWords({ code, about }: Trouble): string {
	return (SENTENCES[code] as (about: unknown) => string)(about);
}
