import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { plainCue } from '../show/runsheet/cue.ts';
import { reduceAll } from '../show/reduce.ts';
import { plainScene } from '../show/scenes/scene.ts';
import { emptyShow } from '../show/state.ts';
import { apiActionsOf, apiActionsSchema, apiStateOf, apiStateSchema } from './api.ts';

const AT = 1_795_000_000_000;
const show = reduceAll(
	emptyShow('lantern-night', 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 }),
	[
		{ type: 'addScene', scene: plainScene('lectern', 'Lectern', []) },
		{ type: 'addScene', scene: plainScene('wide', 'Chapel wide', []) },
		{ type: 'addCue', cue: plainCue('greeting', 'Greeting') },
		{ type: 'take', sceneId: 'lectern' },
		{ type: 'setNext', sceneId: 'wide' },
		{ type: 'go' },
		{ type: 'startBroadcast', broadcastId: 'b', rehearsal: true },
	],
	AT,
);

describe('what other programs read', () => {
	it('is as its schema says, and names things as people do', () => {
		const state = apiStateOf(show, 7);
		expect(v.parse(apiStateSchema, state)).toEqual(state);
		expect(state).toMatchObject({
			seq: 7,
			onAir: 'rehearsal',
			since: AT,
			program: { id: 'lectern', name: 'Lectern' },
			next: { name: 'Chapel wide' },
			cue: { current: { name: 'Greeting' }, next: null, since: AT },
		});
	});

	it('tells of every action what it can be about, and how that stands', () => {
		const { actions } = apiActionsOf(show, AT);
		expect(v.parse(apiActionsSchema, { actions })).toEqual({ actions });
		expect(actions.find(({ action }) => action === 'take-scene')?.subjects).toEqual([
			{ id: 'lectern', name: 'Lectern', stands: 'program' },
			{ id: 'wide', name: 'Chapel wide', stands: 'next' },
		]);
		expect(actions.find(({ action }) => action === 'hush')).toEqual({ action: 'hush', about: null, subjects: [] });
	});
});
