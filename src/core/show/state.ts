/**
 * What an event is made of, and what is going on in it: everything an operator sees is derived from this.
 * The types come from the schemas, so that what is stored and what is compiled cannot differ.
 */
import * as v from 'valibot';
import { idSchema, nameSchema, partSchema, within } from './basics.ts';
import { deliverySchema, plainDelivery, renditionSchema } from './delivery.ts';
import { channelSchema, mixSchema, plainMix } from './mix.ts';
import { overlaySchema, patchSchema, personSchema } from './overlay.ts';
import { CUT, sceneSchema, transitionSchema } from './scene.ts';
import { sourceSchema } from './source.ts';
import { trackSchema } from './tracks.ts';

export const FRAME_RATES = [25, 30, 50, 60] as const;

/** The event's picture. All scenes are composed at this size and pace. */
export const pictureSchema = v.union(
	[
		v.object({ width: v.literal(1280), height: v.literal(720), fps: v.picklist(FRAME_RATES) }),
		v.object({ width: v.literal(1920), height: v.literal(1080), fps: v.picklist(FRAME_RATES) }),
	],
	'The picture is 1280 × 720 or 1920 × 1080 at 25, 30, 50 or 60 frames a second.',
);

export const webAddressSchema = v.pipe(
	v.string(),
	v.maxLength(500),
	v.regex(/^https?:\/\/[^\s@]+$/, 'The address of the account begins with https:// and has no blanks.'),
);

export const VISIBILITIES = ['public', 'unlisted', 'private'] as const;

/** What a host shows of an event. */
export const detailsSchema = v.object({
	title: nameSchema,
	description: v.pipe(v.string(), v.maxLength(2000, 'A description can have 2000 characters at most.')),
	visibility: v.picklist(VISIBILITIES),
	/** Planned start, ISO 8601 local time without zone, or empty. */
	plannedAt: v.pipe(v.string(), v.maxLength(40)),
});

/** Where the program is sent. Key and password are not here: they never leave the server unasked. */
export const destinationSchema = v.object({
	id: idSchema,
	name: nameSchema,
	address: v.pipe(v.string(), v.maxLength(500)),
	userName: v.pipe(v.string(), v.maxLength(200)),
	hasKey: v.boolean(),
	/** True when this event is sent there. */
	ticked: v.boolean(),
	/** What the host takes at most; null where it says nothing. Rate of picture and sound together, kbit/s. */
	maxHeight: v.optional(v.nullable(within(120, 4320)), null),
	maxKbps: v.optional(v.nullable(within(200, 100_000)), null),
	maxFps: v.optional(v.nullable(within(10, 120)), null),
	/** Where the host tells how viewers get the stream; null where it tells nothing. */
	accountUrl: v.optional(v.nullable(webAddressSchema), null),
	/** What its viewers are told of this event, where the host can be told; null leaves that to the host. */
	details: v.optional(v.nullable(detailsSchema), null),
});

/** A destination as the organisation keeps it: without what only one event has chosen. */
export type SavedDestination = Omit<Destination, 'ticked' | 'details'>;

/** Of a viewer's message: destination and number. */
export const messageIdSchema = v.pipe(v.string(), v.regex(/^[a-zA-Z0-9_-]{1,64}\/\d{1,15}$/));

export const broadcastSchema = v.object({
	id: idSchema,
	/** Milliseconds since 1970, by the server's clock. */
	startedAt: v.number(),
	endedAt: v.nullable(v.number()),
	/** True when it goes to a private stand-in only. */
	rehearsal: v.optional(v.boolean(), false),
	/** When it ends by itself; null while nobody has said so. */
	endsAt: v.optional(v.nullable(v.number()), null),
	/** How it is encoded, fixed at its start; the first one is recorded. */
	renditions: v.optional(v.array(renditionSchema), () => []),
	/** What is recorded beside the program, likewise. */
	tracks: v.optional(v.array(trackSchema), () => []),
});

