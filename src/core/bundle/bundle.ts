/**
 * Bundles: events, templates, songs and files in one zip, from one Bivvo to another. `bivvo.json` says what is in it (docs/bundle.md);
 * files lie beside it. Published as docs/bundle.schema.json.
 */
import * as v from 'valibot';
import { idSchema, nameSchema, timeSchema } from '../show/basics.ts';
import { destinationSchema } from '../show/delivery/destination.ts';
import { asksSchema } from '../show/templates/template.ts';
import { mediaAboutSchema, mediaAnalysisSchema, mediaSettingsSchema, folderSchema } from '../media/media.ts';
import { songSchema } from '../words/song.ts';

/** Raised when a bundle of this version could not be read by the one before. */
export const BUNDLE_VERSION = 1;
export const BUNDLE_FILE = 'bivvo.json';

const sha256Schema = v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/));
const bytesSchema = v.pipe(v.number(), v.integer(), v.minValue(0));
/** A file of the zip: where it lies, how long it is, and what is in it. */
export const bundledFileSchema = v.object({
	path: v.pipe(v.string(), v.regex(/^(media|stills)\/[a-zA-Z0-9_-]{1,64}(\/[a-zA-Z0-9_-]{1,64})?(\.(poster|strip))?$/)),
	bytes: bytesSchema,
	sha256: sha256Schema,
});

/** A show of any version, as it is stored; read by core/show/stored.ts. */
const showSchema = v.looseObject({ version: v.optional(v.number()) });

const savedSchema = v.omit(destinationSchema, ['ticked', 'details', 'hostBroadcast']);

export const bundleSchema = v.object({
	format: v.literal('bivvo'),
	version: v.pipe(v.number(), v.integer(), v.minValue(1)),
	events: v.pipe(v.array(v.object({ id: idSchema, title: nameSchema, show: showSchema })), v.maxLength(2000)),
	templates: v.pipe(
		v.array(v.object({ id: idSchema, name: nameSchema, asks: asksSchema, show: showSchema })),
		v.maxLength(500),
	),
	songs: v.pipe(v.array(v.object({ id: idSchema, song: songSchema, changedAt: timeSchema })), v.maxLength(20_000)),
	media: v.pipe(
		v.array(
			v.object({
				id: idSchema,
				name: nameSchema,
				folder: folderSchema,
				addedAt: timeSchema,
				about: mediaAboutSchema,
				analysis: v.nullable(mediaAnalysisSchema),
				settings: mediaSettingsSchema,
				file: bundledFileSchema,
				/** Poster and strip of thumbnails, as far as there are any. */
				pictures: v.pipe(v.array(bundledFileSchema), v.maxLength(2)),
			}),
		),
		v.maxLength(20_000),
	),
	/** Pictures of events and templates. */
	stills: v.pipe(v.array(v.object({ of: idSchema, id: idSchema, file: bundledFileSchema })), v.maxLength(50_000)),
	/** Where events are sent: without keys and passwords. */
	destinations: v.pipe(v.array(savedSchema), v.maxLength(500)),
	/** Keys, passwords and access codes, sealed with a passphrase; null where they stayed at home. */
	secrets: v.nullable(
		v.object({ salt: v.pipe(v.string(), v.maxLength(100)), sealed: v.pipe(v.string(), v.maxLength(2_000_000)) }),
	),
});

export type Bundle = v.InferOutput<typeof bundleSchema>;
export type BundledFile = v.InferOutput<typeof bundledFileSchema>;

/** What is said of a bundle before it is taken in. */
export interface BundleSummary {
	events: string[];
	templates: string[];
	songs: number;
	media: number;
	bytes: number;
	hasSecrets: boolean;
}

export function summaryOf({ events, templates, songs, media, secrets }: Bundle): BundleSummary {
	return {
		events: events.map(({ title }) => title),
		templates: templates.map(({ name }) => name),
		songs: songs.length,
		media: media.length,
		bytes: media.reduce((sum, { file }) => sum + file.bytes, 0),
		hasSecrets: secrets !== null,
	};
}

/** All files that a bundle says it has, each once. */
export function filesOf({ media, stills }: Pick<Bundle, 'media' | 'stills'>): BundledFile[] {
	const all = [...media.flatMap(({ file, pictures }) => [file, ...pictures]), ...stills.map(({ file }) => file)];
	return [...new Map(all.map((file) => [file.path, file])).values()];
}

/** A stored show with other ids of what belongs to the organisation, where they are other ones here. */
export function withOtherIds(show: unknown, ids: ReadonlyMap<string, string>): unknown {
	if (ids.size === 0) return show;
	const walk = (value: unknown, key: string): unknown => {
		if (Array.isArray(value)) return value.map((each) => walk(each, key));
		if (typeof value === 'object' && value !== null)
			return Object.fromEntries(Object.entries(value).map(([name, each]) => [name, walk(each, name)]));
		const isReference = key === 'mediaId' || key === 'songId';
		return isReference && typeof value === 'string' ? (ids.get(`${key} ${value}`) ?? value) : value;
	};
	return walk(show, '');
}
