/** Short messages among the crew: from whoever directs to who stands behind a camera, and back. */
import * as v from 'valibot';
import { idSchema, nameSchema, timeSchema } from '../basics.ts';

/** The newest ones that are kept. */
export const MOST_CREW_MESSAGES = 40;
export const MOST_PREPARED = 24;
const MOST_SEEN = 40;

/** What a message says: read at a glance, in the dark. */
export const crewTextSchema = v.pipe(v.string(), v.trim(), v.minLength(1, 'textEmpty'), v.maxLength(160, 'textLong'));

/** Pages that show messages; guests read them among those that the crew writes to each of them. */
export const CREW_PAGES = ['desk', 'panel', 'tally', 'sheet', 'stage', 'words', 'guests'] as const;

/** Who is meant: all pages, all of a kind, or whoever stands behind one camera. */
export const crewToSchema = v.variant('is', [
	v.object({ is: v.literal('all') }),
	v.object({ is: v.literal('pages'), page: v.picklist(CREW_PAGES) }),
	v.object({ is: v.literal('camera'), sourceId: idSchema }),
]);

export const crewMessageSchema = v.object({
	id: idSchema,
	text: crewTextSchema,
	to: crewToSchema,
	/** Who says it, as their page calls itself. */
	from: nameSchema,
	/** Milliseconds since 1970. */
	at: timeSchema,
	/** Who has seen it, as their pages call themselves. */
	seenBy: v.pipe(v.array(nameSchema), v.maxLength(MOST_SEEN)),
});

export type CrewTo = v.InferOutput<typeof crewToSchema>;
export type CrewMessage = v.InferOutput<typeof crewMessageSchema>;
export type CrewPage = (typeof CREW_PAGES)[number];

/** Where somebody reads: a page, and the camera that they stand behind. */
export interface CrewPlace {
	page: CrewPage;
	sourceId: string | null;
}

/** True for a message that is for whoever reads there. */
export function isFor({ to }: Pick<CrewMessage, 'to'>, { page, sourceId }: CrewPlace): boolean {
	if (to.is === 'all') return true;
	return to.is === 'pages' ? to.page === page : to.sourceId === sourceId;
}

/** The newest message for somebody that they have not seen; null when there is none. */
export function unseenFor(messages: readonly CrewMessage[], place: CrewPlace, reader: string): CrewMessage | null {
	return (
		messages.findLast((each) => isFor(each, place) && each.from !== reader && !each.seenBy.includes(reader)) ?? null
	);
}
