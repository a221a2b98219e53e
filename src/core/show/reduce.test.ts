import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import type { RefusalMessage } from '../refusal.ts';
import { batchOf, commandSchema, pageCommandSchema, type Command } from './command.ts';
import { plainChannel } from './mix/mix.ts';
import { planDelivery } from './delivery/delivery.ts';
import { reduce, reduceAll, tryReduce } from './reduce.ts';
import { CUT, plainScene, wholeLayer } from './scenes/scene.ts';
import { plainSource } from './sources/source.ts';
import { showStateSchema } from './show-schema.ts';
import { withLive } from './slice.ts';
import { emptyShow, endsAt, isOnAir, isSent, type ShowState } from './state.ts';

const AT = 1_795_000_000_000;

function camera(id: string): Command {
	return batchOf([
		{ type: 'addSource', source: plainSource(id, id, { kind: 'standInCamera', standIn: id }) },
		{ type: 'addScene', scene: plainScene(`${id}-scene`, id, [wholeLayer(`${id}-layer`, id)]) },
		{ type: 'addChannel', channel: plainChannel(`${id}-channel`, id, id) },
	]);
}
const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
const show = reduceAll(empty, [camera('lectern'), camera('wide'), camera('choir')], AT);
const after = (...commands: Command[]) => reduceAll(show, commands, AT);

function refusal(state: ShowState, command: Command): RefusalMessage | null {
	const outcome = tryReduce(state, command, AT);
	return 'refused' in outcome ? outcome.refused : null;
}

describe('taking', () => {
	it('puts Next on air and what was on air into Next', () => {
		const state = after(
			{ type: 'take', sceneId: 'lectern-scene' },
			{ type: 'setNext', sceneId: 'wide-scene' },
			{ type: 'take' },
		);
		expect(state.live).toMatchObject({ program: 'wide-scene', next: 'lectern-scene', previous: 'lectern-scene' });
		expect(state.live.take).toMatchObject({ count: 2, from: 'lectern-scene', at: AT });
	});

	it('of another scene leaves Next alone', () => {
		const state = after({ type: 'setNext', sceneId: 'wide-scene' }, { type: 'take', sceneId: 'choir-scene' });
		expect(state.live).toMatchObject({ program: 'choir-scene', next: 'wide-scene' });
	});

	it('back brings what was on air before', () => {
		const state = after(
			{ type: 'take', sceneId: 'lectern-scene' },
			{ type: 'take', sceneId: 'wide-scene' },
			{ type: 'takeBack' },
		);
		expect(state.live.program).toBe('lectern-scene');
		expect(refusal(show, { type: 'takeBack' })).toMatchObject({ code: 'previousEmpty' });
	});

	it('keeps the transition it was made with', () => {
		const fade = { ...CUT, kind: 'fade', durationMs: 800 } as const;
		const state = after({ type: 'setTransition', transition: fade }, { type: 'take', sceneId: 'wide-scene' });
		expect(state.live.take.transition).toEqual(fade);
	});

	it('of the scene that is on air does nothing, and of nothing says why', () => {
		const state = after({ type: 'take', sceneId: 'wide-scene' });
		expect(reduceAll(state, [{ type: 'take', sceneId: 'wide-scene' }], AT)).toBe(state);
		expect(refusal(show, { type: 'take' })).toMatchObject({ code: 'nextEmpty' });
		expect(refusal(show, { type: 'take', sceneId: 'gone' })).toEqual({ code: 'gone', about: { what: 'scene' } });
	});
});

