import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { batchOf, type SingleCommand } from '../command.ts';
import { reduce, reduceAll } from '../reduce.ts';
import { plainCard } from '../sources/kinds/card.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow } from '../state.ts';
import { stillCarried, carriedOf } from './carried.ts';
import { filled, textsOf, unfilled, withFields } from './fields.ts';
import { movedTo } from './moved.ts';
import { plainCue } from '../runsheet/cue.ts';

const AT = 1_795_000_000_000;
const speaker = { id: 'speaker', name: 'Speaker', value: 'Maren Oakshaw' };
const card = plainSource('begins', 'Starting soon', {
	kind: 'card',
	card: plainCard({ lines: [{ says: 'event' }, { says: 'text', text: 'with {speaker}' }] }),
});
const made: SingleCommand[] = [
	{ type: 'addField', field: speaker },
	{ type: 'addSource', source: card },
	{ type: 'addPerson', person: { id: 'guest', name: '{Speaker}', role: 'hut warden' } },
	{ type: 'setHostTexts', title: 'Hut evening with {Speaker}', description: '' },
];
const show = reduceAll(
	emptyShow('mending-day', 'Mending Day', '2026-12-12T19:00', { width: 1280, height: 720, fps: 30 }),
	made,
	AT,
);

describe('fields', () => {
	it('stand for their names in every text that viewers read, and a name without a field stays', () => {
		expect(filled('With {SPEAKER} and {Choir}', [speaker])).toBe('With Maren Oakshaw and {Choir}');
		expect(unfilled('With {SPEAKER} and {Choir}', [speaker])).toEqual(['Choir']);
		const { people, sources } = withFields(show.setup);
		expect(people[0]!.name).toBe('Maren Oakshaw');
		expect(sources[0]).toMatchObject({ card: { lines: [{ says: 'event' }, { text: 'with Maren Oakshaw' }] } });
		// Asked for with every picture: made once.
		expect(withFields({ ...show.setup }).sources).toBe(sources);
		expect(show.setup.people[0]!.name).toBe('{Speaker}');
	});

	it('are changed with a way back, and every text follows', () => {
		const change = { type: 'changeField', field: { ...speaker, value: 'Corin Vale' } } as const;
		const { state, inverse } = reduce(show, change, AT);
		expect(textsOf({ ...state.setup, ...withFields(state.setup) })).toContain('with Corin Vale');
		expect(reduce(state, batchOf(inverse), AT).state.setup).toEqual(show.setup);
	});

	it('leave any text without brackets as it is', () => {
		fc.assert(
			fc.property(
				fc.string().filter((text) => !/[{}]/u.test(text)),
				(text) => {
					expect(filled(text, [speaker])).toBe(text);
					expect(filled(`${text}{Speaker}`, [speaker])).toBe(`${text}Maren Oakshaw`);
				},
			),
			{ seed: 19 },
		);
	});
});

describe('what was carried over', () => {
	const shown: SingleCommand = {
		type: 'addOverlay',
		overlay: {
			...{ id: 'names', name: 'Names', kind: 'lowerThird', reach: 'every', showMs: 0, move: 'fade' },
			...{ personId: 'guest', side: 'left' },
		},
	};
	const copied = reduceAll(show, [shown, { type: 'setCarried', carried: carriedOf(show.setup) }], AT);

	it('is named until it is changed, or called right', () => {
		expect(stillCarried(copied).map(({ key }) => key)).toEqual(['person-guest', 'card-begins']);
		const renamed = reduceAll(
			copied,
			[{ type: 'changePerson', person: { id: 'guest', name: 'Corin Vale', role: 'choir' } }],
			AT,
		);
		expect(stillCarried(renamed).map(({ key }) => key)).toEqual(['card-begins']);
		const { state, inverse } = reduce(renamed, { type: 'confirmCarried', keys: ['card-begins'] }, AT);
		expect(stillCarried(state)).toEqual([]);
		expect(stillCarried(reduce(state, batchOf(inverse), AT).state)).toHaveLength(1);
	});

	it('tells nothing of people whose name nobody shows', () => {
		expect(stillCarried({ ...copied, setup: { ...copied.setup, overlays: [] } }).map(({ key }) => key)).toEqual([
			'card-begins',
		]);
	});
});

describe('another day', () => {
	const cue = {
		...plainCue('greeting', 'Greeting'),
		plannedAt: '23:50',
		follow: { by: 'clock', time: '00:10:30' },
	} as const;
	const clock = plainSource('counts', 'Countdown', {
		...{ kind: 'clock', says: '', dress: 'event', ground: 'drawn', paper: '#000000', ink: '#ffffff' },
		clock: { shows: 'countdownTo', to: '2026-12-12T19:00' },
	});
	const setup = { ...show.setup, cues: [cue], sources: [clock], overAt: '20:15' };

	it('takes all that is planned with it, over midnight as well', () => {
		const moved = movedTo(setup, '2027-01-08T19:30');
		expect(moved.cues[0]).toMatchObject({ plannedAt: '00:20', follow: { time: '00:40:30' } });
		expect(moved.sources[0]).toMatchObject({ clock: { to: '2027-01-08T19:30' } });
		expect(moved.overAt).toBe('20:45');
		expect(movedTo(moved, '2026-12-12T19:00')).toEqual(setup);
	});

	it('moves nothing where no start is planned', () => {
		expect(movedTo(setup, '')).toEqual({ ...setup, startsAt: '' });
	});
});
