import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { commandSchema, type Command } from './command.ts';
import { plainChannel } from './mix.ts';
import { planDelivery } from './delivery.ts';
import { reduce, reduceAll } from './reduce.ts';
import { CUT, plainScene, wholeLayer } from './scene.ts';
import { plainSource } from './source.ts';
import { emptyShow, isOnAir, isSent, showStateSchema, type ShowState } from './state.ts';

const AT = 1_795_000_000_000;

function camera(id: string): Command {
	return {
		type: 'addSource',
		source: plainSource(id, id, 'camera', { from: 'standIn', standIn: id }),
		scenes: [plainScene(`${id}-scene`, id, [wholeLayer(`${id}-layer`, id)])],
		channels: [plainChannel(`${id}-channel`, id, id)],
		overlays: [],
		patches: [],
	};
}
const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
const show = reduceAll(empty, [camera('lectern'), camera('wide'), camera('choir')], AT);
const after = (...commands: Command[]) => reduceAll(show, commands, AT);

function refusal(state: ShowState, command: Command): string {
	const outcome = reduce(state, command, AT);
	return 'refused' in outcome ? outcome.refused : '';
}

describe('taking', () => {
	it('puts Next on air and what was on air into Next', () => {
		const state = after(
			{ type: 'take', sceneId: 'lectern-scene' },
			{ type: 'setNext', sceneId: 'wide-scene' },
			{ type: 'take' },
		);
		expect(state).toMatchObject({ program: 'wide-scene', next: 'lectern-scene', previous: 'lectern-scene' });
		expect(state.take).toMatchObject({ count: 2, from: 'lectern-scene', at: AT });
	});

	it('of another scene leaves Next alone', () => {
		const state = after({ type: 'setNext', sceneId: 'wide-scene' }, { type: 'take', sceneId: 'choir-scene' });
		expect(state).toMatchObject({ program: 'choir-scene', next: 'wide-scene' });
	});

	it('back brings what was on air before', () => {
		const state = after(
			{ type: 'take', sceneId: 'lectern-scene' },
			{ type: 'take', sceneId: 'wide-scene' },
			{ type: 'takeBack' },
		);
		expect(state.program).toBe('lectern-scene');
		expect(refusal(show, { type: 'takeBack' })).toBe('Nothing was on air before.');
	});

	it('keeps the transition it was made with', () => {
		const fade = { ...CUT, kind: 'fade', durationMs: 800 } as const;
		const state = after({ type: 'setTransition', transition: fade }, { type: 'take', sceneId: 'wide-scene' });
		expect(state.take.transition).toEqual(fade);
	});

	it('of the scene that is on air does nothing, and of nothing says why', () => {
		const state = after({ type: 'take', sceneId: 'wide-scene' });
		expect(reduceAll(state, [{ type: 'take', sceneId: 'wide-scene' }], AT)).toBe(state);
		expect(refusal(show, { type: 'take' })).toContain('Nothing is in Next');
		expect(refusal(show, { type: 'take', sceneId: 'gone' })).toContain('no longer there');
	});
});

describe('removing a source', () => {
	it('takes its scene and channel along, and adding it back restores them in place', () => {
		const before = after({ type: 'setNext', sceneId: 'wide-scene' });
		const removed = reduceAll(before, [{ type: 'removeSource', sourceId: 'wide' }], AT);
		expect(removed.sources.map(({ id }) => id)).toEqual(['lectern', 'choir']);
		expect(removed.next).toBeNull();
		const back = { ...camera('wide'), at: 1, sceneAt: 1 } as Command;
		const restored = reduceAll(removed, [back], AT);
		expect(restored.sources).toEqual(before.sources);
		expect(restored.scenes).toEqual(before.scenes);
	});

	it('is refused while it is on air', () => {
		const state = after({ type: 'take', sceneId: 'wide-scene' }, { type: 'startBroadcast', broadcastId: 'b' });
		expect(refusal(state, { type: 'removeSource', sourceId: 'wide' })).toBe(
			'wide is on air. Take another scene first.',
		);
		expect(refusal(state, { type: 'removeSource', sourceId: 'choir' })).toBe('');
	});
});