describe('removing a source', () => {
	it('takes its scene and channel along, and adding it back restores them in place', () => {
		const before = after({ type: 'setNext', sceneId: 'wide-scene' });
		const removed = reduceAll(before, [{ type: 'removeSource', sourceId: 'wide' }], AT);
		expect(removed.setup.sources.map(({ id }) => id)).toEqual(['lectern', 'choir']);
		expect(removed.live.next).toBeNull();
		const { inverse } = reduce(before, { type: 'removeSource', sourceId: 'wide' }, AT);
		const restored = reduceAll(removed, [batchOf(inverse)], AT);
		expect(restored).toEqual(before);
	});

	it('is refused while it is on air', () => {
		const state = after({ type: 'take', sceneId: 'wide-scene' }, { type: 'startBroadcast', broadcastId: 'b' });
		expect(refusal(state, { type: 'removeSource', sourceId: 'wide' })).toEqual({
			code: 'onAir',
			about: { name: 'wide' },
		});
		expect(refusal(state, { type: 'removeSource', sourceId: 'choir' })).toBeNull();
	});
});

describe('a broadcast', () => {
	it('starts once and ends once', () => {
		const on = after({ type: 'startBroadcast', broadcastId: 'b' });
		expect(on.live.broadcast).toMatchObject({ id: 'b', startedAt: AT, endedAt: null });
		expect(on.live.broadcast!.renditions).toEqual(planDelivery(on).renditions);
		// Nothing is ticked, so that it is only recorded.
		expect([isOnAir(on), isSent(on), isSent(show)]).toEqual([true, false, false]);
		const { broadcast } = on.live;
		const renditions = [{ ...broadcast!.renditions[0]!, destinationIds: ['a'] }];
		expect(isSent(withLive(on, { broadcast: { ...broadcast!, renditions } }))).toBe(true);
		expect(refusal(on, { type: 'startBroadcast', broadcastId: 'c' })?.code).toBe('alreadyOnAir');
		const off = reduceAll(on, [{ type: 'endBroadcast' }], AT + 5);
		expect(off.live.broadcast?.endedAt).toBe(AT + 5);
		expect(refusal(off, { type: 'endBroadcast' })?.code).toBe('notOnAir');
	});

	it('ends by itself when somebody says so, with a last scene, and stays on when they take that back', () => {
		expect(refusal(show, { type: 'planEnd', inMs: 1000, sceneId: null })?.code).toBe('notOnAir');
		const on = after({ type: 'take', sceneId: 'lectern-scene' }, { type: 'startBroadcast', broadcastId: 'b' });
		const ending = reduceAll(on, [{ type: 'planEnd', inMs: 9000, sceneId: 'wide-scene' }], AT);
		expect(ending.live).toMatchObject({ program: 'wide-scene', broadcast: { endedAt: null } });
		expect(endsAt(ending)).toBe(AT + 9000);
		const stays = reduceAll(ending, [{ type: 'planEnd', inMs: null, sceneId: null }], AT);
		expect(stays.live).toMatchObject({ program: 'wide-scene', broadcast: { endedAt: null } });
		expect(endsAt(stays)).toBeNull();
		const ended = reduceAll(ending, [{ type: 'fallDue', dueId: 'end' }], AT + 9000);
		expect(ended.live).toMatchObject({ broadcast: { endedAt: AT + 9000 }, due: [] });
		expect(refusal(on, { type: 'planEnd', inMs: 1000, sceneId: 'gone' })?.code).toBe('gone');
	});

	it('fixes the picture’s size while it lasts', () => {
		const on = after({ type: 'startBroadcast', broadcastId: 'b' });
		const picture = { width: 1920, height: 1080, fps: 30 } as const;
		expect(refusal(on, { type: 'setPicture', picture })?.code).toBe('pictureFixed');
	});
});

describe('renaming a source', () => {
	it('renames its scene and channel unless they had names of their own', () => {
		const state = after({ type: 'renameSource', sourceId: 'lectern', name: 'Reading desk' });
		expect(state.setup.scenes[0]!.name).toBe('Reading desk');
		expect(state.setup.channels[0]!.name).toBe('Reading desk');
		expect(state.setup.scenes[1]!.name).toBe('wide');
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
				const scenes = new Set(state.setup.scenes.map(({ id }) => id));
				const sources = new Set(state.setup.sources.map(({ id }) => id));
				for (const id of [state.live.program, state.live.next, state.live.previous, state.live.take.from])
					expect(id === null || scenes.has(id), `scene ${id}`).toBe(true);
				for (const { layers } of state.setup.scenes)
					for (const layer of layers) expect(sources.has(layer.sourceId)).toBe(true);
				for (const channel of state.setup.channels) expect(sources.has(channel.sourceId)).toBe(true);
			}),
		);
	});

	it('never changes the state it was given', () => {
		const frozen = JSON.stringify(show);
		fc.assert(
			fc.property(command, (each) => {
				tryReduce(show, each, AT);
				expect(JSON.stringify(show)).toBe(frozen);
			}),
		);
	});
});

