import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { plainClip, wholeItem } from '../clips/clip.ts';
import { plainChannel, plainMix, type Snapshot } from '../mix/mix.ts';
import type { Overlay } from '../overlays/overlay.ts';
import { plainScene } from '../scenes/scene.ts';
import type { Song } from '../../words/song.ts';
import { plainSource } from '../sources/source.ts';
import { plainWords } from '../words/words.ts';
import { cueSchema, plainCue, type Cue } from './cue.ts';
import { COLUMNS, cuesOfTable, cuesOfText, tableOf, textOf } from './table.ts';

const film = plainSource('film', 'Season on the fell', {
	kind: 'clip',
	...plainClip([wholeItem('m', 'Season', 90_000)]),
});
const lower: Overlay = {
	id: 'name',
	name: 'Name',
	reach: 'every',
	showMs: 0,
	move: 'none',
	kind: 'lowerThird',
	personId: null,
	side: 'left',
};
const song: Song = {
	...{ kind: 'song', title: 'Lamp on the Col', authors: [], copyright: '', licence: '', source: '' },
	...{ languages: [''], order: [], sections: [] },
};
const snapshot: Snapshot = { id: 'talk', name: 'Talk', channels: [] };
const setup = {
	sources: [film],
	scenes: [plainScene('lectern', 'Lectern', []), plainScene('wide', 'Chapel wide', [])],
	overlays: [lower],
	people: [{ id: 'maren', name: 'Maren Oakshaw', role: 'hut warden' }],
	channels: [plainChannel('fiddle', 'film', 'Fiddle'), plainChannel('choir', 'film', 'Choir')],
	mix: { ...plainMix(), snapshots: [snapshot] },
	words: { ...plainWords(), items: [{ id: 'lamp', songId: null, song }] },
};
let count = 0;
const newId = () => `new-${count++}`;
const without = ({ id: _id, ...cue }: Cue) => cue;

describe('the run sheet as a table', () => {
	it('is written and read again without a loss', () => {
		const sceneId = fc.constantFrom('lectern', 'wide');
		const ms = fc.integer({ min: 1000, max: 80_000_000 });
		const time = fc.constantFrom('', '19:00', '19:00:30', '09:05');
		const cue = fc
			.record({
				name: fc.constantFrom('Greeting', 'Talk with Ysolde', '=SUM(A1)', 'Lamp on the Col, verse 1', '“Film”'),
				heading: fc.boolean(),
				sceneId: fc.option(sceneId),
				plays: fc.constantFrom([], ['film']),
				shows: fc.constantFrom([], [{ overlayId: 'name' }], [{ overlayId: 'name', personId: 'maren' }]),
				hides: fc.constantFrom([], ['name']),
				mix: fc.constantFrom(
					null,
					{ snapshotId: 'talk', fadeMs: 2500, mute: ['fiddle', 'choir'], unmute: [] },
					{ snapshotId: null, fadeMs: 1000, mute: [], unmute: ['choir'] },
				),
				words: fc.constantFrom(null, { itemId: null }, { itemId: 'lamp' }),
				note: fc.constantFrom('', 'House lights down\nthen up'),
				plannedAt: time,
				lengthMs: fc.option(ms),
				limitMs: fc.option(ms),
				transition: fc.constantFrom(null, {
					kind: 'dip' as const,
					durationMs: 700,
					direction: 'circle' as const,
					colour: '#f0a830',
					curve: 'eased' as const,
				}),
				follow: fc.oneof(
					fc.constant<Cue['follow']>({ by: 'go' }),
					ms.map((after): Cue['follow'] => ({ by: 'after', ms: after })),
					time.map((at): Cue['follow'] => ({ by: 'clock', time: at })),
					fc.constant<Cue['follow']>({ by: 'clip', sourceId: 'film' }),
					ms.map((everyMs): Cue['follow'] => ({
						by: 'rotation',
						sceneIds: ['wide', 'lectern'],
						everyMs,
						variesMs: 1500,
					})),
				),
				endsBroadcast: fc.boolean(),
			})
			.map((part) => v.parse(cueSchema, { ...plainCue('cue', 'x'), ...part }));
		fc.assert(
			fc.property(fc.array(cue, { maxLength: 5 }), (cues) => {
				const read = cuesOfTable(tableOf({ ...setup, cues }), setup, newId);
				expect(read.problems).toEqual([]);
				expect(read.cues.map(without)).toEqual(cues.map(without));
			}),
		);
	});

	it('takes what a person has typed into a spreadsheet: two columns, other orders, other ways to say how long', () => {
		expect(
			cuesOfTable(
				[
					['19:05', 'Greeting'],
					['', 'Song'],
					['', ''],
				],
				setup,
				newId,
			).cues,
		).toMatchObject([
			{ name: 'Greeting', plannedAt: '19:05' },
			{ name: 'Song', plannedAt: '' },
		]);
		const { cues, problems } = cuesOfTable(
			[
				['What', 'Lasts', 'BEGINS', 'Scene', 'Who'],
				['Talk', '12 min', '9.30', 'lectern', 'Maren'],
				['Song', '90', '25:00', 'Tower', ''],
				['', '5:00', '', '', ''],
			],
			setup,
			newId,
		);
		expect(cues).toMatchObject([
			{ name: 'Talk', lengthMs: 720_000, plannedAt: '09:30', sceneId: 'lectern' },
			{ name: 'Song', lengthMs: 90_000, plannedAt: '', sceneId: null },
		]);
		expect(problems).toEqual([
			{ row: 1, column: 'who', text: '' },
			{ row: 3, column: 'scene', text: 'Tower' },
			{ row: 3, column: 'begins', text: '25:00' },
			{ row: 4, column: 'what', text: '' },
		]);
	});

	it('never throws, whatever is in it, and gives lines that the show takes', () => {
		const cell = fc.oneof(
			fc.string({ maxLength: 40 }),
			fc.constantFrom('turns 0:08: ;', 'after x', 'at 99:99', 'clip'),
		);
		const rows = fc.array(fc.array(cell, { maxLength: COLUMNS.length }), { maxLength: 6 });
		fc.assert(
			fc.property(rows, fc.boolean(), (body, hasHead) => {
				const { cues } = cuesOfTable(hasHead ? [[...COLUMNS], ...body] : body, setup, newId);
				for (const cue of cues) expect(v.is(cueSchema, cue)).toBe(true);
			}),
		);
	});
});

describe('the run sheet as text', () => {
	it('is a line for each thing that happens, with headings, and is read again', () => {
		const cues = [
			{ ...plainCue('a', 'Before'), heading: true },
			plainCue('b', 'Greeting'),
			{ ...plainCue('c', 'Songs'), heading: true },
			plainCue('d', 'Lectern'),
		];
		const text = textOf(cues, ({ id }) => (id === 'b' ? Date.UTC(2026, 10, 28, 19, 5) : null), 'Europe/London');
		expect(text).toBe('# Before\n19:05 Greeting\n\n# Songs\nLectern\n');
		expect(cuesOfText(text, setup, newId)).toMatchObject([
			{ name: 'Before', heading: true },
			{ name: 'Greeting', plannedAt: '19:05', sceneId: null },
			{ name: 'Songs', heading: true },
			{ name: 'Lectern', sceneId: 'lectern' },
		]);
	});
});
