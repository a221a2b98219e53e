import { describe, expect, it } from 'vitest';
import type { Command } from '../command.ts';
import { reduceAll } from '../reduce.ts';
import { CUT, plainScene, wholeLayer } from '../scenes/scene.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow, type ShowState } from '../state.ts';
import { tallyChangesAt, tallyOf } from './tally.ts';

const AT = 1_795_000_000_000;
const camera = (id: string): Command => ({
	type: 'addSource',
	source: plainSource(id, id, { kind: 'standInCamera', standIn: id }),
});
const show = reduceAll(
	emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }),
	[
		...['wide', 'lectern', 'choir'].map(camera),
		{
			type: 'addFraming',
			sourceId: 'wide',
			framing: { id: 'rows', name: 'Rows', crop: { x: 0, y: 0, width: 0.5, height: 0.5 } },
		},
		...['wide', 'lectern'].map((id): Command => ({
			type: 'addScene',
			scene: plainScene(id, id, [wholeLayer('one', id)]),
		})),
		{
			type: 'addScene',
			scene: plainScene('rows', 'Rows', [
				{ ...wholeLayer('one', 'wide'), framingId: 'rows' },
				wholeLayer('two', 'choir'),
			]),
		},
	],
	AT,
);
const tallies = (state: ShowState, now = AT + 10_000) =>
	['wide', 'lectern', 'choir'].map((id) => tallyOf(state, id, now));

describe('the tally of a camera', () => {
	it('is on for what is in the program and in Next; a framing counts as its camera', () => {
		const state = reduceAll(
			show,
			[
				{ type: 'take', sceneId: 'lectern' },
				{ type: 'setNext', sceneId: 'rows' },
			],
			AT,
		);
		expect(tallies(state)).toEqual(['next', 'program', 'next']);
		expect(tallies(reduceAll(state, [{ type: 'take' }], AT))).toEqual(['program', 'next', 'program']);
		expect(tallies(show)).toEqual(['free', 'free', 'free']);
	});

	it('stays on until a transition is over, and is on for what the hand lever brings in', () => {
		const fade = { ...CUT, kind: 'fade' as const, durationMs: 2000 };
		const took = reduceAll(
			show,
			[
				{ type: 'take', sceneId: 'lectern' },
				{ type: 'take', sceneId: 'wide', transition: fade },
			],
			AT,
		);
		expect(tallyOf(took, 'lectern', AT + 1999)).toBe('program');
		expect(tallyOf(took, 'lectern', AT + 2000)).toBe('free');
		expect([tallyChangesAt(took, AT + 5), tallyChangesAt(took, AT + 2000)]).toEqual([AT + 2000, null]);
		const lever = reduceAll(
			took,
			[
				{ type: 'setNext', sceneId: 'lectern' },
				{ type: 'setLever', position: 0.3 },
			],
			AT,
		);
		expect(tallies(lever)).toEqual(['program', 'program', 'free']);
	});

	it('is off while the program is black', () => {
		const state = reduceAll(
			show,
			[
				{ type: 'take', sceneId: 'lectern' },
				{ type: 'setBlack', black: true },
			],
			AT,
		);
		expect(tallies(state)).toEqual(['free', 'free', 'free']);
	});
});
