/** Schemas of a show as it is stored: its setup, which can be used again, and what only this evening knows. */
import * as v from 'valibot';
import { idSchema, nameSchema, partSchema, textSchema, timeSchema } from './basics.ts';
import { broadcastSchema, messageIdSchema, MOST_HIDDEN } from './broadcast/broadcast.ts';
import { notedSchema, MOST_NOTED } from './broadcast/noted.ts';
import { MOST_BATCH, singleCommandSchema } from './command.ts';
import { crewMessageSchema, crewTextSchema, MOST_CREW_MESSAGES, MOST_PREPARED } from './crew/crew.ts';
import { deliverySchema, lineSchema, MOST_LINES, plainDelivery } from './delivery/delivery.ts';
import { destinationSchema, MOST_DESTINATIONS } from './delivery/destination.ts';
import { transportSchema } from './clips/clip.ts';
import { carriedSchema, MOST_CARRIED } from './event/carried.ts';
import { fieldSchema, MOST_FIELDS } from './event/fields.ts';
import { lookSchema, plainLook } from './event/look.ts';
import { pictureSchema } from './event/picture.ts';
import { startSchema, timeZoneSchema } from './event/time-zone.ts';
import { guestSchema, MOST_GUESTS } from './guests/guest.ts';
import { macroRunSchema, macroSchema, MOST_MACROS } from './macros/macro.ts';
import { channelSchema, fadeSchema, mixSchema, MOST_CHANNELS, plainMix } from './mix/mix.ts';
import {
	MOST_OVERLAYS,
	MOST_PATCHES,
	MOST_PEOPLE,
	overlaySchema,
	patchSchema,
	personSchema,
	showingSchema,
} from './overlays/overlay.ts';
import { MOST_PANELS, panelSchema } from './panels/panel.ts';
import { clockTimeSchema, cueSchema, MOST_CUES, noProgress, progressSchema } from './runsheet/cue.ts';
import { MOST_SCENES, sceneSchema, transitionSchema } from './scenes/scene.ts';
import { MOST_SOURCES, sourceSchema } from './sources/source.ts';
import { surfaceProfileSchema } from '../surface/profile.ts';
import { MOST_SURFACES } from './surfaces/commands.ts';
import { takeSchema } from './takes/take.ts';
import { VERSION } from './version.ts';
import { hallSchema, noWords, plainHall, plainWords, wordsPlaceSchema, wordsSchema } from './words/words.ts';

/** A list of at most so many entries; empty where it is missing. */
const list = <S extends v.GenericSchema>(entry: S, most: number) =>
	v.optional(v.pipe(v.array(entry), v.maxLength(most)), () => []);

/** Later additions have defaults, for events that were stored before them. */
export const setupSchema = v.object({
	title: nameSchema,
	startsAt: startSchema,
	/** Where it takes place, a zone of the IANA database; UTC while it is empty. */
	timeZone: v.optional(timeZoneSchema, ''),
	/** What changes from evening to evening, named in texts. */
	fields: list(fieldSchema, MOST_FIELDS),
	/** What hosts are told of the event; its own title when empty. */
	hostTitle: v.optional(textSchema, ''),
	hostDescription: v.optional(v.pipe(v.string(), v.maxLength(2000)), ''),
	/** When the evening should be over, a time of day; empty for none. */
	overAt: v.optional(clockTimeSchema, ''),
	picture: pictureSchema,
	sources: list(sourceSchema, MOST_SOURCES),
	scenes: list(sceneSchema, MOST_SCENES),
	/** The source that stands behind every scene without a background of its own. */
	background: v.optional(v.nullable(idSchema), null),
	people: list(personSchema, MOST_PEOPLE),
	/** Of all that is drawn for viewers. */
	look: v.optional(lookSchema, () => plainLook()),
	/** From back to front. */
	overlays: list(overlaySchema, MOST_OVERLAYS),
	patches: list(patchSchema, MOST_PATCHES),
	/** How scenes are taken that have no transition of their own. */
	transition: transitionSchema,
	/** Direct way of working: choosing a scene takes it at once. */
	direct: v.boolean(),
	channels: list(channelSchema, MOST_CHANNELS),
	mix: v.optional(mixSchema, () => plainMix()),
	destinations: list(destinationSchema, MOST_DESTINATIONS),
	delivery: v.optional(deliverySchema, () => plainDelivery()),
	/** The run sheet, in order. */
	cues: list(cueSchema, MOST_CUES),
	/** Songs and texts of the evening. */
	words: v.optional(wordsSchema, () => plainWords()),
	macros: list(macroSchema, MOST_MACROS),
	panels: list(panelSchema, MOST_PANELS),
	/** What control surfaces do, each by its name. */
	surfaces: list(surfaceProfileSchema, MOST_SURFACES),
	/** Messages of the crew that are a press away. */
	prepared: list(crewTextSchema, MOST_PREPARED),
});

