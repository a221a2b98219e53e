/**
 * The show's one reducer. Server, desk and every other page run it on the same commands in the same order, so
 * they agree without asking each other.
 */
import type { Command } from './command.ts';
import { planDelivery } from './delivery.ts';
import { planTracks } from './tracks.ts';
import type { Overlay } from './overlay.ts';
import { CUT, type Scene, type Transition } from './scene.ts';
import { changed, inserted, refused, type Outcome } from './outcome.ts';
import { reduceMix } from './reduce-mix.ts';
import { isOnAir, type ShowState } from './state.ts';

/** Measurements of the line that are remembered. */
const MOST_LINES = 20;
/** Hidden messages that are remembered. */
const MOST_HIDDEN = 500;

/**
 * @param at milliseconds since 1970 when the hub took the command
 * @returns a new state sharing what did not change, or why the command cannot be done; the old state is untouched
 */
export function reduce(state: ShowState, command: Command, at: number): Outcome {
	switch (command.type) {
		case 'renameEvent':
			return changed(state, { title: command.title });
		case 'setPicture':
			if (isOnAir(state)) return refused('The picture size cannot change while on air. End the broadcast first.');
			return changed(state, { picture: command.picture });

		case 'addSource':
			return addSource(state, command);
		case 'removeSource':
			return removeSource(state, command.sourceId);
		case 'renameSource': {
			const { sourceId, name } = command;
			const source = state.sources.find(({ id }) => id === sourceId);
			if (!source) return refused('This source is no longer there.');
			// Scenes and channels that were made for the source and still carry its name follow it.
			const follow = <T extends { name: string }>(item: T, own: boolean): T =>
				own && item.name === source.name ? { ...item, name } : item;
			return changed(state, {
				sources: state.sources.map((each) => (each.id === sourceId ? { ...each, name } : each)),
				scenes: state.scenes.map((scene) => follow(scene, scene.layers[0]?.sourceId === sourceId)),
				channels: state.channels.map((channel) => follow(channel, channel.sourceId === sourceId)),
			});
		}

		case 'changeSource':
			return changeSource(state, command.source);

		case 'addScene': {
			if (hasScene(state, command.scene.id)) return refused('This scene is there already.');
			const missing = missingSource(state, command.scene);
			if (missing) return refused(missing);
			return changed(state, { scenes: inserted(state.scenes, command.scene, command.at) });
		}
		case 'changeScene':
			return changeScene(state, command.scene, command.live);
		case 'dropDraft':
			return changed(state, { drafts: state.drafts.filter(({ id }) => id !== command.sceneId) });
		case 'removeScene':
			return removeScene(state, command.sceneId);
		case 'moveScene':
			if (!hasScene(state, command.sceneId)) return refused('This scene is no longer there.');
			return changed(state, { scenes: moved(state.scenes, command.sceneId, command.at) });
		case 'setBackground':
			if (command.sourceId !== null && !hasSource(state, command.sourceId))
				return refused('This source is no longer there.');
			return changed(state, { background: command.sourceId });

		case 'setPeople':
			return changed(state, { people: command.people });
		case 'addOverlay':
			if (state.overlays.some(({ id }) => id === command.overlay.id)) return refused('This overlay is there already.');
			return changed(state, { overlays: inserted(state.overlays, command.overlay, command.at) });
		case 'changeOverlay':
			return changeOverlay(state, command.overlay.id, () => command.overlay);
		case 'removeOverlay':
			return changed(state, { overlays: state.overlays.filter(({ id }) => id !== command.overlayId) });
		case 'moveOverlay':
			return changed(state, { overlays: moved(state.overlays, command.overlayId, command.at) });
		case 'showOverlay': {
			const { overlayId, personId } = command;
			return changeOverlay(state, overlayId, (overlay) => {
				const shown = { at, count: (overlay.shown?.count ?? 0) + 1 };
				if (overlay.kind !== 'lowerThird') return { ...overlay, shown };
				return { ...overlay, personId: personId ?? overlay.personId, shown };
			});
		}
		case 'hideOverlay':
			return changeOverlay(state, command.overlayId, (overlay) => ({ ...overlay, shown: null }));

		case 'addPatch':
			if (state.patches.some(({ id }) => id === command.patch.id)) return refused('This patch is there already.');
			return changed(state, { patches: [...state.patches, command.patch] });
		case 'changePatch': {
			const { patch } = command;
			if (!state.patches.some(({ id }) => id === patch.id)) return refused('This patch is no longer there.');
			return changed(state, { patches: state.patches.map((each) => (each.id === patch.id ? patch : each)) });
		}
		case 'removePatch':
			return changed(state, { patches: state.patches.filter(({ id }) => id !== command.patchId) });

		case 'setNext':
			if (command.sceneId !== null && !hasScene(state, command.sceneId))
				return refused('This scene is no longer there.');
			// Viewers see Next already; another one in its place would be a cut that nobody asked for.
			if (state.lever > 0 && command.sceneId !== state.next)
				return refused('The hand lever is half way. Bring it to either end first.');
			return changed(state, { next: command.sceneId });
		case 'take':
			return take(state, command.sceneId ?? state.next, command.transition, at);
		case 'takeBack':
			if (state.previous === null) return refused('Nothing was on air before.');
			return take(state, state.previous, undefined, at);
		case 'callBack': {
			const { take: newest } = state;
			if (newest.count === 0 || newest.calledBack) return refused('Nothing is under way that could be called back.');
			// Never to black by surprise: the scene may have been deleted, or been this one before its changes.
			if (newest.from === null) return refused('What was on air before is no longer there.');
			return changed(state, {
				program: newest.from,
				previous: state.program,
				next: state.program,
				lever: 0,
				take: { ...newest, count: newest.count + 1, from: state.program, at, calledBack: true },
			});
		}
		case 'setLever': {
			if (state.next === null && command.position > 0) return refused('Nothing is in Next. Put a scene there first.');
			if (command.position < 1) return changed(state, { lever: command.position });
			// The picture is there already, so nothing is left to be played.
			return take(state, state.next, CUT, at);
		}
		case 'setBlack':
			return changed(state, { black: command.black });
		case 'setTransition':
			return changed(state, { transition: command.transition });
		case 'setDirect':
			return changed(state, { direct: command.direct });

		case 'addChannel':
		case 'changeChannel':
		case 'removeChannel':
		case 'setFader':
		case 'setMute':
		case 'pressChannel':
		case 'setGroupFader':
		case 'setGroupMute':
		case 'setDucking':
		case 'setMaster':
		case 'storeSnapshot':
		case 'removeSnapshot':
		case 'recallSnapshot':
		case 'setHush':
			return reduceMix(state, command);

		case 'addDestination': {
			const { destination, at: place } = command;
			if (state.destinations.some(({ id }) => id === destination.id))
				return refused('This destination is there already.');
			return changed(state, { destinations: inserted(state.destinations, destination, place) });
		}
		case 'changeDestination':
			if (!state.destinations.some(({ id }) => id === command.destination.id))
				return refused('This destination is no longer there.');
			return changed(state, {
				destinations: state.destinations.map((each) =>
					each.id === command.destination.id ? command.destination : each,
				),
			});
		case 'removeDestination':
			return changed(state, { destinations: state.destinations.filter(({ id }) => id !== command.destinationId) });
		case 'tickDestination': {
			const { destinationId, ticked } = command;
			return changed(state, {
				destinations: state.destinations.map((each) => (each.id === destinationId ? { ...each, ticked } : each)),
			});
		}

		case 'setDelivery':
			return changed(state, { delivery: { ...state.delivery, ...command.delivery } });
		case 'addLine':
			return changed(state, {
				delivery: { ...state.delivery, lines: [...state.delivery.lines, command.line].slice(-MOST_LINES) },
			});

		case 'addMarker':
			// It goes into the log; the show itself stays as it is.
			return isOnAir(state) ? { state } : refused('A marker belongs to a recording. Go on air first.');

		case 'hideMessage': {
			const others = state.hiddenMessages.filter((id) => id !== command.messageId);
			const hiddenMessages = command.hidden ? [...others, command.messageId].slice(-MOST_HIDDEN) : others;
			return changed(state, { hiddenMessages });
		}
		case 'startBroadcast':
			if (isOnAir(state)) return refused('The event is on air already.');
			return changed(state, {
				broadcast: {
					id: command.broadcastId,
					startedAt: at,
					endedAt: null,
					endsAt: null,
					rehearsal: command.rehearsal ?? false,
					renditions: planDelivery(state).renditions,
					tracks: state.delivery.records ? planTracks(state) : [],
				},
			});
		case 'endBroadcast':
			if (!isOnAir(state)) return refused('The event is not on air.');
			return changed(state, { broadcast: { ...state.broadcast!, endedAt: at } });
		case 'planEnd':
			return planEnd(state, command.inMs, command.sceneId, at);
	}
}

