/** From version 1, in which setup and what is live were one, to version 2. */
import * as v from 'valibot';
import { batchOf, type Command, type SingleCommand } from '../command.ts';
import { overlaySchema, patchSchema, personSchema } from '../overlays/overlay.ts';
import { channelSchema } from '../mix/mix.ts';
import { sceneSchema } from '../scenes/scene.ts';
import { sourceSchema, type Framing } from '../sources/source.ts';
import { END_DUE, type ShowState } from '../state.ts';

type Raw = Record<string, unknown>;

const SETUP_1 = [
	'title',
	'startsAt',
	'picture',
	'sources',
	'scenes',
	'background',
	'people',
	'overlays',
	'patches',
	'transition',
	'direct',
	'channels',
	'mix',
	'destinations',
	'delivery',
] as const;
const LIVE_1 = [
	'drafts',
	'program',
	'next',
	'previous',
	'take',
	'lever',
	'black',
	'hushed',
	'broadcast',
	'hiddenMessages',
] as const;

/** A stored show of version 1 in the form of version 2; what is wrong in it stays wrong. */
export function upgradeFrom1(raw: Raw): Raw {
	const setup = {
		...picked(raw, SETUP_1),
		...(Array.isArray(raw.sources) && { sources: raw.sources.map(sourceFrom1) }),
	};
	const live = picked(raw, LIVE_1);
	const { mix, delivery } = raw as { mix?: Raw; delivery?: Raw };
	const overlays = entriesOf(raw.overlays).filter(({ shown }) => shown !== null && shown !== undefined);
	const pressed = entriesOf(raw.channels).filter((channel) => channel.pressed === true);
	const broadcast = raw.broadcast as Raw | null | undefined;
	const ends = broadcast && broadcast.endedAt === null && typeof broadcast.endsAt === 'number';
	return {
		version: 2,
		eventId: raw.eventId,
		setup,
		live: {
			...live,
			shown: Object.fromEntries(overlays.map(({ id, shown }) => [id, shown])),
			pressed: pressed.map(({ id }) => id),
			...(mix && 'fade' in mix && { fade: mix.fade }),
			...(delivery && 'lines' in delivery && { lines: delivery.lines }),
			due: ends ? [{ id: END_DUE, at: broadcast.endsAt, batch: [{ type: 'endBroadcast' }] }] : [],
		},
	};
}

/** In version 1 a source had a kind, and an origin that said once more what it was. */
function sourceFrom1(raw: unknown): unknown {
	const { kind, origin, ...rest } = (raw ?? {}) as { kind?: unknown; origin?: Raw };
	if (typeof origin !== 'object' || origin === null) return raw;
	const { from, ...fields } = origin;
	const isSound = kind === 'sound';
	const kinds: Record<string, string> = {
		standIn: isSound ? 'standInConsole' : 'standInCamera',
		device: isSound ? 'microphone' : 'camera',
		share: 'screen',
		file: 'still',
		card: 'card',
		colour: 'colour',
		clock: 'clock',
	};
	return { ...rest, ...fields, kind: kinds[String(from)] };
}

/** Its origin tells a source of version 1 from those of today. */
const source1 = v.pipe(
	v.custom<unknown>((raw) => typeof (raw as Raw | null)?.origin === 'object'),
	v.transform(sourceFrom1),
	sourceSchema,
);

function picked(raw: Raw, names: readonly string[]): Raw {
	return Object.fromEntries(names.filter((name) => name in raw).map((name) => [name, raw[name]]));
}

function entriesOf(list: unknown): Raw[] {
	return Array.isArray(list) ? list.filter((entry): entry is Raw => typeof entry === 'object' && entry !== null) : [];
}

const addSource1 = v.object({
	type: v.literal('addSource'),
	source: source1,
	scenes: v.array(sceneSchema),
	channels: v.array(channelSchema),
	overlays: v.optional(v.array(overlaySchema), () => []),
	patches: v.optional(v.array(patchSchema), () => []),
	at: v.optional(v.number()),
	sceneAt: v.optional(v.number()),
});
const setPeople1 = v.object({ type: v.literal('setPeople'), people: v.array(personSchema) });
const changeSource1 = v.object({
	type: v.literal('changeSource'),
	source: source1,
});

/** What a stored command of version 1 means now, or null when it means what it says. */
export function commandFrom1(raw: unknown, state: ShowState): Command | null {
	const added = v.safeParse(addSource1, raw);
	if (added.success) return addedFrom1(added.output, state);
	const people = v.safeParse(setPeople1, raw);
	if (people.success)
		return batchOf([
			...state.setup.people.map(({ id: personId }): SingleCommand => ({ type: 'removePerson', personId })),
			...people.output.people.map((person): SingleCommand => ({ type: 'addPerson', person })),
		]);
	const changed = v.safeParse(changeSource1, raw);
	if (!changed.success) return null;
	const { source } = changed.output;
	const before = state.setup.sources.find(({ id }) => id === source.id)?.framings ?? [];
	return batchOf([{ type: 'changeSource', source }, ...framingsFrom1(source.id, before, source.framings)]);
}

function addedFrom1(command: v.InferOutput<typeof addSource1>, { setup }: ShowState): Command {
	const { source, scenes, channels, at, sceneAt } = command;
	const isNew = (list: readonly { id: string }[]) => (each: { id: string }) => !list.some(({ id }) => id === each.id);
	const placed = (i: number) => (sceneAt === undefined ? {} : { at: sceneAt + i });
	return batchOf([
		{ type: 'addSource', source, at },
		...scenes.map((scene, i): SingleCommand => ({ type: 'addScene', scene, ...placed(i) })),
		...channels.map((channel): SingleCommand => ({ type: 'addChannel', channel })),
		...command.overlays
			.filter(isNew(setup.overlays))
			.map((overlay): SingleCommand => ({ type: 'addOverlay', overlay })),
		...command.patches.filter(isNew(setup.patches)).map((patch): SingleCommand => ({ type: 'addPatch', patch })),
	]);
}

function framingsFrom1(sourceId: string, before: readonly Framing[], after: readonly Framing[]): SingleCommand[] {
	const lost = before.filter(({ id }) => !after.some((framing) => framing.id === id));
	return [
		...lost.map(({ id: framingId }): SingleCommand => ({ type: 'removeFraming', sourceId, framingId })),
		...after.map((framing): SingleCommand =>
			before.some(({ id }) => id === framing.id)
				? { type: 'changeFraming', sourceId, framing }
				: { type: 'addFraming', sourceId, framing },
		),
	];
}
