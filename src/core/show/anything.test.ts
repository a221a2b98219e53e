import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { batchOf, pageCommandSchema, type PageCommand as Command } from './command.ts';
import { plainChannel } from './mix/mix.ts';
import type { Overlay, PrivacyPatch } from './overlays/overlay.ts';
import { reduce, tryReduce } from './reduce.ts';
import { CUT, plainScene, wholeLayer } from './scenes/scene.ts';
import { plainSource } from './sources/source.ts';
import { showStateSchema } from './show-schema.ts';
import { emptyShow, isOnAir, type ShowState } from './state.ts';

/** A few names, so that commands meet each other. */
const id = fc.constantFrom('a', 'b', 'c', 'd');
const place = fc.integer({ min: 0, max: 5 });

const scene = fc
	.record({
		id,
		layers: fc.array(id, { maxLength: 3 }),
		own: fc.option(id),
		framed: fc.boolean(),
		locked: fc.boolean(),
	})
	.map((made) => ({
		...plainScene(
			`scene-${made.id}`,
			made.id,
			made.layers.map((source, i) => ({ ...wholeLayer(`layer-${i}`, source), framingId: made.framed ? 'b' : null })),
		),
		background: made.own === null ? { is: 'event' as const } : { is: 'own' as const, sourceId: made.own },
		locked: made.locked,
	}));
const patch = fc.record({ id, sourceId: fc.option(id), on: fc.boolean() }).map((made): PrivacyPatch => ({
	...made,
	name: made.id,
	area: { x: 0, y: 0, width: 0.5, height: 0.5 },
	style: 'blur',
	strength: 3,
	follow: false,
}));
const overlay = fc.tuple(id, id, fc.boolean()).map(([each, source, picture]): Overlay => {
	const common = { id: each, name: each, reach: 'every' as const, showMs: 0, move: 'fade' as const };
	return picture
		? { ...common, kind: 'picture', sourceId: source, box: { x: 0, y: 0, width: 0.2, height: 0.2 }, fit: 'fit' }
		: { ...common, kind: 'ticker', text: each };
});

const framing = (each: string) => ({ id: each, name: each, crop: { x: 0, y: 0, width: 0.5, height: 0.5 } });
const person = (each: string) => ({ id: each, name: each, role: '' });

const command: fc.Arbitrary<Command> = fc.oneof(
	id.map((each) =>
		batchOf([
			{ type: 'addSource', source: plainSource(each, each, { kind: 'standInCamera', standIn: each }) },
			{ type: 'addScene', scene: plainScene(`scene-${each}`, each, [wholeLayer('layer', each)]) },
			{ type: 'addChannel', channel: plainChannel(`channel-${each}`, each, each) },
		]),
	),
	fc.tuple(id, id).map(([each, followed]): Command => ({
		type: 'changeChannel',
		channel: { ...plainChannel(`channel-${each}`, each, each), followed },
	})),
	fc.tuple(id, id).map(([sourceId, name]): Command => ({ type: 'renameSource', sourceId, name })),
	fc.tuple(id, id).map(([sourceId, each]): Command => ({ type: 'addFraming', sourceId, framing: framing(each) })),
	fc.tuple(id, id).map(([sourceId, framingId]): Command => ({ type: 'removeFraming', sourceId, framingId })),
	fc.tuple(id, place).map(([each, at]): Command => ({ type: 'addPerson', person: person(each), at })),
	fc.tuple(id, place).map(([personId, at]): Command => ({ type: 'movePerson', personId, at })),
	id.map((personId): Command => ({ type: 'removePerson', personId })),
	id.map((each): Command => ({ type: 'removeOverlay', overlayId: each })),
	id.map((each): Command => ({ type: 'removePatch', patchId: each })),
	id.map((each): Command => ({ type: 'removeChannel', channelId: `channel-${each}` })),
	fc
		.tuple(id, fc.integer({ min: -60, max: 12 }))
		.map(([each, gainDb]): Command => ({ type: 'setFader', channelId: `channel-${each}`, gainDb })),
	fc
		.tuple(id, fc.boolean())
		.map(([each, pressed]): Command => ({ type: 'pressChannel', channelId: `channel-${each}`, pressed })),
	id.map((sourceId): Command => ({ type: 'removeSource', sourceId })),
	fc.tuple(scene, place).map(([made, at]): Command => ({ type: 'addScene', scene: made, at })),
	fc.tuple(scene, fc.boolean()).map(([made, live]): Command => ({ type: 'changeScene', scene: made, live })),
	id.map((each): Command => ({ type: 'removeScene', sceneId: `scene-${each}` })),
	fc.tuple(id, place).map(([each, at]): Command => ({ type: 'moveScene', sceneId: `scene-${each}`, at })),
	id.map((each): Command => ({ type: 'dropDraft', sceneId: `scene-${each}` })),
	fc.option(id).map((sourceId): Command => ({ type: 'setBackground', sourceId })),
	fc.option(id).map((each): Command => ({ type: 'setNext', sceneId: each && `scene-${each}` })),
	fc.option(id).map((each): Command => ({ type: 'take', ...(each && { sceneId: `scene-${each}` }) })),
	fc.constantFrom<Command>(
		{ type: 'takeBack' },
		{ type: 'callBack' },
		{ type: 'startBroadcast', broadcastId: 'broadcast' },
		{ type: 'planEnd', inMs: 5000, sceneId: null },
		{ type: 'endBroadcast' },
		{ type: 'setBlack', black: true },
		{ type: 'setTransition', transition: { ...CUT, kind: 'glide', durationMs: 700 } },
	),
	fc.constantFrom(0, 0.4, 1).map((position): Command => ({ type: 'setLever', position })),
	fc.tuple(overlay, place).map(([made, at]): Command => ({ type: 'addOverlay', overlay: made, at })),
	fc
		.tuple(id, fc.boolean())
		.map(([overlayId, on]): Command => ({ type: on ? 'showOverlay' : 'hideOverlay', overlayId })),
	fc.tuple(id, place).map(([overlayId, at]): Command => ({ type: 'moveOverlay', overlayId, at })),
	patch.map((made): Command => ({ type: 'addPatch', patch: made })),
	patch.map((made): Command => ({ type: 'changePatch', patch: made })),
);

