/** Destinations: where the program is sent, as far as it may be seen, and what a host's viewers are told of the event. */
import * as v from 'valibot';
import { watchSchema } from '../../watch-page/place.ts';
import { idSchema, nameSchema, within } from '../basics.ts';

export const MOST_DESTINATIONS = 20;

export const webAddressSchema = v.pipe(v.string(), v.maxLength(500), v.regex(/^https?:\/\/[^\s@]+$/, 'accountForm'));

export const VISIBILITIES = ['public', 'unlisted', 'private'] as const;

/** What a host shows of an event. */
export const detailsSchema = v.object({
	title: nameSchema,
	description: v.pipe(v.string(), v.maxLength(2000, 'descriptionLong')),
	visibility: v.picklist(VISIBILITIES),
	/** Planned start, ISO 8601 local time without zone, or empty. */
	plannedAt: v.pipe(v.string(), v.maxLength(40)),
	/** A still of the event that stands for it at the host; null leaves that to the host. */
	pictureId: v.optional(v.nullable(idSchema), null),
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
	/** True for a key that stays the same from evening to evening. */
	keyLasts: v.optional(v.boolean(), false),
	/** Limits of the host; null where it names none. The rate is that of picture and sound together, kbit/s. */
	maxHeight: v.optional(v.nullable(within(120, 4320)), null),
	maxKbps: v.optional(v.nullable(within(200, 100_000)), null),
	maxFps: v.optional(v.nullable(within(10, 120)), null),
	/** Where the host tells how viewers get the stream; null where it tells nothing. */
	accountUrl: v.optional(v.nullable(webAddressSchema), null),
	/** A place at a host that the organisation is signed in to; null for one by address and key. */
	signed: v.optional(v.nullable(v.object({ hostId: idSchema, placeId: v.pipe(v.string(), v.maxLength(200)) })), null),
	/** A page of the organisation's own on which viewers watch; null for a host. */
	watch: v.optional(v.nullable(watchSchema), null),
	/** Title, description and visibility of this event at the host; null leaves them to the host. */
	details: v.optional(v.nullable(detailsSchema), null),
	/** The host's name for what is planned there for this event; null while nothing is, and where it has no names. */
	hostBroadcast: v.optional(v.nullable(v.pipe(v.string(), v.maxLength(200))), null),
});

export type Details = v.InferOutput<typeof detailsSchema>;
export type Destination = v.InferOutput<typeof destinationSchema>;

/** A destination as the organisation keeps it: without what only one event has chosen. */
export type SavedDestination = Omit<Destination, 'ticked' | 'details' | 'hostBroadcast'>;

/** True for one whose host can be told what viewers are to know, and asked how many watch. */
export function hasAccount({ accountUrl, signed }: Pick<Destination, 'accountUrl' | 'signed'>): boolean {
	return accountUrl !== null || signed !== null;
}
