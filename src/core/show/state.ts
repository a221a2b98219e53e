/**
 * What an event is made of, and what is going on in it: everything an operator sees is derived from this. The types
 * come from the schemas in show-schema.ts, so that what is stored and what is compiled cannot differ.
 */
import type * as v from 'valibot';
import { plainDelivery } from './delivery/delivery.ts';
import { plainLook } from './event/look.ts';
import type { Picture } from './event/picture.ts';
import { plainMix } from './mix/mix.ts';
import { noProgress } from './runsheet/cue.ts';
import { CUT } from './scenes/scene.ts';
import type { liveSchema, setupSchema, showStateSchema } from './show-schema.ts';
import { VERSION } from './version.ts';
import { noWords, plainHall, plainWords } from './words/words.ts';

export type { Broadcast } from './broadcast/broadcast.ts';
export type { Destination, Details, SavedDestination } from './delivery/destination.ts';
export type { Picture } from './event/picture.ts';

/** What was prepared and can be used again: all that a template, a copy and an export hold. */
export type Setup = v.InferOutput<typeof setupSchema>;
/** What only this evening knows. */
export type Live = v.InferOutput<typeof liveSchema>;
export type ShowState = v.InferOutput<typeof showStateSchema>;

/** A new event: nothing in it, black in the program, cutting, prepared way of working. */
export function emptyShow(eventId: string, title: string, startsAt: string, picture: Picture): ShowState {
	return {
		version: VERSION,
		eventId,
		setup: {
			title,
			startsAt,
			timeZone: '',
			fields: [],
			hostTitle: '',
			hostDescription: '',
			overAt: '',
			picture,
			sources: [],
			scenes: [],
			background: null,
			people: [],
			look: plainLook(),
			overlays: [],
			patches: [],
			transition: { ...CUT, durationMs: 500 },
			direct: false,
			channels: [],
			mix: plainMix(),
			destinations: [],
			delivery: plainDelivery(),
			cues: [],
			words: plainWords(),
			macros: [],
			panels: [],
			surfaces: [],
			prepared: [],
		},
		live: emptyLive(),
	};
}

/** Nothing is on air, and nothing has happened. */
export function emptyLive(): Live {
	return {
		drafts: [],
		program: null,
		next: null,
		previous: null,
		take: { count: 0, from: null, transition: { ...CUT }, at: 0, calledBack: false },
		lever: 0,
		black: false,
		shown: {},
		hushed: false,
		pressed: [],
		transports: {},
		progress: noProgress(),
		sheetUnlocked: false,
		fade: { count: 0, ms: 0 },
		lines: [],
		removedDestinations: [],
		guests: [],
		guestScene: null,
		broadcast: null,
		words: noWords(),
		hall: plainHall(),
		macros: [],
		crew: [],
		noted: [],
		carried: [],
		due: [],
		hiddenMessages: [],
	};
}

/** True when viewers see the source now. */
export function isSourceOnAir(state: ShowState, sourceId: string): boolean {
	return isOnAir(state) && isSourceShown(state, sourceId);
}

/** True when the source is in the program: in its scene, behind it, or above it. */
export function isSourceShown({ setup, live }: ShowState, sourceId: string): boolean {
	const scene = setup.scenes.find(({ id }) => id === live.program);
	const behind = scene?.background.is === 'own' ? scene.background.sourceId : scene && setup.background;
	const above = setup.overlays.some(
		(overlay) => overlay.kind === 'picture' && live.shown[overlay.id] && overlay.sourceId === sourceId,
	);
	return above || behind === sourceId || (scene?.layers ?? []).some((layer) => layer.sourceId === sourceId);
}

/** True between start and end of a broadcast. */
export function isOnAir({ live: { broadcast } }: Pick<ShowState, 'live'>): boolean {
	return broadcast !== null && broadcast.endedAt === null;
}

/** True between start and end of a rehearsal. */
export function isRehearsal(state: ShowState): boolean {
	return isOnAir(state) && state.live.broadcast!.rehearsal;
}

/** True while the program goes to somebody: a broadcast without destinations is only recorded. */
export function isSent(state: ShowState): boolean {
	const renditions = isOnAir(state) ? state.live.broadcast!.renditions : [];
	return renditions.some(({ destinationIds }) => destinationIds.length > 0);
}

/** Id of the entry under `live.due` that ends the broadcast. */
export const END_DUE = 'end';

/** When the broadcast ends by itself, milliseconds since 1970; null while nobody has said so. */
export function endsAt({ live }: Pick<ShowState, 'live'>): number | null {
	return live.due.find(({ id }) => id === END_DUE)?.at ?? null;
}
