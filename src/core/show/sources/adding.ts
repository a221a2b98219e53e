/** What is added with a source: the scene that shows it, its channel, its patches. */
import { batchOf, type PageCommand, type SingleCommand } from '../command.ts';
import type { Channel } from '../mix/mix.ts';
import type { PrivacyPatch } from '../overlays/overlay.ts';
import type { Scene } from '../scenes/scene.ts';
import type { ShowState } from '../state.ts';
import type { Source } from './source.ts';

export interface Belongings {
	scenes?: readonly Scene[];
	channels?: readonly Channel[];
	patches?: readonly PrivacyPatch[];
}

/** One command that adds a source with all that belongs to it. The first scene of an event goes to Next as well. */
export function addingSource(state: ShowState, source: Source, belongings: Belongings): PageCommand {
	const { scenes = [], channels = [], patches = [] } = belongings;
	const [first] = scenes;
	const isFirst = state.setup.scenes.length === 0 && state.live.program === null && state.live.next === null;
	const next: SingleCommand[] = first && isFirst ? [{ type: 'setNext', sceneId: first.id }] : [];
	return batchOf([
		{ type: 'addSource', source },
		...scenes.map((scene): SingleCommand => ({ type: 'addScene', scene })),
		...channels.map((channel): SingleCommand => ({ type: 'addChannel', channel })),
		...patches.map((patch): SingleCommand => ({ type: 'addPatch', patch })),
		...next,
	]);
}
