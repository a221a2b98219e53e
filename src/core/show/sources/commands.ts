/** Commands about sources. Scenes, channels, overlays and patches that use one go with it, and come back with it. */
import { idSchema, nameSchema, placeSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import type { SingleCommand } from '../command.ts';
import { channels, removeChannel } from '../mix/commands.ts';
import { overlays, patches } from '../overlays/commands.ts';
import { refuse } from '../../refusal.ts';
import { changeScenes, inTurn, removeScenes, scenes } from '../scenes/commands.ts';
import type { Scene } from '../scenes/scene.ts';
import { commands, withSetup, type Change, type Handlers } from '../slice.ts';
import { isOnAir, type ShowState } from '../state.ts';
import { framingSchema, MOST_FRAMINGS, MOST_SOURCES, sourceSchema, type Framing, type Source } from './source.ts';

export const sourceCommands = commands({
	/** Its scenes, channels and patches are added by commands of their own, in the same batch. */
	addSource: { source: sourceSchema, at: placeSchema },
	removeSource: { sourceId: idSchema },
	renameSource: { sourceId: idSchema, name: nameSchema },
	/** Origin and corrections. Name and framings are changed by commands of their own, its kind never. */
	changeSource: { source: sourceSchema },
	addFraming: { sourceId: idSchema, framing: framingSchema, at: placeSchema },
	changeFraming: { sourceId: idSchema, framing: framingSchema },
	removeFraming: { sourceId: idSchema, framingId: idSchema },
});

const sources = collection<Source>({
	what: 'source',
	most: MOST_SOURCES,
	list: ({ setup }) => setup.sources,
	put: (state, list) => withSetup(state, { sources: list }),
	adding: (source, at) => [{ type: 'addSource', source, at }],
	changing: (source) => [{ type: 'changeSource', source }],
	removing: ({ id: sourceId }) => [{ type: 'removeSource', sourceId }],
});

const framingsOf = (sourceId: string) =>
	collection<Framing>({
		what: 'framing',
		most: MOST_FRAMINGS,
		list: (state) => sources.get(state, sourceId).framings,
		put: (state, framings) => sources.change(state, sourceId, (source) => ({ ...source, framings })).state,
		adding: (framing, at) => [{ type: 'addFraming', sourceId, framing, at }],
		changing: (framing) => [{ type: 'changeFraming', sourceId, framing }],
		removing: ({ id: framingId }) => [{ type: 'removeFraming', sourceId, framingId }],
	});

export const sourceHandlers: Handlers<typeof sourceCommands> = {
	addSource: (state, { source, at }) => sources.add(state, source, at),
	removeSource: (state, { sourceId }) => removeSource(state, sourceId),
	renameSource: (state, { sourceId, name }) => renameSource(state, sourceId, name),
	changeSource(state, { source }) {
		const before = sources.get(state, source.id);
		if (before.kind !== source.kind) throw refuse('otherKind', { name: before.name });
		return sources.change(state, source.id, ({ name, framings }) => ({ ...source, name, framings }));
	},
	addFraming: (state, { sourceId, framing, at }) => framingsOf(sourceId).add(state, framing, at),
	changeFraming: (state, { sourceId, framing }) => framingsOf(sourceId).change(state, framing.id, () => framing),
	removeFraming: (state, { sourceId, framingId }) =>
		inTurn(state, [
			(now) => changeScenes(now, (scene) => withoutFraming(scene, sourceId, framingId)),
			(now) => framingsOf(sourceId).remove(now, framingId),
		]),
};

/** A layer whose framing is gone shows all of the source. */
function withoutFraming(scene: Scene, sourceId: string, framingId: string): Scene {
	const shows = (layer: Scene['layers'][number]) => layer.sourceId === sourceId && layer.framingId === framingId;
	if (!scene.layers.some(shows)) return scene;
	return { ...scene, layers: scene.layers.map((layer) => (shows(layer) ? { ...layer, framingId: null } : layer)) };
}

/** Scenes and channels that were made for the source and still carry its name follow it. */
function renameSource(state: ShowState, sourceId: string, name: string): Change {
	const source = sources.get(state, sourceId);
	const hasItsName = (item: { name: string }) => item.name === source.name && source.name !== name;
	const renamed = withSetup(state, {
		sources: state.setup.sources.map((each) => (each.id === sourceId ? { ...each, name } : each)),
	});
	const followed = inTurn(renamed, [
		...state.setup.scenes
			.filter((scene) => scene.layers[0]?.sourceId === sourceId && hasItsName(scene))
			.map(
				({ id }) =>
					(now: ShowState) =>
						scenes.change(now, id, (scene) => ({ ...scene, name })),
			),
		...state.setup.channels
			.filter((channel) => channel.sourceId === sourceId && hasItsName(channel))
			.map(
				({ id }) =>
					(now: ShowState) =>
						channels.change(now, id, (channel) => ({ ...channel, name })),
			),
	]);
	// First the names of others, so that none of them follows a second time.
	return {
		state: followed.state,
		inverse: [...followed.inverse, { type: 'renameSource', sourceId, name: source.name }],
	};
}

/** What shows nothing but the source goes with it. */
function removeSource(state: ShowState, sourceId: string): Change {
	const { name } = sources.get(state, sourceId);
	const gone = new Set(state.setup.scenes.filter((scene) => showsOnly(scene, sourceId)).map(({ id }) => id));
	if (isOnAir(state) && state.live.program !== null && gone.has(state.live.program)) throw refuse('onAir', { name });
	const { setup } = state;
	const background: SingleCommand[] = [{ type: 'setBackground', sourceId: setup.background }];
	return inTurn(state, [
		(now) => removeScenes(now, gone),
		(now) => changeScenes(now, (scene) => withoutSource(scene, sourceId)),
		(now) =>
			setup.background === sourceId
				? { state: withSetup(now, { background: null }), inverse: background }
				: { state: now, inverse: [] },
		...setup.channels.flatMap((channel) =>
			channel.sourceId !== sourceId && channel.followed === sourceId
				? [(now: ShowState) => channels.change(now, channel.id, (each) => ({ ...each, followed: null }))]
				: [],
		),
		...ofSource(setup.channels, sourceId).map((id) => (now: ShowState) => removeChannel(now, id)),
		...ofSource(
			setup.overlays.map((overlay) => ({ sourceId: null, ...overlay })),
			sourceId,
		).map((id) => (now: ShowState) => overlays.remove(now, id)),
		...ofSource(setup.patches, sourceId).map((id) => (now: ShowState) => patches.remove(now, id)),
		(now) => sources.remove(now, sourceId),
	]);
}

/** Ids of what belongs to a source, from the last to the first, so that each finds its place again. */
function ofSource(list: readonly { id: string; sourceId: string | null }[], sourceId: string): string[] {
	return list
		.filter((each) => each.sourceId === sourceId)
		.map(({ id }) => id)
		.toReversed();
}

function withoutSource(scene: Scene, sourceId: string): Scene {
	const isBehind = scene.background.is === 'own' && scene.background.sourceId === sourceId;
	if (!isBehind && scene.layers.every((layer) => layer.sourceId !== sourceId)) return scene;
	const layers = scene.layers.filter((layer) => layer.sourceId !== sourceId);
	return { ...scene, layers, background: isBehind ? { is: 'event' } : scene.background };
}

function showsOnly({ layers }: Scene, sourceId: string): boolean {
	return layers.length > 0 && layers.every((layer) => layer.sourceId === sourceId);
}
