/**
 * Fields of an event: what changes from evening to evening, such as who speaks. Written once, and named in curly brackets wherever it
 * is to be read: `Hut evening with {Speaker}`. Whatever viewers see follows.
 */
import * as v from 'valibot';
import { idSchema, nameSchema, placeSchema, textSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import { commands, withSetup, type Handlers } from '../slice.ts';
import type { Setup } from '../state.ts';

export const MOST_FIELDS = 20;

export const fieldSchema = v.object({
	id: idSchema,
	/** What it is called in texts, without brackets. */
	name: v.pipe(nameSchema, v.maxLength(40, 'nameLong'), v.regex(/^[^{}]*$/u, 'fieldName')),
	value: textSchema,
});

export type Field = v.InferOutput<typeof fieldSchema>;

const NAMED = /\{([^{}]{1,40})\}/gu;

const plain = (name: string) => name.trim().toLowerCase();

/** A text with fields in place of their names. A name that there is no field for stays as it is written. */
export function filled(text: string, fields: readonly Field[]): string {
	if (!text.includes('{')) return text;
	return text.replace(
		NAMED,
		(whole, name: string) => fields.find((each) => plain(each.name) === plain(name))?.value ?? whole,
	);
}

/** Names in a text that there is no field for, or that say nothing yet. */
export function unfilled(text: string, fields: readonly Field[]): string[] {
	const names = [...text.matchAll(NAMED)].map(([, name]) => name!.trim());
	return names.filter((name) => (fields.find((each) => plain(each.name) === plain(name))?.value.trim() ?? '') === '');
}

/** By list: texts are asked for with every picture that is drawn, and what is the same stays one object. */
const known = new WeakMap<object, { fields: readonly Field[]; made: unknown }>();

function kept<L extends object>(list: L, fields: readonly Field[], make: () => L): L {
	const before = known.get(list);
	if (before?.fields === fields) return before.made as L;
	const made = make();
	known.set(list, { fields, made });
	return made;
}

type Read = Pick<Setup, 'people' | 'overlays' | 'sources'>;

/** People, overlays and sources as viewers get them: with fields in all texts that they read. */
export function withFields({ fields, people, overlays, sources }: Read & Pick<Setup, 'fields'>): Read {
	if (fields.length === 0) return { people, overlays, sources };
	return {
		people: kept(people, fields, () =>
			people.map((person) => ({ ...person, name: filled(person.name, fields), role: filled(person.role, fields) })),
		),
		overlays: kept(overlays, fields, () =>
			overlays.map((overlay) =>
				overlay.kind === 'ticker' ? { ...overlay, text: filled(overlay.text, fields) } : overlay,
			),
		),
		sources: kept(sources, fields, () => sources.map((source) => filledSource(source, fields))),
	};
}

function filledSource(source: Setup['sources'][number], fields: readonly Field[]): Setup['sources'][number] {
	if (source.kind === 'clock') return { ...source, says: filled(source.says, fields) };
	if (source.kind !== 'card') return source;
	const lines = source.card.lines.map((line) => ('text' in line ? { ...line, text: filled(line.text, fields) } : line));
	return { ...source, card: { ...source.card, lines } };
}

/** All texts of a setup that may name fields. */
export function textsOf({
	people,
	overlays,
	sources,
	hostTitle,
	hostDescription,
}: Read & Pick<Setup, 'hostTitle' | 'hostDescription'>): string[] {
	return [
		...people.flatMap(({ name, role }) => [name, role]),
		...overlays.flatMap((overlay) => (overlay.kind === 'ticker' ? [overlay.text] : [])),
		...sources.flatMap((source) => {
			if (source.kind === 'clock') return [source.says];
			return source.kind === 'card' ? source.card.lines.flatMap((line) => ('text' in line ? [line.text] : [])) : [];
		}),
		...[hostTitle, hostDescription],
	];
}

export const fieldCommands = commands({
	addField: { field: fieldSchema, at: placeSchema },
	changeField: { field: fieldSchema },
	removeField: { fieldId: idSchema },
	/** What hosts are told: title and description, with fields; the event's own title when empty. */
	setHostTexts: { title: textSchema, description: v.pipe(v.string(), v.maxLength(2000, 'descriptionLong')) },
});

const fields = collection<Field>({
	what: 'field',
	most: MOST_FIELDS,
	list: ({ setup }) => setup.fields,
	put: (state, list) => withSetup(state, { fields: list }),
	adding: (field, at) => [{ type: 'addField', field, at }],
	changing: (field) => [{ type: 'changeField', field }],
	removing: ({ id: fieldId }) => [{ type: 'removeField', fieldId }],
});

export const fieldHandlers: Handlers<typeof fieldCommands> = {
	addField: (state, { field, at }) => fields.add(state, field, at),
	changeField: (state, { field }) => fields.change(state, field.id, () => field),
	removeField: (state, { fieldId }) => fields.remove(state, fieldId),
	setHostTexts: (state, { title, description }) => ({
		state: withSetup(state, { hostTitle: title, hostDescription: description }),
		inverse: [{ type: 'setHostTexts', title: state.setup.hostTitle, description: state.setup.hostDescription }],
	}),
};
