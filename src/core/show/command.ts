/** Everything that can change during an event. A command is checked where it enters: at the hub and on the desk. */
import * as v from 'valibot';
import { idSchema, nameSchema, partSchema, within } from './basics.ts';
import { overlaySchema, patchSchema, personSchema } from './overlay.ts';
import { sceneSchema, transitionSchema } from './scene.ts';
import { sourceSchema } from './source.ts';
import { channelSchema, duckingSchema, faderSchema, groupSchema, masterSchema, snapshotSchema } from './mix.ts';
import { deliverySchema, lineSchema } from './delivery.ts';
import { destinationSchema, messageIdSchema, pictureSchema } from './state.ts';

const place = v.optional(v.pipe(v.number(), v.integer(), v.minValue(0)));

export const commandSchema = v.variant('type', [
	v.object({ type: v.literal('renameEvent'), title: nameSchema }),
	v.object({ type: v.literal('setPicture'), picture: pictureSchema }),

	/** A source comes with its scenes and channels, so that undoing a removal brings all of them back. */
	v.object({
		type: v.literal('addSource'),
		source: sourceSchema,
		scenes: v.array(sceneSchema),
		channels: v.array(channelSchema),
		/** Overlays that show it, and patches that lie on it from its first picture on. */
		overlays: v.optional(v.array(overlaySchema), () => []),
		patches: v.optional(v.array(patchSchema), () => []),
		/** Place in the list; the end when absent. */
		at: place,
		sceneAt: place,
	}),
	v.object({ type: v.literal('removeSource'), sourceId: idSchema }),
	v.object({ type: v.literal('renameSource'), sourceId: idSchema, name: nameSchema }),

	/** Everything about a source but its kind: origin, framings, corrections. Its name is changed by `renameSource`. */
	v.object({ type: v.literal('changeSource'), source: sourceSchema }),

	v.object({ type: v.literal('addScene'), scene: sceneSchema, at: place }),
	/** On air the change waits for the next take of the scene, unless it is made `live`. */
	v.object({ type: v.literal('changeScene'), scene: sceneSchema, live: v.boolean() }),
	/** Forgets what waits for the next take. */
	v.object({ type: v.literal('dropDraft'), sceneId: idSchema }),
	v.object({ type: v.literal('removeScene'), sceneId: idSchema }),
	v.object({ type: v.literal('moveScene'), sceneId: idSchema, at: v.pipe(v.number(), v.integer(), v.minValue(0)) }),
	v.object({ type: v.literal('setBackground'), sourceId: v.nullable(idSchema) }),

	v.object({ type: v.literal('setPeople'), people: v.pipe(v.array(personSchema), v.maxLength(200)) }),
	v.object({ type: v.literal('addOverlay'), overlay: overlaySchema, at: place }),
	v.object({ type: v.literal('changeOverlay'), overlay: overlaySchema }),
	v.object({ type: v.literal('removeOverlay'), overlayId: idSchema }),
	v.object({ type: v.literal('moveOverlay'), overlayId: idSchema, at: v.pipe(v.number(), v.integer(), v.minValue(0)) }),
	/** Shows it from the beginning, also when it is shown already; a lower third may be given who it names. */
	v.object({ type: v.literal('showOverlay'), overlayId: idSchema, personId: v.optional(idSchema) }),
	v.object({ type: v.literal('hideOverlay'), overlayId: idSchema }),

	v.object({ type: v.literal('addPatch'), patch: patchSchema }),
	v.object({ type: v.literal('changePatch'), patch: patchSchema }),
	v.object({ type: v.literal('removePatch'), patchId: idSchema }),

	v.object({ type: v.literal('setNext'), sceneId: v.nullable(idSchema) }),
	/** Puts Next on air, or the scene named, with the chosen transition or the one given. */
	v.object({
		type: v.literal('take'),
		sceneId: v.optional(idSchema),
		transition: v.optional(transitionSchema),
	}),
	/** Takes what was on air before. */
	v.object({ type: v.literal('takeBack') }),
	/** Calls back the newest take: what was on air before returns the way it went. */
	v.object({ type: v.literal('callBack') }),
	/** Moves the hand lever; at its end Next is on air. */
	v.object({ type: v.literal('setLever'), position: partSchema }),
	v.object({ type: v.literal('setBlack'), black: v.boolean() }),
	v.object({ type: v.literal('setTransition'), transition: transitionSchema }),
	v.object({ type: v.literal('setDirect'), direct: v.boolean() }),

	v.object({ type: v.literal('addChannel'), channel: channelSchema, at: place }),
	/** Everything of a channel but its fader and mute, which somebody else may be moving. */
	v.object({ type: v.literal('changeChannel'), channel: channelSchema }),
	v.object({ type: v.literal('removeChannel'), channelId: idSchema }),
	v.object({ type: v.literal('setFader'), channelId: idSchema, gainDb: faderSchema }),
	v.object({ type: v.literal('setMute'), channelId: idSchema, muted: v.boolean() }),
	/** Its button is held or let go. */
	v.object({ type: v.literal('pressChannel'), channelId: idSchema, pressed: v.boolean() }),
	/** By hand, or in a timed fade. */
	v.object({
		type: v.literal('setGroupFader'),
		group: groupSchema,
		gainDb: faderSchema,
		fadeMs: v.optional(within(0, 60_000)),
	}),
	v.object({ type: v.literal('setGroupMute'), group: groupSchema, muted: v.boolean() }),
	v.object({ type: v.literal('setDucking'), ducking: duckingSchema }),
	v.object({ type: v.literal('setMaster'), master: masterSchema }),
	/** Keeps a snapshot under its id, in place of a former one. */
	v.object({ type: v.literal('storeSnapshot'), snapshot: snapshotSchema }),
	v.object({ type: v.literal('removeSnapshot'), snapshotId: idSchema }),
	/** Fades the channels that a snapshot touches to what it keeps of them. */
	v.object({ type: v.literal('recallSnapshot'), snapshotId: idSchema, fadeMs: within(0, 60_000) }),
	v.object({ type: v.literal('setHush'), hushed: v.boolean() }),

	v.object({ type: v.literal('addDestination'), destination: destinationSchema, at: place }),
	v.object({ type: v.literal('changeDestination'), destination: destinationSchema }),
	v.object({ type: v.literal('removeDestination'), destinationId: idSchema }),
	v.object({ type: v.literal('tickDestination'), destinationId: idSchema, ticked: v.boolean() }),

	/** Everything about delivery but measurements, which only `addLine` brings. */
	v.object({ type: v.literal('setDelivery'), delivery: v.omit(deliverySchema, ['lines']) }),
	v.object({ type: v.literal('addLine'), line: lineSchema }),
	/** A moment worth finding again in the recording. */
	v.object({ type: v.literal('addMarker'), text: nameSchema }),
	/** A message of a viewer is not shown any more, or again. */
	v.object({ type: v.literal('hideMessage'), messageId: messageIdSchema, hidden: v.boolean() }),
	/** A rehearsal is all the same, but goes to a private stand-in only. */
	v.object({
		type: v.literal('startBroadcast'),
		broadcastId: idSchema,
		rehearsal: v.optional(v.boolean()),
	}),
	v.object({ type: v.literal('endBroadcast') }),
	/** Lets the broadcast end by itself after a while, with a scene put on air for that; null in place of the while keeps it on. */
	v.object({
		type: v.literal('planEnd'),
		inMs: v.nullable(within(0, 86_400_000)),
		sceneId: v.nullable(idSchema),
	}),
]);

export type Command = v.InferOutput<typeof commandSchema>;