/** What must be so whatever was pressed, in whatever order. */
function expectSound(state: ShowState): void {
	const unique = (list: readonly { id: string }[]) =>
		expect(new Set(list.map((each) => each.id)).size).toBe(list.length);
	for (const list of [
		state.setup.sources,
		state.setup.scenes,
		state.live.drafts,
		state.setup.overlays,
		state.setup.patches,
	])
		unique(list);
	const scenes = new Set(state.setup.scenes.map((each) => each.id));
	for (const each of [state.live.program, state.live.next, state.live.previous, state.live.take.from])
		if (each !== null) expect(scenes).toContain(each);
	for (const draft of state.live.drafts) expect(scenes).toContain(draft.id);
	const sources = new Set(state.setup.sources.map((each) => each.id));
	for (const { layers, background } of [...state.setup.scenes, ...state.live.drafts]) {
		for (const { sourceId } of layers) expect(sources).toContain(sourceId);
		if (background.is === 'own') expect(sources).toContain(background.sourceId);
	}
	if (state.setup.background !== null) expect(sources).toContain(state.setup.background);
	if (state.live.next === null) expect(state.live.lever).toBe(0);
}

describe('whatever is pressed, in whatever order', () => {
	const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });

	it('the show stays whole, is stored and read again the same, and what is on air does not vanish', () => {
		fc.assert(
			fc.property(fc.array(command, { maxLength: 60 }), (commands) => {
				let state = empty;
				for (const [i, each] of commands.entries()) {
					expect(v.is(pageCommandSchema, each)).toBe(true);
					const before = structuredClone(state);
					const outcome = tryReduce(state, each, 1000 + i);
					// What is refused, and the state it was refused in, is as it was.
					expect(state).toEqual(before);
					if ('refused' in outcome) {
						expect(outcome.refused.code).toMatch(/^[a-zA-Z]+$/);
						continue;
					}
					if (isOnAir(state) && isOnAir(outcome.state) && state.live.program !== null)
						expect(outcome.state.live.program).not.toBeNull();
					state = outcome.state;
					expectSound(state);
				}
				expect(v.parse(showStateSchema, JSON.parse(JSON.stringify(state)))).toEqual(state);
			}),
			{ numRuns: 400 },
		);
	});

	it('is taken back by what the command says its way back is', () => {
		fc.assert(
			fc.property(fc.array(command, { maxLength: 30 }), command, (commands, last) => {
				let state = empty;
				for (const each of commands) {
					const outcome = tryReduce(state, each, 1000);
					if ('state' in outcome) state = outcome.state;
				}
				const outcome = tryReduce(state, last, 2000);
				if ('refused' in outcome || outcome.inverse.length === 0) return;
				const back = batchOf(outcome.inverse);
				expect(v.is(pageCommandSchema, back)).toBe(true);
				// An overlay that was removed comes back hidden.
				const kept = outcome.state.setup.overlays.map(({ id: each }) => each);
				expect(lasting(reduce(outcome.state, back, 3000).state, kept)).toEqual(lasting(state, kept));
			}),
			{ numRuns: 2000 },
		);
	});
});

/**
 * What a way back brings back: all but counters, what was on air before, and what a hand was holding.
 * @param overlays of which it matters whether they are shown
 */
function lasting({ setup, live }: ShowState, overlays: readonly string[]) {
	const { take: _, previous: __, fade: ___, pressed: ____, shown, due, drafts, ...rest } = live;
	return {
		setup,
		...rest,
		lever: 0,
		shown: Object.keys(shown)
			.filter((each) => overlays.includes(each))
			.sort(),
		ends: due.some(({ id: each }) => each === 'end'),
		drafts: drafts.toSorted((a, b) => a.id.localeCompare(b.id)),
	};
}