describe('a broadcast', () => {
	it('starts once and ends once', () => {
		const on = after({ type: 'startBroadcast', broadcastId: 'b' });
		expect(on.broadcast).toMatchObject({ id: 'b', startedAt: AT, endedAt: null });
		expect(on.broadcast!.renditions).toEqual(planDelivery(on).renditions);
		// Nothing is ticked, so that it is only recorded.
		expect([isOnAir(on), isSent(on), isSent(show)]).toEqual([true, false, false]);
		const to = {
			...on,
			broadcast: { ...on.broadcast!, renditions: [{ ...on.broadcast!.renditions[0]!, destinationIds: ['a'] }] },
		};
		expect(isSent(to)).toBe(true);
		expect(refusal(on, { type: 'startBroadcast', broadcastId: 'c' })).toContain('already');
		const off = reduceAll(on, [{ type: 'endBroadcast' }], AT + 5);
		expect(off.broadcast?.endedAt).toBe(AT + 5);
		expect(refusal(off, { type: 'endBroadcast' })).toContain('not on air');
	});

	it('ends by itself when somebody says so, with a last scene, and stays on when they take that back', () => {
		expect(refusal(show, { type: 'planEnd', inMs: 1000, sceneId: null })).toContain('not on air');
		const on = after({ type: 'take', sceneId: 'lectern-scene' }, { type: 'startBroadcast', broadcastId: 'b' });
		const ending = reduceAll(on, [{ type: 'planEnd', inMs: 9000, sceneId: 'wide-scene' }], AT);
		expect(ending).toMatchObject({ program: 'wide-scene', broadcast: { endsAt: AT + 9000, endedAt: null } });
		const stays = reduceAll(ending, [{ type: 'planEnd', inMs: null, sceneId: null }], AT);
		expect(stays).toMatchObject({ program: 'wide-scene', broadcast: { endsAt: null, endedAt: null } });
		expect(refusal(on, { type: 'planEnd', inMs: 1000, sceneId: 'gone' })).toContain('no longer there');
	});

	it('fixes the picture’s size while it lasts', () => {
		const on = after({ type: 'startBroadcast', broadcastId: 'b' });
		expect(refusal(on, { type: 'setPicture', picture: { width: 1920, height: 1080, fps: 30 } })).toContain(
			'End the broadcast',
		);
	});
});

describe('renaming a source', () => {
	it('renames its scene and channel unless they had names of their own', () => {
		const state = after({ type: 'renameSource', sourceId: 'lectern', name: 'Reading desk' });
		expect(state.scenes[0]!.name).toBe('Reading desk');
		expect(state.channels[0]!.name).toBe('Reading desk');
		expect(state.scenes[1]!.name).toBe('wide');
	});
});

describe('the reducer', () => {
	const sceneId = fc.constantFrom('lectern-scene', 'wide-scene', 'choir-scene', 'gone');
	const sourceId = fc.constantFrom('lectern', 'wide', 'choir', 'gone');
	const channelId = sourceId.map((id) => `${id}-channel`);
	const command: fc.Arbitrary<Command> = fc.oneof(
		fc.record({ type: fc.constant('setNext' as const), sceneId }),
		fc.record({ type: fc.constant('take' as const), sceneId }),
		fc.constant({ type: 'take' as const }),
		fc.constant({ type: 'takeBack' as const }),
		sourceId.map((id) => camera(id)),
		fc.record({ type: fc.constant('removeSource' as const), sourceId }),
		fc.record({ type: fc.constant('setFader' as const), channelId, gainDb: fc.integer({ min: -60, max: 12 }) }),
		fc.record({ type: fc.constant('setMute' as const), channelId, muted: fc.boolean() }),
		fc.record({ type: fc.constant('setHush' as const), hushed: fc.boolean() }),
		fc.constant({ type: 'startBroadcast' as const, broadcastId: 'b' }),
		fc.constant({ type: 'endBroadcast' as const }),
	);

	it('keeps every state whole: valid by its schema, and pointing at nothing that is gone', () => {
		fc.assert(
			fc.property(fc.array(command, { maxLength: 40 }), (commands) => {
				const state = reduceAll(show, commands, AT);
				expect(v.safeParse(showStateSchema, state).success).toBe(true);
				const scenes = new Set(state.scenes.map(({ id }) => id));
				const sources = new Set(state.sources.map(({ id }) => id));
				for (const id of [state.program, state.next, state.previous, state.take.from])
					expect(id === null || scenes.has(id), `scene ${id}`).toBe(true);
				for (const { layers } of state.scenes)
					for (const layer of layers) expect(sources.has(layer.sourceId)).toBe(true);
				for (const channel of state.channels) expect(sources.has(channel.sourceId)).toBe(true);
			}),
		);
	});

	it('never changes the state it was given', () => {
		const frozen = JSON.stringify(show);
		fc.assert(
			fc.property(command, (each) => {
				reduce(show, each, AT);
				expect(JSON.stringify(show)).toBe(frozen);
			}),
		);
	});
});

describe('the command schema', () => {
	it.each([
		[{ type: 'setFader', channelId: 'a', gainDb: 40 }],
		[{ type: 'setTransition', transition: { kind: 'fade', durationMs: -1 } }],
		[{ type: 'renameEvent', title: '   ' }],
		[{ type: 'setPicture', picture: { width: 1280, height: 1080, fps: 30 } }],
		[{ type: 'unknown' }],
		[null],
	])('refuses %j', (bad) => {
		expect(v.safeParse(commandSchema, bad).success).toBe(false);
	});
});
