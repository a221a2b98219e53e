/**
 * What a changed template offers to an event that came from it: each change with the commands that make it. Three setups are compared:
 * the template as the event took it, the template now, and the event now. What was changed on both sides is left to the person.
 */
import { dequal } from 'dequal/lite';
import type { SingleCommand } from '../command.ts';
import type { Setup } from '../state.ts';

export const OFFERED = [
	...(['fields', 'sources', 'people', 'channels', 'scenes', 'overlays', 'patches', 'words', 'cues', 'macros'] as const),
	...(['panels', 'surfaces', 'look', 'picture', 'background', 'transition', 'mix', 'delivery', 'prepared'] as const),
	...(['hostTexts'] as const),
] as const;
export type Offered = (typeof OFFERED)[number];

export interface Offer {
	/** Names it among all. */
	key: string;
	what: Offered;
	/** Of the entry; empty for a setting. */
	name: string;
	how: 'added' | 'changed' | 'removed';
	/** The event has changed it as well. */
	isBoth: boolean;
	commands: SingleCommand[];
}

interface Entry {
	id: string;
	name: string;
}

/** How entries of a list are added, changed and taken out. */
interface ListRule<E extends Entry> {
	what: Offered;
	of: (setup: Setup) => readonly E[];
	add: (entry: E) => SingleCommand[];
	change: (entry: E, now: E) => SingleCommand[];
	remove: (entry: E) => SingleCommand[];
}

const rule = <E extends Entry>(of: ListRule<E>) => of as unknown as ListRule<Entry>;

type Source = Setup['sources'][number];

function sourceChanges(source: Source, now: Source): SingleCommand[] {
	const { id: sourceId } = source;
	const framings = now.framings.map(({ id }) => id);
	const kept = source.framings.map(({ id }) => id);
	return [
		...(source.name === now.name ? [] : [{ type: 'renameSource' as const, sourceId, name: source.name }]),
		{ type: 'changeSource', source },
		...source.framings.map((framing): SingleCommand =>
			framings.includes(framing.id)
				? { type: 'changeFraming', sourceId, framing }
				: { type: 'addFraming', sourceId, framing },
		),
		...now.framings
			.filter(({ id }) => !kept.includes(id))
			.map(({ id: framingId }): SingleCommand => ({ type: 'removeFraming', sourceId, framingId })),
	];
}

/** Those that others refer to come first. */
const LISTS: readonly ListRule<Entry>[] = [
	rule<Setup['fields'][number]>({
		what: 'fields',
		of: ({ fields }) => fields,
		add: (field) => [{ type: 'addField', field }],
		// What it says is this evening's.
		change: (field, now) => [{ type: 'changeField', field: { ...field, value: now.value } }],
		remove: ({ id: fieldId }) => [{ type: 'removeField', fieldId }],
	}),
	rule<Source>({
		what: 'sources',
		of: ({ sources }) => sources,
		add: (source) => [{ type: 'addSource', source }],
		change: sourceChanges,
		remove: ({ id: sourceId }) => [{ type: 'removeSource', sourceId }],
	}),
	rule<Setup['people'][number]>({
		what: 'people',
		of: ({ people }) => people,
		add: (person) => [{ type: 'addPerson', person }],
		change: (person) => [{ type: 'changePerson', person }],
		remove: ({ id: personId }) => [{ type: 'removePerson', personId }],
	}),
	rule<Setup['channels'][number]>({
		what: 'channels',
		of: ({ channels }) => channels,
		add: (channel) => [{ type: 'addChannel', channel }],
		change: (channel, now) => [
			{ type: 'changeChannel', channel },
			...(channel.gainDb === now.gainDb
				? []
				: [{ type: 'setFader' as const, channelId: channel.id, gainDb: channel.gainDb }]),
			...(channel.muted === now.muted
				? []
				: [{ type: 'setMute' as const, channelId: channel.id, muted: channel.muted }]),
		],
		remove: ({ id: channelId }) => [{ type: 'removeChannel', channelId }],
	}),
	rule<Setup['scenes'][number]>({
		what: 'scenes',
		of: ({ scenes }) => scenes,
		add: (scene) => [{ type: 'addScene', scene }],
		change: (scene) => [{ type: 'changeScene', scene, live: false }],
		remove: ({ id: sceneId }) => [{ type: 'removeScene', sceneId }],
	}),
	rule<Setup['overlays'][number]>({
		what: 'overlays',
		of: ({ overlays }) => overlays,
		add: (overlay) => [{ type: 'addOverlay', overlay }],
		change: (overlay) => [{ type: 'changeOverlay', overlay }],
		remove: ({ id: overlayId }) => [{ type: 'removeOverlay', overlayId }],
	}),
	rule<Setup['patches'][number]>({
		what: 'patches',
		of: ({ patches }) => patches,
		add: (patch) => [{ type: 'addPatch', patch }],
		change: (patch) => [{ type: 'changePatch', patch }],
		remove: ({ id: patchId }) => [{ type: 'removePatch', patchId }],
	}),
	rule<Setup['words']['items'][number] & Entry>({
		what: 'words',
		of: ({ words }) => words.items.map((item) => ({ ...item, name: item.song.title })),
		add: ({ name: _, ...item }) => [{ type: 'addWords', item }],
		change: ({ name: _, ...item }) => [{ type: 'changeWords', item }],
		remove: ({ id: itemId }) => [{ type: 'removeWords', itemId }],
	}),
	rule<Setup['cues'][number]>({
		what: 'cues',
		of: ({ cues }) => cues,
		add: (cue) => [{ type: 'addCue', cue }],
		change: (cue) => [{ type: 'changeCue', cue }],
		remove: ({ id: cueId }) => [{ type: 'removeCue', cueId }],
	}),
	rule<Setup['macros'][number]>({
		what: 'macros',
		of: ({ macros }) => macros,
		add: (macro) => [{ type: 'addMacro', macro }],
		change: (macro) => [{ type: 'changeMacro', macro }],
		remove: ({ id: macroId }) => [{ type: 'removeMacro', macroId }],
	}),
	rule<Setup['panels'][number]>({
		what: 'panels',
		of: ({ panels }) => panels,
		add: (panel) => [{ type: 'addPanel', panel }],
		change: (panel) => [{ type: 'changePanel', panel }],
		remove: ({ id: panelId }) => [{ type: 'removePanel', panelId }],
	}),
	rule<Setup['surfaces'][number] & Entry>({
		what: 'surfaces',
		of: ({ surfaces }) => surfaces.map((surface) => ({ ...surface, id: surface.name })),
		add: ({ id: _, ...profile }) => [{ type: 'putSurface', profile }],
		change: ({ id: _, ...profile }) => [{ type: 'putSurface', profile }],
		remove: ({ name }) => [{ type: 'removeSurface', name }],
	}),
];

