/** Sources: all that brings a picture or a sound, and how its picture is treated wherever it is shown. */
import * as v from 'valibot';
import { cropSchema, idSchema, nameSchema, within } from '../basics.ts';
import type { SourceKind } from './kind.ts';
import { KINDS, type KindName } from './kinds.ts';

export const MOST_SOURCES = 60;
export const MOST_FRAMINGS = 24;

/** How a picture is corrected. The neutral values change nothing. */
export const adjustSchema = v.object({
	/** Added to luma, in parts of its range. */
	brightness: within(-0.5, 0.5),
	/** Factors around the middle. */
	contrast: within(0, 2),
	saturation: within(0, 2),
	gamma: within(0.3, 3),
	/** The chroma that is taken for grey, less 128: what a picked grey spot had. */
	grey: v.object({ u: within(-64, 64), v: within(-64, 64) }),
});
export const NEUTRAL: Readonly<Adjust> = {
	brightness: 0,
	contrast: 1,
	saturation: 1,
	gamma: 1,
	grey: { u: 0, v: 0 },
};

/** A named crop of a source, used as if it were a camera of its own. */
export const framingSchema = v.object({ id: idSchema, name: nameSchema, crop: cropSchema });

const common = {
	id: idSchema,
	name: nameSchema,
	framings: v.optional(v.pipe(v.array(framingSchema), v.maxLength(MOST_FRAMINGS)), () => []),
	adjust: v.optional(adjustSchema, () => ({ ...NEUTRAL })),
};

type Kinds = typeof KINDS;
type SchemaOf<K extends string, F> = F extends v.ObjectEntries
	? v.ObjectSchema<typeof common & { kind: v.LiteralSchema<K, undefined> } & F, undefined>
	: never;
type SourceSchemas = { [K in KindName]: SchemaOf<K, Kinds[K]['fields']> };

const schemas = Object.entries(KINDS).map(([kind, { fields }]) =>
	v.object({ ...common, kind: v.literal(kind), ...fields }),
) as unknown as SourceSchemas[KindName][];

export const sourceSchema = v.variant('kind', schemas);

export type Adjust = v.InferOutput<typeof adjustSchema>;
export type Framing = v.InferOutput<typeof framingSchema>;
export type Source = v.InferOutput<SourceSchemas[KindName]>;
/** A source of one kind. */
export type SourceOf<K extends KindName> = v.InferOutput<SourceSchemas[K]>;
/** What only sources of a kind have: where it comes from. */
export type OriginOf<K extends KindName> = Omit<SourceOf<K>, keyof typeof common>;
export type Origin = { [K in KindName]: OriginOf<K> }[KindName];

/** What a source's kind says of it. */
export function kindOf({ kind }: Pick<Source, 'kind'>): SourceKind {
	return KINDS[kind];
}

/** Where a source comes from: all of it but its name and what is done to its picture. */
export function originOf({ id: _, name: __, framings: ___, adjust: ____, ...origin }: Source): Origin {
	return origin;
}

/** A source without framings or corrections. */
export function plainSource<K extends KindName>(
	id: string,
	name: string,
	origin: OriginOf<K> & { kind: K },
): SourceOf<K> {
	return { id, name, framings: [], adjust: { ...NEUTRAL }, ...origin } as unknown as SourceOf<K>;
}
