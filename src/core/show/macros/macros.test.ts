import { describe, expect, it } from 'vitest';
import { forbiddenRun } from '../../access/orders.ts';
import { plainClip, wholeItem } from '../clips/clip.ts';
import { batchOf, type Command } from '../command.ts';
import { firstDue } from '../due.ts';
import { plainChannel } from '../mix/mix.ts';
import { reduce, reduceAll, tryReduce } from '../reduce.ts';
import { timeNear } from '../runsheet/clock-time.ts';
import { plainScene, wholeLayer } from '../scenes/scene.ts';
import { plainCard } from '../sources/kinds/card.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow, type ShowState } from '../state.ts';
import { EVERYTHING_OFF, type Macro, type MacroStep } from './macro.ts';
import { missingSteps } from './run.ts';
import { runOf } from './runs.ts';

const AT = 1_795_000_000_000;
const FILM_MS = 9000;
const order = (action: (MacroStep & { is: 'order' })['order']['action'], of?: string): MacroStep => ({
	is: 'order',
	order: { action, ...(of !== undefined && { of }) },
});
const pause = (ms: number): MacroStep => ({ is: 'pause', ms });
const macro = (id: string, steps: MacroStep[], again: Macro['again'] = 'stop'): Macro => ({
	...{ id, name: id, asks: false, again },
	steps,
});
const film = plainSource('film', 'Season on the fell', {
	kind: 'clip',
	...plainClip([wholeItem('m', 'Season', FILM_MS)]),
	playsOnTake: false,
});
const card = plainSource('card', 'Back shortly', { kind: 'card', card: plainCard() });
const camera = (id: string) => plainSource(id, id, { kind: 'standInCamera', standIn: id });
const show = reduceAll(
	emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }),
	[
		...[camera('lectern'), camera('wide'), film, card].map((source): Command => ({ type: 'addSource', source })),
		...['lectern', 'wide', 'film', 'card'].map((id): Command => ({
			type: 'addScene',
			scene: plainScene(id, id, [wholeLayer('one', id)]),
		})),
		{ type: 'addChannel', channel: plainChannel('mic', 'lectern', 'Lectern mic') },
		{ type: 'take', sceneId: 'lectern' },
	],
	AT,
);
const run = (macroId: string): Command => ({ type: 'runMacro', macroId });
const at = (state: ShowState, command: Command, when: number) => reduce(state, command, when).state;
const withMacros = (...macros: Macro[]) =>
	reduceAll(
		show,
		macros.map((each): Command => ({ type: 'addMacro', macro: each })),
		AT,
	);

/** Does what falls due until a moment, as the hub does. */
function until(state: ShowState, moment: number): ShowState {
	for (let due = firstDue(state); due && due.at <= moment; due = firstDue(state))
		state = at(state, { type: 'fallDue', dueId: due.id }, due.at);
	return state;
}