interface SettingRule {
	what: Offered;
	of: (setup: Setup) => unknown;
	set: (setup: Setup) => SingleCommand[];
}

const SETTINGS: readonly SettingRule[] = [
	{ what: 'look', of: ({ look }) => look, set: ({ look }) => [{ type: 'setLook', look }] },
	{ what: 'picture', of: ({ picture }) => picture, set: ({ picture }) => [{ type: 'setPicture', picture }] },
	{
		what: 'background',
		of: ({ background }) => background,
		set: ({ background: sourceId }) => [{ type: 'setBackground', sourceId }],
	},
	{
		what: 'transition',
		of: ({ transition, direct }) => ({ transition, direct }),
		set: ({ transition, direct }) => [
			{ type: 'setTransition', transition },
			{ type: 'setDirect', direct },
		],
	},
	{
		what: 'mix',
		of: ({ mix: { ducking, master, snapshots } }) => ({ ducking, master, snapshots }),
		set: ({ mix: { ducking, master, snapshots } }) => [
			{ type: 'setDucking', ducking },
			{ type: 'setMaster', master },
			...snapshots.map((snapshot): SingleCommand => ({ type: 'storeSnapshot', snapshot })),
		],
	},
	{
		what: 'words',
		of: ({ words }) => words.look,
		set: ({ words: { look } }) => [{ type: 'setWordsLook', look }],
	},
	{ what: 'delivery', of: ({ delivery }) => delivery, set: ({ delivery }) => [{ type: 'setDelivery', delivery }] },
	{
		what: 'prepared',
		of: ({ prepared }) => prepared,
		set: ({ prepared: texts }) => [{ type: 'setPrepared', texts }],
	},
	{
		what: 'hostTexts',
		of: ({ hostTitle, hostDescription }) => [hostTitle, hostDescription],
		set: ({ hostTitle: title, hostDescription: description }) => [{ type: 'setHostTexts', title, description }],
	},
];

/**
 * @param taken the template as it was when the event took it last
 * @param now the template now, its times moved to the event's start
 * @param event the event's own setup
 */
export function offersOf(taken: Setup, now: Setup, event: Setup): Offer[] {
	const offers: Offer[] = [];
	const last: Offer[] = [];
	for (const { what, of, add, change, remove } of LISTS) {
		const [old, wanted, own] = [of(taken), of(now), of(event)];
		const find = (list: readonly Entry[], id: string) => list.find((entry) => entry.id === id);
		const offer = (entry: Entry, how: Offer['how'], isBoth: boolean, commands: SingleCommand[]): Offer => ({
			...{ key: `${what} ${entry.id}`, what, name: entry.name },
			...{ how, isBoth, commands },
		});
		for (const entry of wanted) {
			const [before, mine] = [find(old, entry.id), find(own, entry.id)];
			if (!before && !mine) offers.push(offer(entry, 'added', false, add(entry)));
			// One that the event has taken out comes back only when somebody wants it.
			else if (before && !mine && !dequal(before, entry)) offers.push(offer(entry, 'added', true, add(entry)));
			else if (mine && !dequal(before, entry) && !dequal(mine, entry))
				offers.push(offer(entry, 'changed', !dequal(before, mine), change(entry, mine)));
		}
		for (const entry of old) {
			const mine = find(own, entry.id);
			if (mine && !find(wanted, entry.id)) last.push(offer(mine, 'removed', !dequal(entry, mine), remove(mine)));
		}
	}
	for (const { what, of, set } of SETTINGS) {
		const [old, wanted, own] = [of(taken), of(now), of(event)];
		if (dequal(old, wanted) || dequal(own, wanted)) continue;
		const setting = { key: `${what} setting`, what, name: '', how: 'changed' as const };
		offers.push({ ...setting, isBoth: !dequal(old, own), commands: set(now) });
	}
	// What others refer to is taken out last.
	return [...offers, ...last.toReversed()];
}