/** Applies commands in turn; those that cannot be done any more change nothing. */
export function reduceAll(state: ShowState, commands: readonly Command[], at: number): ShowState {
	for (const command of commands) {
		const outcome = reduce(state, command, at);
		if ('state' in outcome) state = outcome.state;
	}
	return state;
}

/** @param asked the transition asked for; otherwise the scene's own, or the desk's */
function take(state: ShowState, sceneId: string | null, asked: Transition | undefined, at: number): Outcome {
	if (sceneId === null) return refused('Nothing is in Next. Put a scene there first.');
	const scene = state.scenes.find(({ id }) => id === sceneId);
	if (!scene) return refused('This scene is no longer there.');
	const draft = state.drafts.find(({ id }) => id === sceneId);
	if (sceneId === state.program && !draft) return { state };
	const transition = asked ?? (draft ?? scene).transition ?? state.transition;
	return changed(state, {
		...(draft && { scenes: withScene(state, draft), drafts: state.drafts.filter(({ id }) => id !== sceneId) }),
		program: sceneId,
		previous: sceneId === state.program ? state.previous : state.program,
		// What was on air comes back to Next, so that two people talking in turn cost one press each.
		next: sceneId === state.next ? (sceneId === state.program ? null : state.program) : state.next,
		take: {
			count: state.take.count + 1,
			from: sceneId === state.program ? null : state.program,
			transition,
			at,
			calledBack: false,
		},
		lever: 0,
	});
}