/** Commands that are done by themselves at a time, as one batch; the hub does them, whoever is connected. */
export const dueSchema = v.object({
	id: idSchema,
	/** Milliseconds since 1970, by the server's clock. */
	at: timeSchema,
	batch: v.pipe(v.array(singleCommandSchema), v.maxLength(MOST_BATCH)),
});

/** Entries that can be due at a time. */
const MOST_DUE = 200;

export const liveSchema = v.object({
	/** Changes to a scene on air that wait for its next take, so that viewers see them at once and whole. */
	drafts: list(sceneSchema, MOST_SCENES),
	/** Scene ids; null is black. */
	program: v.nullable(idSchema),
	next: v.nullable(idSchema),
	previous: v.nullable(idSchema),
	take: takeSchema,
	/** How far the hand lever is from the program to Next, 0 to 1. */
	lever: v.optional(partSchema, 0),
	/** The program is black, overlays and all, whatever is on air beneath. */
	black: v.optional(v.boolean(), false),
	/** Overlays that were shown and not hidden since, by id. */
	shown: v.optional(v.record(idSchema, showingSchema), () => ({})),
	/** Hush: all of the stream mix silent. */
	hushed: v.boolean(),
	/** Channels whose button is held: they are heard if they are such that wait for that. */
	pressed: list(idSchema, MOST_CHANNELS),
	/** Where clips are that were moved from their beginning, by source. */
	transports: v.optional(v.record(idSchema, transportSchema), () => ({})),
	/** How far the evening has come on its run sheet. */
	progress: v.optional(progressSchema, () => noProgress()),
	/** True while the run sheet may be changed on air. */
	sheetUnlocked: v.optional(v.boolean(), false),
	fade: v.optional(fadeSchema, () => ({ count: 0, ms: 0 })),
	/** Measurements of the line, the newest last. */
	lines: list(lineSchema, MOST_LINES),
	/** Destinations that were removed from this event, for the way back; the newest last. */
	removedDestinations: list(destinationSchema, MOST_DESTINATIONS),
	/** In the order in which they came. */
	guests: list(guestSchema, MOST_GUESTS),
	/** The scene that guests may see besides the program. */
	guestScene: v.optional(v.nullable(idSchema), null),
	broadcast: v.nullable(broadcastSchema),
	words: v.optional(wordsPlaceSchema, () => noWords()),
	hall: v.optional(hallSchema, () => plainHall()),
	/** Macros that run, or have run, with the commands that take them back, the first to be done first. */
	macros: list(
		v.object({ ...macroRunSchema.entries, back: v.pipe(v.array(singleCommandSchema), v.maxLength(MOST_BATCH)) }),
		MOST_MACROS + 1,
	),
	/** Messages among the crew, the newest last. */
	crew: list(crewMessageSchema, MOST_CREW_MESSAGES),
	/** What goes into the log, or to viewers, the newest last. */
	noted: list(notedSchema, MOST_NOTED),
	/** What was taken over from another event and may still be last time's. */
	carried: list(carriedSchema, MOST_CARRIED),
	due: list(dueSchema, MOST_DUE),
	/** Messages of viewers that somebody has hidden, the newest last. */
	hiddenMessages: list(messageIdSchema, MOST_HIDDEN),
});

export const showStateSchema = v.object({
	version: v.literal(VERSION),
	eventId: idSchema,
	setup: setupSchema,
	live: liveSchema,
});
