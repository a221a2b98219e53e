/** What lies above whatever is on air: names, tickers, logos, and privacy patches. */
import * as v from 'valibot';
import { boxSchema, cropSchema, idSchema, nameSchema, textSchema, within } from './basics.ts';
import { FITS } from './scene.ts';

/** Somebody who may speak, sing or be thanked: for lower thirds and cards. */
export const personSchema = v.object({ id: idSchema, name: nameSchema, role: v.pipe(v.string(), v.maxLength(160)) });

const common = {
	id: idSchema,
	name: nameSchema,
	/** `every` scene, or those named. */
	reach: v.union([v.literal('every'), v.array(idSchema)]),
	/** Shown for so long; until pressed again when 0. */
	showMs: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(600_000)),
	move: v.picklist(['none', 'fade', 'rise']),
	/** When it was shown, milliseconds since 1970, and how often before; null while it is not. */
	shown: v.nullable(v.object({ at: v.number(), count: v.number() })),
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
	strength: v.pipe(v.number(), v.integer(), within(1, 10)),
	on: v.boolean(),
	/** Goes with the page behind it when that scrolls; while it is not certain where to, all of the source is patched. */
	follow: v.optional(v.boolean(), false),
});

export type Person = v.InferOutput<typeof personSchema>;
export type Overlay = v.InferOutput<typeof overlaySchema>;
export type PrivacyPatch = v.InferOutput<typeof patchSchema>;

/** True while an overlay is to be seen. `now` is on the clock that `shown.at` came from. */
export function isShown({ shown, showMs }: Overlay, now: number): boolean {
	return shown !== null && (showMs === 0 || now - shown.at < showMs);
}