export const showStateSchema = v.object({
	eventId: idSchema,
	title: nameSchema,
	/** Planned start, ISO 8601 local time without zone, or empty. */
	startsAt: v.pipe(v.string(), v.maxLength(40)),
	picture: pictureSchema,
	sources: v.array(sourceSchema),
	scenes: v.array(sceneSchema),
	/** Changes to a scene on air that wait for its next take, so that viewers see them at once and whole. */
	drafts: v.optional(v.array(sceneSchema), () => []),
	/** The source that stands behind every scene without a background of its own. */
	background: v.optional(v.nullable(idSchema), null),
	people: v.optional(v.array(personSchema), () => []),
	/** From back to front. */
	overlays: v.optional(v.array(overlaySchema), () => []),
	patches: v.optional(v.array(patchSchema), () => []),
	/** Scene ids; null is black. */
	program: v.nullable(idSchema),
	next: v.nullable(idSchema),
	previous: v.nullable(idSchema),
	transition: transitionSchema,
	/** Direct way of working: choosing a scene takes it at once. */
	direct: v.boolean(),
	/** The newest take: how the picture engine learns that the program changed, and how. */
	take: v.object({
		count: v.number(),
		from: v.nullable(idSchema),
		transition: transitionSchema,
		at: v.number(),
		/** True when it calls back a transition under way: the picture returns from where it is. */
		calledBack: v.optional(v.boolean(), false),
	}),
	/** How far the hand lever is from the program to Next, 0 to 1. */
	lever: v.optional(partSchema, 0),
	/** The program is black, overlays and all, whatever is on air beneath. */
	black: v.optional(v.boolean(), false),
	channels: v.array(channelSchema),
	mix: v.optional(mixSchema, () => plainMix()),
	/** Hush: all of the stream mix silent. */
	hushed: v.boolean(),
	destinations: v.array(destinationSchema),
	delivery: v.optional(deliverySchema, () => plainDelivery()),
	broadcast: v.nullable(broadcastSchema),
	/** Messages of viewers that somebody has hidden, the newest last. */
	hiddenMessages: v.optional(v.array(messageIdSchema), () => []),
});

export type Picture = v.InferOutput<typeof pictureSchema>;
export type Details = v.InferOutput<typeof detailsSchema>;
export type Destination = v.InferOutput<typeof destinationSchema>;
export type Broadcast = v.InferOutput<typeof broadcastSchema>;
export type ShowState = v.InferOutput<typeof showStateSchema>;

/** A new event: nothing in it, black in the program, cutting, prepared way of working. */
export function emptyShow(eventId: string, title: string, startsAt: string, picture: Picture): ShowState {
	return {
		eventId,
		title,
		startsAt,
		picture,
		sources: [],
		scenes: [],
		drafts: [],
		background: null,
		people: [],
		overlays: [],
		patches: [],
		program: null,
		next: null,
		previous: null,
		transition: { ...CUT, durationMs: 500 },
		direct: false,
		take: { count: 0, from: null, transition: { ...CUT }, at: 0, calledBack: false },
		lever: 0,
		black: false,
		channels: [],
		mix: plainMix(),
		hushed: false,
		destinations: [],
		delivery: plainDelivery(),
		broadcast: null,
		hiddenMessages: [],
	};
}

/** True when viewers see the source now. */
export function isSourceOnAir(state: ShowState, sourceId: string): boolean {
	return isOnAir(state) && isSourceShown(state, sourceId);
}

/** True when the source is in the program: in its scene, behind it, or above it. */
export function isSourceShown(state: ShowState, sourceId: string): boolean {
	const scene = state.scenes.find(({ id }) => id === state.program);
	const behind = scene?.background.is === 'own' ? scene.background.sourceId : scene && state.background;
	const above = state.overlays.some(
		(overlay) => overlay.kind === 'picture' && overlay.shown && overlay.sourceId === sourceId,
	);
	return above || behind === sourceId || (scene?.layers ?? []).some((layer) => layer.sourceId === sourceId);
}

/** True between start and end of sending. */
export function isOnAir(state: ShowState): boolean {
	return state.broadcast !== null && state.broadcast.endedAt === null;
}

/** True between start and end of a rehearsal. */
export function isRehearsal(state: ShowState): boolean {
	return isOnAir(state) && state.broadcast!.rehearsal;
}

/** True while the program goes to somebody: a broadcast without destinations is only recorded. */
export function isSent(state: ShowState): boolean {
	const renditions = isOnAir(state) ? state.broadcast!.renditions : [];
	return renditions.some(({ destinationIds }) => destinationIds.length > 0);
}
