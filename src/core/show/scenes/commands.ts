/** Commands about scenes, and about changes to a scene on air that wait for its next take. */
import * as v from 'valibot';
import { countSchema, idSchema, placeSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import type { SingleCommand } from '../command.ts';
import { refuse } from '../../refusal.ts';
import { commands, withLive, withSetup, type Change, type Handlers } from '../slice.ts';
import { isOnAir, type ShowState } from '../state.ts';
import { needSources } from '../sources/needed.ts';
import { emptyBuses } from '../takes/buses.ts';
import { MOST_SCENES, sceneSchema, type Scene } from './scene.ts';

export const sceneCommands = commands({
	addScene: { scene: sceneSchema, at: placeSchema },
	/** On air the change waits for the next take of the scene, unless it is made `live`. */
	changeScene: { scene: sceneSchema, live: v.boolean() },
	removeScene: { sceneId: idSchema },
	moveScene: { sceneId: idSchema, at: countSchema },
	/** Lets a change wait for the next take of its scene, on air or not. */
	keepDraft: { scene: sceneSchema },
	/** Discards the changes that wait for the next take. */
	dropDraft: { sceneId: idSchema },
	setBackground: { sourceId: v.nullable(idSchema) },
});

export const scenes = collection<Scene>({
	what: 'scene',
	most: MOST_SCENES,
	list: ({ setup }) => setup.scenes,
	put: (state, list) => withSetup(state, { scenes: list }),
	adding: (scene, at) => [{ type: 'addScene', scene, at }],
	changing: sceneBack,
	removing: (scene) => [...unlocked(scene), { type: 'removeScene', sceneId: scene.id }],
	moving: (sceneId, at) => ({ type: 'moveScene', sceneId, at }),
});

const drafts = collection<Scene>({
	what: 'draft',
	most: MOST_SCENES,
	list: ({ live }) => live.drafts,
	put: (state, list) => withLive(state, { drafts: list }),
	adding: (scene) => [{ type: 'keepDraft', scene }],
	changing: (scene) => [{ type: 'keepDraft', scene }],
	removing: ({ id: sceneId }) => [{ type: 'dropDraft', sceneId }],
});

export const sceneHandlers: Handlers<typeof sceneCommands> = {
	addScene(state, { scene, at }) {
		needSources(state, sourcesOf(scene), 'scene');
		return scenes.add(state, scene, at);
	},
	changeScene(state, { scene, live }) {
		const before = scenes.get(state, scene.id);
		if (before.locked && scene.locked) throw refuse('locked', { name: before.name, to: 'change' });
		needSources(state, sourcesOf(scene), 'scene');
		// On air nothing changes under the viewers' eyes unless that was asked for. Name and lock are not seen.
		const isSeen = isOnAir(state) && state.live.program === scene.id && !hasSamePicture(before, scene);
		if (isSeen && !live) return keepDraft(state, scene);
		return inTurn(state, [(now) => dropDraft(now, scene.id), (now) => scenes.change(now, scene.id, () => scene)]);
	},
	removeScene(state, { sceneId }) {
		const scene = scenes.get(state, sceneId);
		if (scene.locked) throw refuse('locked', { name: scene.name, to: 'delete' });
		if (isOnAir(state) && state.live.program === sceneId) throw refuse('onAir', { name: scene.name });
		return removeScenes(state, new Set([sceneId]));
	},
	moveScene: (state, { sceneId, at }) => scenes.move(state, sceneId, at),
	keepDraft(state, { scene }) {
		scenes.get(state, scene.id);
		needSources(state, sourcesOf(scene), 'scene');
		return keepDraft(state, scene);
	},
	dropDraft: (state, { sceneId }) => dropDraft(state, sceneId),
	setBackground(state, { sourceId }) {
		needSources(state, [sourceId], 'background');
		const inverse: SingleCommand[] = [{ type: 'setBackground', sourceId: state.setup.background }];
		return { state: withSetup(state, { background: sourceId }), inverse };
	},
};

/** Does changes one after another; they are taken back the other way round. */
export function inTurn(state: ShowState, changes: readonly ((now: ShowState) => Change)[]): Change {
	let inverse: readonly SingleCommand[] = [];
	for (const change of changes) {
		const next = change(state);
		state = next.state;
		inverse = [...next.inverse, ...inverse];
	}
	return { state, inverse };
}

function keepDraft(state: ShowState, scene: Scene): Change {
	return drafts.has(state, scene.id) ? drafts.change(state, scene.id, () => scene) : drafts.add(state, scene);
}

function dropDraft(state: ShowState, sceneId: string): Change {
	return drafts.has(state, sceneId) ? drafts.remove(state, sceneId) : { state, inverse: [] };
}

/** Commands that let a scene be changed. */
function unlocked(scene: Scene): readonly SingleCommand[] {
	return scene.locked ? [{ type: 'changeScene', scene: { ...scene, locked: false }, live: true }] : [];
}

/** Commands that make a scene what it was, also when it was locked; what waits for its take goes on waiting. */
function sceneBack(scene: Scene, { live }: ShowState): readonly SingleCommand[] {
	const back = (locked: boolean): SingleCommand => ({ type: 'changeScene', scene: { ...scene, locked }, live: true });
	const draft = live.drafts.find(({ id }) => id === scene.id);
	return [
		back(false),
		...(scene.locked ? [back(true)] : []),
		...(draft ? [{ type: 'keepDraft' as const, scene: draft }] : []),
	];
}

/** Removes scenes with what waits for them, and takes them off Program, Next and Previous. */
export function removeScenes(state: ShowState, gone: ReadonlySet<string>): Change {
	const emptied = emptyBuses(state, gone);
	const ids = state.setup.scenes.map(({ id }) => id).filter((id) => gone.has(id));
	const dropped = inTurn(
		emptied.state,
		// From the last to the first, so that each finds its place again.
		ids
			.toReversed()
			.flatMap((id) => [(now: ShowState) => dropDraft(now, id), (now: ShowState) => scenes.remove(now, id)]),
	);
	return { state: dropped.state, inverse: [...dropped.inverse, ...emptied.inverse] };
}

/** Changes all scenes and drafts in one way; those that it leaves as they are stay the same objects. */
export function changeScenes(state: ShowState, change: (scene: Scene) => Scene): Change {
	const changes =
		({ id }: Scene, list: typeof scenes) =>
		(now: ShowState) => {
			const before = list.get(now, id);
			const after = change(before);
			return after === before ? { state: now, inverse: [] } : list.change(now, id, () => after);
		};
	// Taken back the other way round: a scene that comes back keeps what waits for it as it is then.
	return inTurn(state, [
		...state.live.drafts.map((draft) => changes(draft, drafts)),
		...state.setup.scenes.map((scene) => changes(scene, scenes)),
	]);
}

function hasSamePicture(a: Scene, b: Scene): boolean {
	const seen = ({ layers, background, gathers }: Scene) => JSON.stringify({ layers, background, gathers });
	return seen(a) === seen(b);
}

function sourcesOf({ layers, background }: Scene): string[] {
	const own = background.is === 'own' ? [background.sourceId] : [];
	return [...own, ...layers.map(({ sourceId }) => sourceId)];
}
