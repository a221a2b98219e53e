import { describe, expect, it } from 'vitest';
import { batchOf, type SingleCommand } from '../command.ts';
import { stillCarried } from '../event/carried.ts';
import { plainChannel } from '../mix/mix.ts';
import { reduce, reduceAll } from '../reduce.ts';
import { plainCue } from '../runsheet/cue.ts';
import { plainScene, wholeLayer } from '../scenes/scene.ts';
import { plainCard } from '../sources/kinds/card.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow, type Setup, type ShowState } from '../state.ts';
import { offersOf, type Offer } from './offer.ts';
import { eventFrom, plainAsks } from './template.ts';

const AT = 1_795_000_000_000;
const camera = (id: string, name: string) => plainSource(id, name, { kind: 'standInCamera', standIn: id });
const sceneOf = (id: string, name: string, ...sources: string[]) =>
	plainScene(
		id,
		name,
		sources.map((source) => wholeLayer(`layer-${source}`, source)),
	);
const made: SingleCommand[] = [
	{ type: 'addField', field: { id: 'speaker', name: 'Speaker', value: 'Maren Oakshaw' } },
	{ type: 'addSource', source: camera('lectern', 'Lectern') },
	{ type: 'addSource', source: camera('wide', 'Chapel wide') },
	{
		type: 'addSource',
		source: plainSource('begins', 'Starting soon', {
			kind: 'card',
			card: plainCard({ lines: [{ says: 'text', text: 'with {Speaker}' }] }),
		}),
	},
	{ type: 'addScene', scene: sceneOf('talk', 'Talk', 'lectern', 'wide') },
	{ type: 'addScene', scene: sceneOf('whole', 'Whole', 'wide') },
	{ type: 'addChannel', channel: plainChannel('voice', 'lectern', 'Voice') },
	{ type: 'addPerson', person: { id: 'choir', name: 'Corin Vale', role: 'choir' } },
	{ type: 'addCue', cue: { ...plainCue('greeting', 'Greeting'), plannedAt: '19:00', sceneId: 'talk' } },
];
const template = reduceAll(
	emptyShow('template', 'Hut evening', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 }),
	made,
	AT,
);
const answers = { title: 'Mending Day', startsAt: '2026-12-12T18:30', timeZone: '', fields: { speaker: 'Bram Keld' } };
const event = eventFrom(template, 'mending-day', answers);

/** Offers as a person who wants all of them takes them. */
const taken = (state: ShowState, offers: readonly Offer[]) =>
	reduceAll(
		state,
		offers.flatMap(({ commands }) => commands),
		AT,
	);
const byId = <E extends { id: string }>(list: readonly E[]) => list.toSorted((a, b) => a.id.localeCompare(b.id));
const plain = ({ sources, scenes, channels, people, cues, look }: Setup) => ({
	...{ sources: byId(sources), scenes: byId(scenes), channels: byId(channels), people: byId(people) },
	...{ cues: byId(cues), look },
});

describe('an event from a template', () => {
	it('has what was asked, its times moved, nothing of another evening, and is told what may be last time’s', () => {
		expect(plainAsks(template.setup).fields).toEqual(['speaker']);
		const { setup, live } = event;
		expect(setup).toMatchObject({ title: 'Mending Day', startsAt: '2026-12-12T18:30' });
		expect(setup.fields[0]!.value).toBe('Bram Keld');
		expect(setup.cues[0]!.plannedAt).toBe('18:30');
		expect(live.broadcast).toBeNull();
		expect(stillCarried(event).map(({ key }) => key)).toEqual(['card-begins']);
	});
});

describe('a template that has changed', () => {
	const changes: SingleCommand[] = [
		{ type: 'addSource', source: camera('choir-left', 'Choir left') },
		{ type: 'addScene', scene: sceneOf('choir', 'Choir', 'choir-left') },
		{ type: 'renameSource', sourceId: 'lectern', name: 'Lectern close' },
		{
			type: 'addFraming',
			sourceId: 'wide',
			framing: { id: 'harmonium', name: 'Harmonium', crop: { x: 0, y: 0, width: 0.5, height: 0.5 } },
		},
		{ type: 'removeScene', sceneId: 'whole' },
		{ type: 'changePerson', person: { id: 'choir', name: 'Corin Vale', role: 'choir, harmonium' } },
		{ type: 'setFader', channelId: 'voice', gainDb: -3 },
		{ type: 'setLook', look: { ...template.setup.look, family: 'hills' } },
	];
	const now = reduceAll(template, changes, AT);

	it('offers nothing while it is as the event took it', () => {
		expect(offersOf(template.setup, template.setup, event.setup)).toEqual([]);
	});

	it('offers each change, and who takes all of them has the template, with a way back', () => {
		const same = { ...event, setup: { ...template.setup, title: 'Mending Day' } };
		const offers = offersOf(template.setup, now.setup, same.setup);
		expect(offers.map(({ what, name, how }) => `${how} ${what} ${name}`.trim())).toEqual([
			'changed sources Lectern close',
			'changed sources Chapel wide',
			'added sources Choir left',
			'changed people Corin Vale',
			'changed channels Voice',
			'added scenes Choir',
			'changed look',
			'removed scenes Whole',
		]);
		expect(offers.some(({ isBoth }) => isBoth)).toBe(false);
		expect(plain(taken(same, offers).setup)).toEqual(plain(now.setup));
		expect(taken(same, offers).setup.title).toBe('Mending Day');
		const { state, inverse } = reduce(same, batchOf(offers.flatMap(({ commands }) => commands)), AT);
		expect(plain(reduce(state, batchOf(inverse), AT).state.setup)).toEqual(plain(same.setup));
		expect(offersOf(now.setup, now.setup, state.setup)).toEqual([]);
	});

	it('marks what the event has changed as well, and leaves alone what only the event has', () => {
		const own = reduceAll(
			event,
			[
				{ type: 'renameSource', sourceId: 'lectern', name: 'Reading desk' },
				{ type: 'addPerson', person: { id: 'warden', name: 'Maren Oakshaw', role: 'hut warden' } },
				{ type: 'removeScene', sceneId: 'talk' },
			],
			AT,
		);
		const offers = offersOf(template.setup, now.setup, own.setup);
		expect(offers.filter(({ isBoth }) => isBoth).map(({ key }) => key)).toEqual(['sources lectern']);
		expect(taken(own, offers).setup.people.map(({ id }) => id)).toEqual(['choir', 'warden']);
		expect(taken(own, offers).setup.scenes.map(({ id }) => id)).toEqual(['choir']);
	});

	it('changes a field, and not what it says this evening', () => {
		const renamed = reduceAll(
			template,
			[{ type: 'changeField', field: { id: 'speaker', name: 'Who speaks', value: 'Ned Fallow' } }],
			AT,
		);
		const offers = offersOf(template.setup, renamed.setup, event.setup);
		expect(taken(event, offers).setup.fields).toEqual([{ id: 'speaker', name: 'Who speaks', value: 'Bram Keld' }]);
	});
});