describe('a batch', () => {
	it('is done at one time, all of it or nothing, and taken back as one', () => {
		const both = batchOf([
			{ type: 'take', sceneId: 'wide-scene' },
			{ type: 'setHush', hushed: true },
		]);
		const done = reduce(show, both, AT);
		expect(done.state.live).toMatchObject({ program: 'wide-scene', hushed: true, take: { at: AT } });
		const one = batchOf([
			{ type: 'setHush', hushed: true },
			{ type: 'take', sceneId: 'gone' },
		]);
		expect(refusal(show, one)).toEqual({ code: 'gone', about: { what: 'scene' } });
		expect(reduceAll(show, [one], AT)).toBe(show);
		const on = after({ type: 'take', sceneId: 'lectern-scene' });
		const { state, inverse } = reduce(on, both, AT);
		expect(reduce(state, batchOf(inverse), AT).state.live).toMatchObject({ program: 'lectern-scene', hushed: false });
	});

	it('of what is due is dropped when it cannot be done any more', () => {
		const due = [{ id: 'end', at: AT, batch: [{ type: 'endBroadcast' as const }] }];
		const late = withLive(show, { due });
		expect(reduce(late, { type: 'fallDue', dueId: 'end' }, AT).state).toEqual(show);
		expect(refusal(show, { type: 'fallDue', dueId: 'end' })).toEqual({ code: 'gone', about: { what: 'due' } });
	});
});

describe('the command schema', () => {
	it.each([
		[{ type: 'setFader', channelId: 'a', gainDb: 40 }],
		[{ type: 'setTransition', transition: { kind: 'fade', durationMs: -1 } }],
		[{ type: 'renameEvent', title: '   ' }],
		[{ type: 'setPicture', picture: { width: 1280, height: 1080, fps: 30 } }],
		[{ type: 'unknown' }],
		[{ type: 'batch', commands: [{ type: 'batch', commands: [] }] }],
		[null],
	])('refuses %j', (bad) => {
		expect(v.safeParse(commandSchema, bad).success).toBe(false);
	});

	it('refuses numbers that JSON cannot keep: 1e999 is read as infinity', () => {
		const clock = (startedAt: string) =>
			JSON.parse(`{"type":"addSource","source":{"id":"c","name":"C","kind":"clock",
				"clock":{"shows":"countUp","startedAt":${startedAt}},"paper":"#000000","ink":"#ffffff"}}`) as unknown;
		expect(v.safeParse(pageCommandSchema, clock('1795000000000')).success).toBe(true);
		expect(v.safeParse(pageCommandSchema, clock('1e999')).success).toBe(false);
	});

	it('lets no page say where a program goes, what was measured, or that something is due', () => {
		const destination = { id: 'd', name: 'D', address: 'rtmp://h.example/d', userName: '', hasKey: true, ticked: true };
		for (const command of [
			{ type: 'addDestination', destination },
			{ type: 'changeDestination', destination },
			{ type: 'addLine', line: { runsKbps: [9000], at: 1 } },
			{ type: 'fallDue', dueId: 'end' },
		]) {
			expect(v.safeParse(commandSchema, command).success).toBe(true);
			expect(v.safeParse(pageCommandSchema, command).success).toBe(false);
			expect(v.safeParse(pageCommandSchema, { type: 'batch', commands: [command] }).success).toBe(false);
		}
	});
});
