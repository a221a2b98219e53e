import { describe, expect, it } from 'vitest';
import { batchOf, type Command } from '../command.ts';
import { reduce, reduceAll, tryReduce } from '../reduce.ts';
import { emptyShow, type ShowState } from '../state.ts';
import type { Section, Song } from '../../words/song.ts';
import { plainWordsOverlay } from '../overlays/overlay.ts';
import { plainCue, type Cue } from '../runsheet/cue.ts';
import { missingFor } from '../runsheet/missing.ts';
import { comingStep, inHall, isWordsShown, onStream, standing } from './standing.ts';

const AT = 1_795_000_000_000;
const section = (kind: Section['kind'], number: number, ...lines: string[]): Section => ({
	kind,
	number,
	lines: lines.map((line) => [line]),
});
const songOf = (title: string, ...sections: Section[]): Song => ({
	...{ kind: 'song', title, authors: [], copyright: '', licence: '', source: '', languages: [''], order: [], sections },
});
const lamp = {
	id: 'lamp',
	songId: null,
	song: songOf(
		'Lamp on the Col',
		section(
			'verse',
			1,
			'When evening comes down,',
			'and the path goes dark,',
			'there is one small flame',
			'that is not alone.',
		),
		section('chorus', 0, 'Lamp on the col,', 'burn low, burn long.'),
	),
};
const water = { id: 'water', songId: null, song: songOf('Carry the Water', section('verse', 1, 'Carry the water')) };
const show = reduceAll(
	emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }),
	[
		{ type: 'addWords', item: lamp },
		{ type: 'addWords', item: water },
	],
	AT,
);
const after = (state: ShowState, ...commands: Command[]) => reduceAll(state, commands, AT);
const next: Command = { type: 'nextLine' };
const read = (state: ShowState) =>
	onStream(state)
		?.rows.map(({ text }) => text)
		.join(' / ') ?? null;
const sung = (state: ShowState) =>
	inHall(state)
		?.rows.map(({ text }) => text)
		.join(' / ') ?? null;

describe('the next line', () => {
	it('brings hall and stream from one press, and the next song after a press in which nothing stands', () => {
		const seen: [string | null, string | null][] = [];
		let state = show;
		for (let i = 0; i < 5; i++) {
			state = after(state, next);
			seen.push([read(state), sung(state)]);
		}
		const verse = 'When evening comes down, / and the path goes dark, / there is one small flame / that is not alone.';
		const chorus = 'Lamp on the col, / burn low, burn long.';
		expect(seen).toEqual([
			['When evening comes down, / and the path goes dark,', verse],
			['there is one small flame / that is not alone.', verse],
			[chorus, chorus],
			[null, null],
			['Carry the water', 'Carry the water'],
		]);
		expect(comingStep(state)).toBeNull();
		expect(tryReduce(after(state, next), next, AT)).toEqual({ refused: { code: 'wordsOver', about: {} } });
	});

	it('is known beforehand, also where the next song begins', () => {
		expect(comingStep(show)?.item.id).toBe('lamp');
		const over = after(show, { type: 'showWords', itemId: 'lamp', step: 3 });
		expect(comingStep(over)).toMatchObject({ item: { id: 'water' } });
	});

	it('goes back as well, to before the first one, and every press can be taken back', () => {
		const second = after(show, next, next);
		expect(read(after(second, { type: 'previousLine' }))).toMatch(/^When evening/);
		const waiting = after(second, { type: 'previousLine' }, { type: 'previousLine' });
		expect(read(waiting)).toBeNull();
		expect(tryReduce(waiting, { type: 'previousLine' }, AT)).toMatchObject({ refused: { code: 'wordsAtStart' } });
		for (const state of [show, second, waiting]) {
			const { inverse, state: changed } = reduce(state, next, AT);
			expect(after(changed, batchOf(inverse)).live.words).toEqual(state.live.words);
		}
	});

	it('is hidden from the hall, which then shows what it is to show', () => {
		const behind = { is: 'program' } as const;
		const off = after(show, next, { type: 'setHall', hall: { words: false, behind } });
		expect([read(off) === null, sung(off)]).toEqual([false, null]);
		const { state, inverse } = reduce(off, { type: 'setHall', hall: { words: true, behind } }, AT);
		expect(sung(state)).not.toBeNull();
		expect(after(state, batchOf(inverse))).toEqual(off);
		const hall = { words: true, behind: { is: 'scene', sceneId: 'gone' } } as const;
		expect(tryReduce(show, { type: 'setHall', hall }, AT)).toMatchObject({ refused: { code: 'gone' } });
	});
});

describe('words that are changed while they stand', () => {
	it('stay where they are when a typo is corrected', () => {
		const second = after(show, next, next);
		const lines = lamp.song.sections[0]!.lines.with(2, ['there is one small light']);
		const song = { ...lamp.song, sections: [{ ...lamp.song.sections[0]!, lines }, lamp.song.sections[1]!] };
		const corrected = after(second, { type: 'changeWords', item: { ...lamp, song } });
		expect(read(corrected)).toMatch(/^there is one small light/);
	});

	it('end when the line is gone that stood, and are back with it', () => {
		const third = after(show, next, next, next);
		const short = { ...lamp, song: { ...lamp.song, sections: [lamp.song.sections[1]!] } };
		const { state, inverse } = reduce(third, { type: 'changeWords', item: short }, AT);
		expect(read(state)).toBeNull();
		expect(after(state, batchOf(inverse))).toEqual(third);
		const removed = reduce(third, { type: 'removeWords', itemId: 'lamp' }, AT);
		expect(standing(removed.state)).toBeNull();
		expect(after(removed.state, batchOf(removed.inverse))).toEqual(third);
	});

	it('stay the same words when they are cut otherwise', () => {
		const second = after(show, next, next);
		const { look } = second.setup.words;
		const single = { ...look, stream: { ...look.stream, fit: { ...look.stream.fit, lines: 1 } } };
		const { state, inverse } = reduce(second, { type: 'setWordsLook', look: single }, AT);
		expect(read(state)).toBe('there is one small flame');
		expect(state.live.words.step).toBe(2);
		expect(after(state, batchOf(inverse))).toEqual(second);
	});
});

describe('a cue', () => {
	it('brings the first line of a song in the hall and for viewers, and puts all words away', () => {
		const cue = (id: string, words: Cue['words']): Command => ({ type: 'addCue', cue: { ...plainCue(id, id), words } });
		const go = (state: ShowState) => after(state, { type: 'go', count: state.live.progress.count, afterMs: 5000 });
		const planned = after(
			show,
			{ type: 'addOverlay', overlay: plainWordsOverlay('lines', 'Words') },
			...[cue('sing', { itemId: 'water' }), cue('gone', { itemId: 'burnt' }), cue('talk', { itemId: null })],
			{ type: 'setHall', hall: { ...show.live.hall, words: false } },
		);
		const sings = go(planned);
		expect([read(sings), sung(sings), isWordsShown(sings)]).toEqual(['Carry the water', 'Carry the water', true]);
		// A song that was removed changes nothing.
		const gone = go(sings);
		expect([read(gone), isWordsShown(gone)]).toEqual(['Carry the water', true]);
		const talks = go(gone);
		expect([read(talks), sung(talks), isWordsShown(talks)]).toEqual([null, null, false]);
		expect(missingFor(planned, planned.setup.cues[1]!, () => true)).toEqual([
			{ cueId: 'gone', is: 'gone', what: 'song' },
		]);
	});
});