function planEnd(state: ShowState, inMs: number | null, sceneId: string | null, at: number): Outcome {
	if (!isOnAir(state)) return refused('The event is not on air.');
	const taken = inMs === null || sceneId === null ? { state } : take(state, sceneId, undefined, at);
	if ('refused' in taken) return taken;
	const endsAt = inMs === null ? null : at + inMs;
	return changed(taken.state, { broadcast: { ...state.broadcast!, endsAt } });
}

/** On air nothing changes under the viewers' eyes unless that was asked for. */
function changeScene(state: ShowState, scene: Scene, live: boolean): Outcome {
	const before = state.scenes.find(({ id }) => id === scene.id);
	if (!before) return refused('This scene is no longer there.');
	if (before.locked && scene.locked) return refused(`${before.name} is locked. Unlock it to change it.`);
	const missing = missingSource(state, scene);
	if (missing) return refused(missing);
	const others = state.drafts.filter(({ id }) => id !== scene.id);
	// A name or a lock shows nowhere in the picture.
	const seen = isOnAir(state) && state.program === scene.id && !samePicture(before, scene);
	if (seen && !live) return changed(state, { drafts: [...others, scene] });
	return changed(state, { scenes: withScene(state, scene), drafts: others });
}

function samePicture(a: Scene, b: Scene): boolean {
	const seen = ({ layers, background }: Scene) => JSON.stringify({ layers, background });
	return seen(a) === seen(b);
}

function removeScene(state: ShowState, sceneId: string): Outcome {
	const scene = state.scenes.find(({ id }) => id === sceneId);
	if (!scene) return refused('This scene is no longer there.');
	if (scene.locked) return refused(`${scene.name} is locked. Unlock it to delete it.`);
	if (isOnAir(state) && state.program === sceneId) return refused(`${scene.name} is on air. Take another scene first.`);
	return changed(state, withoutScenes(state, new Set([sceneId])));
}

function withoutScenes(state: ShowState, gone: ReadonlySet<string>): Partial<ShowState> {
	const kept = (id: string | null) => (id !== null && gone.has(id) ? null : id);
	return {
		scenes: state.scenes.filter(({ id }) => !gone.has(id)),
		drafts: state.drafts.filter(({ id }) => !gone.has(id)),
		program: kept(state.program),
		next: kept(state.next),
		previous: kept(state.previous),
		take: { ...state.take, from: kept(state.take.from) },
		...(state.next !== null && gone.has(state.next) && { lever: 0 }),
	};
}

function withScene(state: ShowState, scene: Scene): Scene[] {
	return state.scenes.map((each) => (each.id === scene.id ? scene : each));
}

/** Why a scene cannot be, when it uses a source that is not there. */
function missingSource(state: ShowState, { layers, background }: Scene): string | null {
	const own = background.is === 'own' ? [background.sourceId] : [];
	const all = [...own, ...layers.map(({ sourceId }) => sourceId)];
	return all.every((id) => hasSource(state, id)) ? null : 'A source of this scene is no longer there.';
}

