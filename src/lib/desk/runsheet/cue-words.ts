/** What a cue does and how it ends, in a few words. */
import type { Cue } from '../../../core/show/runsheet/cue.ts';
import type { ShowState } from '../../../core/show/state.ts';
import { clockOf, runsheet as words } from '../../words/index.ts';

export function doesOf(
	{ setup }: Pick<ShowState, 'setup'>,
	{ sceneId, plays, shows, hides, words: change }: Cue,
): string {
	const nameIn = (list: readonly { id: string; name: string }[], id: string) =>
		list.find((each) => each.id === id)?.name ?? null;
	const songOf = (id: string) => {
		const title = setup.words.items.find((each) => each.id === id)?.song.title;
		return title === undefined ? null : words.brings(title);
	};
	const parts = [
		sceneId === null ? null : nameIn(setup.scenes, sceneId),
		...plays.map((id) => nameIn(setup.sources, id)),
		...shows.map(({ overlayId }) => nameIn(setup.overlays, overlayId)),
		...hides.map((id) => nameIn(setup.overlays, id)).map((name) => name && words.hideOverlay(name)),
		change === null ? null : change.itemId === null ? words.wordsAway : songOf(change.itemId),
	].filter((part) => part !== null);
	return parts.length > 0 ? parts.join(', ') : words.noScene;
}

export function followOf({ follow, endsBroadcast }: Cue): string {
	const end = endsBroadcast ? `, ${words.endsBroadcast}` : '';
	switch (follow.by) {
		case 'go':
			return words.followsGo + end;
		case 'after':
			return words.followsAfter(clockOf(follow.ms / 1000)) + end;
		case 'clock':
			return words.followsClock(follow.time) + end;
		case 'clip':
			return words.followsClip + end;
		case 'rotation':
			return words.followsRotation(follow.sceneIds.length, clockOf(follow.everyMs / 1000)) + end;
	}
}