describe('a macro', () => {
	it('does its steps in order, with its pauses, whoever is there', () => {
		const state = withMacros(
			macro('film', [order('mute', 'mic'), pause(2000), order('take-scene', 'film'), pause(500), order('hush')]),
		);
		const begun = at(state, run('film'), AT);
		expect([begun.setup.channels[0]!.muted, begun.live.program]).toEqual([true, 'lectern']);
		expect(runOf(begun, 'film')).toMatchObject({ isWaiting: true, step: 1 });
		expect(until(begun, AT + 1999).live.program).toBe('lectern');
		const second = until(begun, AT + 2000);
		expect([second.live.program, second.live.hushed]).toEqual(['film', false]);
		const over = until(second, AT + 2500);
		expect(over.live.hushed).toBe(true);
		expect([runOf(over, 'film'), over.live.due]).toEqual([null, []]);
	});

	it('is stopped by another press half way: what it has done stays, the rest is not done', () => {
		const begun = at(
			withMacros(macro('film', [order('hush'), pause(2000), order('take-scene', 'film')])),
			run('film'),
			AT,
		);
		// One that bounced is not meant.
		expect(runOf(at(begun, run('film'), AT + 100), 'film')).toMatchObject({ isWaiting: true });
		for (const stop of [run('film'), { type: 'stopMacro', macroId: 'film' }] as Command[]) {
			const stopped = until(at(begun, stop, AT + 1000), AT + 9000);
			expect([stopped.live.program, stopped.live.hushed, stopped.live.macros, stopped.live.due]).toEqual([
				'lectern',
				true,
				[],
				[],
			]);
		}
	});

	it('waits until a clip ends, also when that pauses, and until a time of day', () => {
		const state = withMacros(
			macro('after', [order('clip', 'film'), { is: 'clip', sourceId: 'film' }, order('take-scene', 'wide')]),
		);
		const begun = at(state, run('after'), AT);
		const paused = until(at(begun, { type: 'pauseClip', sourceId: 'film' }, AT + 4000), AT + 20_000);
		expect([paused.live.program, runOf(paused, 'after')?.isWaiting]).toEqual(['lectern', true]);
		const played = at(paused, { type: 'playClip', sourceId: 'film' }, AT + 20_000);
		expect(until(played, AT + 24_999).live.program).toBe('lectern');
		expect(until(played, AT + 25_000).live.program).toBe('wide');
		// What is rewound comes to no end.
		expect(until(at(paused, { type: 'rewindClip', sourceId: 'film' }, AT + 20_000), AT + 20_001).live.program).toBe(
			'wide',
		);

		const seven = timeNear('19:00', AT, 'UTC');
		const timed = withMacros(macro('seven', [{ is: 'clock', time: '19:00' }, order('take-scene', 'wide')]));
		const waits = at(timed, run('seven'), seven - 60_000);
		expect([until(waits, seven - 1).live.program, until(waits, seven).live.program]).toEqual(['lectern', 'wide']);
		expect(until(at(timed, run('seven'), seven + 1), seven + 1).live.program).toBe('wide');
	});

	it('takes back what it did by a second press, but no scene that somebody else took since', () => {
		const state = withMacros(macro('song', [order('mute', 'mic'), order('take-scene', 'wide')], 'takeBack'));
		const done = at(state, run('song'), AT);
		expect([done.live.program, done.setup.channels[0]!.muted]).toEqual(['wide', true]);
		const back = at(done, run('song'), AT + 5000);
		expect([back.live.program, back.setup.channels[0]!.muted, back.live.macros]).toEqual(['lectern', false, []]);
		const elsewhere = at(at(done, { type: 'take', sceneId: 'film' }, AT + 1000), run('song'), AT + 5000);
		expect([elsewhere.live.program, elsewhere.setup.channels[0]!.muted]).toEqual(['film', false]);
	});

	it('does not tangle with another one that runs at the same time', () => {
		const state = withMacros(
			macro('one', [pause(1000), order('take-scene', 'wide'), pause(1000), order('hush')]),
			macro('two', [pause(1500), order('take-scene', 'film'), pause(1000), order('black')]),
		);
		const both = at(at(state, run('one'), AT), run('two'), AT);
		expect([1000, 1500, 2000, 2500].map((ms) => until(both, AT + ms).live)).toMatchObject([
			{ program: 'wide', hushed: false, black: false },
			{ program: 'film', hushed: false, black: false },
			{ program: 'film', hushed: true, black: false },
			{ program: 'film', hushed: true, black: true },
		]);
		const stopped = at(both, { type: 'stopMacro', macroId: 'one' }, AT + 500);
		expect(until(stopped, AT + 9000).live).toMatchObject({ program: 'film', hushed: false, black: true });
	});

	it('goes on when a step cannot be done, and says which', () => {
		const gone = macro('gone', [order('take-scene', 'burnt'), { is: 'clip', sourceId: 'lost' }, order('hush')]);
		const state = withMacros(gone);
		expect(missingSteps(state, gone)).toEqual([0, 1]);
		const done = until(at(state, run('gone'), AT), AT);
		expect([done.live.hushed, runOf(done, 'gone')?.missed]).toEqual([true, [0]]);
		expect(tryReduce(state, run('none'), AT)).toMatchObject({ refused: { code: 'gone', about: { what: 'macro' } } });
	});

	it('lets nobody do more than they may', () => {
		const { setup } = withMacros(macro('film', [order('take-scene', 'film')]), macro('quiet', [order('hush')]));
		expect(forbiddenRun('words', setup, batchOf([{ type: 'runMacro', macroId: 'quiet' }]))).toBeNull();
		expect(forbiddenRun('words', setup, run('film'))).toBe('take');
		expect(forbiddenRun('director', setup, run('film'))).toBeNull();
	});

	it('is over when it is changed or removed, and comes back with the way back', () => {
		const begun = at(withMacros(macro('film', [pause(2000), order('hush')])), run('film'), AT);
		const { state, inverse } = reduce(begun, { type: 'removeMacro', macroId: 'film' }, AT + 100);
		expect([state.live.macros, state.live.due, state.setup.macros]).toEqual([[], [], []]);
		expect(at(state, batchOf(inverse), AT + 200).setup.macros).toEqual(begun.setup.macros);
	});
});

describe('everything off', () => {
	it('hushes, puts the card on, stops clips; and takes all of that back', () => {
		const plays = at(at(show, { type: 'take', sceneId: 'film' }, AT), { type: 'playClip', sourceId: 'film' }, AT);
		const off = at(plays, run(EVERYTHING_OFF), AT + 3000);
		expect(off.live).toMatchObject({ hushed: true, program: 'card' });
		expect(off.live.transports.film).toMatchObject({ playing: false, positionMs: 3000 });
		const back = at(off, run(EVERYTHING_OFF), AT + 8000);
		expect(back.live).toMatchObject({ hushed: false, program: 'film' });
		expect(back.live.transports.film).toMatchObject({ playing: true, positionMs: 3000 });
	});
});