function changeSource(state: ShowState, source: ShowState['sources'][number]): Outcome {
	const before = state.sources.find(({ id }) => id === source.id);
	if (!before) return refused('This source is no longer there.');
	if (before.kind !== source.kind) return refused(`${before.name} cannot become another kind of source.`);
	const framings = new Set(source.framings.map(({ id }) => id));
	// A layer whose framing is gone shows all of the source.
	const refit = (scene: Scene): Scene => ({
		...scene,
		layers: scene.layers.map((layer) =>
			layer.sourceId === source.id && layer.framingId !== null && !framings.has(layer.framingId)
				? { ...layer, framingId: null }
				: layer,
		),
	});
	const lost = before.framings.some(({ id }) => !framings.has(id));
	return changed(state, {
		sources: state.sources.map((each) => (each.id === source.id ? { ...source, name: before.name } : each)),
		...(lost && { scenes: state.scenes.map(refit), drafts: state.drafts.map(refit) }),
	});
}

function changeOverlay(state: ShowState, overlayId: string, change: (overlay: Overlay) => Overlay): Outcome {
	if (!state.overlays.some(({ id }) => id === overlayId)) return refused('This overlay is no longer there.');
	return changed(state, {
		overlays: state.overlays.map((overlay) => (overlay.id === overlayId ? change(overlay) : overlay)),
	});
}

function addSource(state: ShowState, command: Extract<Command, { type: 'addSource' }>): Outcome {
	const { source, scenes, channels } = command;
	if (state.sources.some(({ id }) => id === source.id)) return refused('This source is there already.');
	const known = new Set([source.id, ...state.sources.map(({ id }) => id)]);
	if (scenes.some(({ id, layers }) => hasScene(state, id) || layers.some((layer) => !known.has(layer.sourceId))))
		return refused('A scene of this source is there already, or uses a source that is gone.');
	const overlays = command.overlays.filter(({ id }) => !state.overlays.some((overlay) => overlay.id === id));
	const patches = command.patches.filter(({ id }) => !state.patches.some((patch) => patch.id === id));
	if (channels.some((channel) => channel.sourceId !== source.id || state.channels.some(({ id }) => id === channel.id)))
		return refused('A channel of this source is there already.');
	return changed(state, {
		sources: inserted(state.sources, source, command.at),
		scenes: inserted(state.scenes, scenes, command.sceneAt),
		channels: [...state.channels, ...channels],
		overlays: [...state.overlays, ...overlays],
		patches: [...state.patches, ...patches],
	});
}

function removeSource(state: ShowState, sourceId: string): Outcome {
	const source = state.sources.find(({ id }) => id === sourceId);
	if (!source) return refused('This source is no longer there.');
	const gone = new Set(state.scenes.filter((scene) => usesOnly(scene, sourceId)).map(({ id }) => id));
	if (isOnAir(state) && state.program !== null && gone.has(state.program))
		return refused(`${source.name} is on air. Take another scene first.`);
	const without = withoutScenes(state, gone);
	const strip = (scene: Scene): Scene => ({
		...scene,
		layers: scene.layers.filter((layer) => layer.sourceId !== sourceId),
		...(scene.background.is === 'own' &&
			scene.background.sourceId === sourceId && { background: { is: 'event' as const } }),
	});
	return changed(state, {
		...without,
		sources: state.sources.filter(({ id }) => id !== sourceId),
		scenes: without.scenes!.map(strip),
		drafts: without.drafts!.map(strip),
		background: state.background === sourceId ? null : state.background,
		channels: state.channels
			.filter((channel) => channel.sourceId !== sourceId)
			.map((channel) => (channel.followed === sourceId ? { ...channel, followed: null } : channel)),
		overlays: state.overlays.filter((overlay) => overlay.kind !== 'picture' || overlay.sourceId !== sourceId),
		patches: state.patches.filter((patch) => patch.sourceId !== sourceId),
	});
}

function usesOnly(scene: { layers: { sourceId: string }[] }, sourceId: string): boolean {
	return scene.layers.length > 0 && scene.layers.every((layer) => layer.sourceId === sourceId);
}

function hasScene(state: ShowState, sceneId: string): boolean {
	return state.scenes.some(({ id }) => id === sceneId);
}

function hasSource(state: ShowState, sourceId: string): boolean {
	return state.sources.some(({ id }) => id === sourceId);
}

function moved<T extends { id: string }>(list: readonly T[], id: string, to: number): T[] {
	const from = list.findIndex((each) => each.id === id);
	return from < 0 ? [...list] : list.toSpliced(from, 1).toSpliced(to, 0, list[from]!);
}
