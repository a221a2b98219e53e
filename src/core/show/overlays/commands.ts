/** Commands about people, about overlays above whatever is on air, and about privacy patches. */
import * as v from 'valibot';
import { countSchema, idSchema, placeSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import type { SingleCommand } from '../command.ts';
import { withDue, withoutDue } from '../due.ts';
import { commands, withLive, withSetup, type Handlers } from '../slice.ts';
import { needSources } from '../sources/needed.ts';
import type { ShowState } from '../state.ts';
import {
	MOST_OVERLAYS,
	MOST_PATCHES,
	MOST_PEOPLE,
	overlaySchema,
	patchSchema,
	personSchema,
	type Overlay,
	type Person,
	type PrivacyPatch,
} from './overlay.ts';

export const overlayCommands = commands({
	addPerson: { person: personSchema, at: placeSchema },
	changePerson: { person: personSchema },
	removePerson: { personId: idSchema },
	movePerson: { personId: idSchema, at: countSchema },

	addOverlay: { overlay: overlaySchema, at: placeSchema },
	changeOverlay: { overlay: overlaySchema },
	removeOverlay: { overlayId: idSchema },
	moveOverlay: { overlayId: idSchema, at: countSchema },
	/** Shows it from the beginning, also when it is shown already; a lower third may be given who it names. */
	showOverlay: { overlayId: idSchema, personId: v.optional(idSchema) },
	hideOverlay: { overlayId: idSchema },

	addPatch: { patch: patchSchema, at: placeSchema },
	changePatch: { patch: patchSchema },
	removePatch: { patchId: idSchema },
});

const people = collection<Person>({
	what: 'person',
	most: MOST_PEOPLE,
	list: ({ setup }) => setup.people,
	put: (state, list) => withSetup(state, { people: list }),
	adding: (person, at) => [{ type: 'addPerson', person, at }],
	changing: (person) => [{ type: 'changePerson', person }],
	removing: ({ id: personId }) => [{ type: 'removePerson', personId }],
	moving: (personId, at) => ({ type: 'movePerson', personId, at }),
});

const listed = collection<Overlay>({
	what: 'overlay',
	most: MOST_OVERLAYS,
	list: ({ setup }) => setup.overlays,
	put: (state, list) => withSetup(state, { overlays: list }),
	adding: (overlay, at) => [{ type: 'addOverlay', overlay, at }],
	changing: (overlay) => [{ type: 'changeOverlay', overlay }],
	removing: ({ id: overlayId }) => [{ type: 'removeOverlay', overlayId }],
	moving: (overlayId, at) => ({ type: 'moveOverlay', overlayId, at }),
});

/**
 * An overlay that is removed is hidden; one that comes back stays hidden until somebody shows it. One whose time is
 * changed while it is shown is hidden when its new time is over.
 */
export const overlays: typeof listed = {
	...listed,
	change(state, id, change) {
		const changed = listed.change(state, id, change);
		return { ...changed, state: hiddenInTime(changed.state, id) };
	},
	remove(state, id) {
		const removed = listed.remove(state, id);
		return { ...removed, state: hidden(removed.state, id) };
	},
};

export const patches = collection<PrivacyPatch>({
	what: 'patch',
	most: MOST_PATCHES,
	list: ({ setup }) => setup.patches,
	put: (state, list) => withSetup(state, { patches: list }),
	adding: (patch, at) => [{ type: 'addPatch', patch, at }],
	changing: (patch) => [{ type: 'changePatch', patch }],
	removing: ({ id: patchId }) => [{ type: 'removePatch', patchId }],
});

export const overlayHandlers: Handlers<typeof overlayCommands> = {
	addPerson: (state, { person, at }) => people.add(state, person, at),
	changePerson: (state, { person }) => people.change(state, person.id, () => person),
	removePerson: (state, { personId }) => people.remove(state, personId),
	movePerson: (state, { personId, at }) => people.move(state, personId, at),

	addOverlay(state, { overlay, at }) {
		needSources(state, sourcesOf(overlay), 'overlay');
		return overlays.add(state, overlay, at);
	},
	changeOverlay(state, { overlay }) {
		needSources(state, sourcesOf(overlay), 'overlay');
		return overlays.change(state, overlay.id, () => overlay);
	},
	removeOverlay: (state, { overlayId }) => overlays.remove(state, overlayId),
	moveOverlay: (state, { overlayId, at }) => overlays.move(state, overlayId, at),
	showOverlay(state, { overlayId, personId }, at) {
		const overlay = overlays.get(state, overlayId);
		const before = state.live.shown[overlayId];
		const count = (before?.count ?? 0) + 1;
		const named = personId !== undefined && overlay.kind === 'lowerThird' && overlay.personId !== personId;
		const renamed = named
			? overlays.change(state, overlayId, (now) => ({ ...now, personId }) as Overlay)
			: { state, inverse: [] };
		const shown = withLive(renamed.state, { shown: { ...state.live.shown, [overlayId]: { at, count } } });
		const hides: SingleCommand[] = before ? [] : [{ type: 'hideOverlay', overlayId }];
		return { state: hiddenInTime(shown, overlayId), inverse: [...hides, ...renamed.inverse] };
	},
	hideOverlay(state, { overlayId }) {
		overlays.get(state, overlayId);
		const wasShown = state.live.shown[overlayId] !== undefined;
		return { state: hidden(state, overlayId), inverse: wasShown ? [{ type: 'showOverlay', overlayId }] : [] };
	},

	addPatch(state, { patch, at }) {
		needSources(state, [patch.sourceId], 'patch');
		return patches.add(state, patch, at);
	},
	changePatch(state, { patch }) {
		needSources(state, [patch.sourceId], 'patch');
		return patches.change(state, patch.id, () => patch);
	},
	removePatch: (state, { patchId }) => patches.remove(state, patchId),
};

function sourcesOf(overlay: Overlay): string[] {
	return overlay.kind === 'picture' ? [overlay.sourceId] : [];
}

function hidden(state: ShowState, overlayId: string): ShowState {
	if (!state.live.shown[overlayId]) return state;
	const { [overlayId]: _, ...shown } = state.live.shown;
	return withoutDue(withLive(state, { shown }), dueId(overlayId));
}

/** Lets an overlay that is shown be hidden when its time is over. */
function hiddenInTime(state: ShowState, overlayId: string): ShowState {
	const showing = state.live.shown[overlayId];
	const { showMs } = listed.get(state, overlayId);
	if (!showing || showMs === 0) return withoutDue(state, dueId(overlayId));
	return withDue(state, dueId(overlayId), showing.at + showMs, [{ type: 'hideOverlay', overlayId }]);
}

/** Ids of overlays have 64 characters at most, and so have those of entries: one that is too long is cut. */
function dueId(overlayId: string): string {
	return `hide-${overlayId}`.slice(0, 64);
}
