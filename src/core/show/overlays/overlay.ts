/** What lies above whatever is on air: names, tickers, logos, and privacy patches. */
import * as v from 'valibot';
import {
	boxSchema,
	countSchema,
	cropSchema,
	idSchema,
	nameSchema,
	textSchema,
	timeSchema,
	wholeWithin,
} from '../basics.ts';
import { FITS, MOST_SCENES } from '../scenes/scene.ts';

/** Somebody who may speak, sing or be thanked: for lower thirds and cards. */
export const personSchema = v.object({ id: idSchema, name: nameSchema, role: v.pipe(v.string(), v.maxLength(160)) });

/** As many as a page can list and a welcome can carry. */
export const MOST_PEOPLE = 200;
export const MOST_OVERLAYS = 60;
export const MOST_PATCHES = 100;

/** What words stand on: nothing but a soft edge around their letters, a band across the picture, a panel as wide as they are. */
export const GROUNDS = ['edge', 'band', 'panel'] as const;

const common = {
	id: idSchema,
	name: nameSchema,
	/** `every` scene, or those named. */
	reach: v.union([v.literal('every'), v.pipe(v.array(idSchema), v.maxLength(MOST_SCENES))]),
	/** Shown for so long; until pressed again when 0. */
	showMs: wholeWithin(0, 600_000),
	move: v.picklist(['none', 'fade', 'rise', 'slide']),
};

export const overlaySchema = v.variant('kind', [
	v.object({
		...common,
		kind: v.literal('lowerThird'),
		/** Who is named; nobody yet when null. */
		personId: v.nullable(idSchema),
		side: v.picklist(['left', 'right']),
	}),
	v.object({ ...common, kind: v.literal('ticker'), text: textSchema }),
	/** The line that is sung or read: words/standing.ts. */
	v.object({ ...common, kind: v.literal('words'), ground: v.picklist(GROUNDS), place: v.picklist(['bottom', 'top']) }),
	/** Any source as a logo, a frame with holes, a card. */
	v.object({ ...common, kind: v.literal('picture'), sourceId: idSchema, box: boxSchema, fit: v.picklist(FITS) }),
]);

export const PATCH_STYLES = ['blur', 'mosaic', 'solid'] as const;

/** A region made unreadable: of a source, wherever that is shown, or of the program. */
export const patchSchema = v.object({
	id: idSchema,
	name: nameSchema,
	/** Null for the program. */
	sourceId: v.nullable(idSchema),
	area: cropSchema,
	style: v.picklist(PATCH_STYLES),
	/** 1 to 10: each step leaves less than the one before. */
	strength: wholeWithin(1, 10),
	on: v.boolean(),
	/** Goes with the page behind it when that scrolls; while it is not certain where to, all of the source is patched. */
	follow: v.optional(v.boolean(), false),
});

export type Person = v.InferOutput<typeof personSchema>;
export type Overlay = v.InferOutput<typeof overlaySchema>;
export type PrivacyPatch = v.InferOutput<typeof patchSchema>;

/** Shows words in every scene, until it is hidden. */
export function plainWordsOverlay(id: string, name: string): Overlay {
	return { id, name, kind: 'words', reach: 'every', showMs: 0, move: 'fade', ground: 'edge', place: 'bottom' };
}

/** When an overlay was shown, milliseconds since 1970, and how often so far: a new count begins its move anew. */
export const showingSchema = v.object({ at: timeSchema, count: countSchema });
export type Showing = v.InferOutput<typeof showingSchema>;

/**
 * True while an overlay is to be seen.
 * @param showing since when it is shown, if it is
 * @param now on the clock that `showing.at` came from
 */
export function isShown({ showMs }: Overlay, showing: Showing | undefined, now: number): boolean {
	return showing !== undefined && (showMs === 0 || now - showing.at < showMs);
}
