/** Where the guide says what a trouble is, and what to do. */
import type { What } from '../../core/show/troubles.ts';

const PLACES: { readonly [W in What<unknown, unknown>['is']]: string } = {
	unreachable: 'went-wrong#server',
	watching: 'went-wrong#picture',
	needsPress: 'went-wrong#picture',
	notStored: 'went-wrong#server',
	noProgram: 'went-wrong#picture',
	engine: 'went-wrong#picture',
	unreadable: 'went-wrong#server',
	serverBusy: 'went-wrong#server',
	recordingFailed: 'went-wrong#server',
	recordsElsewhere: 'went-wrong#server',
	tracksStopped: 'went-wrong#server',
	littleRoom: 'went-wrong#server',
	holding: 'went-wrong#picture',
	black: 'went-wrong#picture',
	rateDown: 'went-wrong#destinations',
	notPublic: 'went-wrong#destinations',
	refused: 'went-wrong#destinations',
	lost: 'went-wrong#destinations',
	source: 'went-wrong#picture',
	mix: 'sound',
	channel: 'sound',
	guest: 'guests',
	echo: 'went-wrong#sound',
	apart: 'sound',
	loudness: 'sound',
};

export function guidePlace(is: What<unknown, unknown>['is']): string {
	return `/guide/${PLACES[is]}`;
}
