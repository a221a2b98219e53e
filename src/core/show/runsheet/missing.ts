/** What a cue asks for that is not there, or that it asks for twice. Found in the plan alone, without running it. */
import { canStart, isClip } from '../clips/source.ts';
import type { ShowState } from '../state.ts';
import type { Cue } from './cue.ts';

/** Something in the plan that will not go as it is written. */
export type Conflict = { cueId: string | null } & (
	| { is: 'gone'; what: 'scene' | 'clip' | 'overlay' | 'person' | 'snapshot' | 'channel' | 'song' }
	/** The file of a clip is no longer in the library. */
	| { is: 'fileGone'; name: string }
	| { is: 'showsAndHides' | 'mutesAndOpens'; name: string }
	/** It would end by itself, but nothing lets it. */
	| { is: 'neverOver'; why: 'noTime' | 'timePassed' | 'notPlayed' | 'repeats' }
	/** Two clips are heard at once; two lower thirds are seen at once. */
	| { is: 'twoHeard' | 'twoNamed'; name: string; other: string }
	/** The cues before it are not over at its planned time. */
	| { is: 'late'; ms: number }
	/** The sheet is over after the evening should be. */
	| { is: 'tooLong'; ms: number }
);

type Part = Pick<ShowState, 'setup'>;

/**
 * What is missing for a cue, or contradicts itself in it.
 * @param hasFile whether a file is in the media library
 */
export function missingFor({ setup }: Part, cue: Cue, hasFile: (mediaId: string) => boolean): Conflict[] {
	const cueId = cue.id;
	const found: Conflict[] = [];
	const want = (list: readonly { id: string }[], ids: readonly string[], what: (Conflict & { is: 'gone' })['what']) => {
		for (const id of new Set(ids)) if (!list.some((each) => each.id === id)) found.push({ cueId, is: 'gone', what });
	};
	const sceneIds = [...(cue.sceneId === null ? [] : [cue.sceneId]), ...turnsOf(cue)];
	const shown = cue.shows.map(({ overlayId }) => overlayId);
	want(setup.scenes, sceneIds, 'scene');
	want(setup.sources.filter(canStart), cue.plays, 'clip');
	want(setup.sources.filter(isClip), cue.follow.by === 'clip' ? [cue.follow.sourceId] : [], 'clip');
	want(setup.overlays, [...shown, ...cue.hides], 'overlay');
	want(
		setup.people,
		cue.shows.flatMap(({ personId }) => personId ?? []),
		'person',
	);
	const snapshotId = cue.mix?.snapshotId ?? null;
	const [mute, unmute] = [cue.mix?.mute ?? [], cue.mix?.unmute ?? []];
	want(setup.mix.snapshots, snapshotId === null ? [] : [snapshotId], 'snapshot');
	want(setup.channels, [...mute, ...unmute], 'channel');
	want(setup.words.items, cue.words?.itemId ? [cue.words.itemId] : [], 'song');
	for (const { name, items } of clipsOf(setup, cue, sceneIds))
		if (items.some(({ mediaId }) => !hasFile(mediaId))) found.push({ cueId, is: 'fileGone', name });
	for (const { id, name } of setup.overlays)
		if (shown.includes(id) && cue.hides.includes(id)) found.push({ cueId, is: 'showsAndHides', name });
	for (const { id, name } of setup.channels)
		if (mute.includes(id) && unmute.includes(id)) found.push({ cueId, is: 'mutesAndOpens', name });
	return found;
}

function turnsOf({ follow }: Cue): readonly string[] {
	return follow.by === 'rotation' ? follow.sceneIds : [];
}

/** The clips that a cue plays or shows. */
function clipsOf({ sources, scenes }: ShowState['setup'], cue: Cue, sceneIds: readonly string[]) {
	const layers = scenes.filter(({ id }) => sceneIds.includes(id)).flatMap((scene) => scene.layers);
	const used = new Set([...cue.plays, ...layers.map(({ sourceId }) => sourceId)]);
	return sources.filter(isClip).filter(({ id }) => used.has(id));
}
