import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { commandSchema, type Command } from './command.ts';
import type { Overlay, PrivacyPatch } from './overlay.ts';
import { reduce } from './reduce.ts';
import { CUT, plainScene, wholeLayer } from './scene.ts';
import { plainSource } from './source.ts';
import { emptyShow, isOnAir, showStateSchema, type ShowState } from './state.ts';

/** A few names, so that commands meet each other. */
const id = fc.constantFrom('a', 'b', 'c', 'd');
const place = fc.integer({ min: 0, max: 5 });

const scene = fc
	.record({ id, layers: fc.array(id, { maxLength: 3 }), own: fc.option(id), locked: fc.boolean() })
	.map((made) => ({
		...plainScene(
			`scene-${made.id}`,
			made.id,
			made.layers.map((source, i) => wholeLayer(`layer-${i}`, source)),
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
	const common = { id: each, name: each, reach: 'every' as const, showMs: 0, move: 'fade' as const, shown: null };
	return picture
		? { ...common, kind: 'picture', sourceId: source, box: { x: 0, y: 0, width: 0.2, height: 0.2 }, fit: 'fit' }
		: { ...common, kind: 'ticker', text: each };
});

const command: fc.Arbitrary<Command> = fc.oneof(
	id.map((each): Command => ({
		type: 'addSource',
		source: plainSource(each, each, 'camera', { from: 'standIn', standIn: each }),
		scenes: [plainScene(`scene-${each}`, each, [wholeLayer('layer', each)])],
		channels: [],
		overlays: [],
		patches: [],
	})),
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
	for (const list of [state.sources, state.scenes, state.drafts, state.overlays, state.patches]) unique(list);
	const scenes = new Set(state.scenes.map((each) => each.id));
	for (const each of [state.program, state.next, state.previous, state.take.from])
		if (each !== null) expect(scenes).toContain(each);
	for (const draft of state.drafts) expect(scenes).toContain(draft.id);
	const sources = new Set(state.sources.map((each) => each.id));
	for (const { layers, background } of [...state.scenes, ...state.drafts]) {
		for (const { sourceId } of layers) expect(sources).toContain(sourceId);
		if (background.is === 'own') expect(sources).toContain(background.sourceId);
	}
	if (state.background !== null) expect(sources).toContain(state.background);
	if (state.next === null) expect(state.lever).toBe(0);
}

describe('whatever is pressed, in whatever order', () => {
	const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });

	it('the show stays whole, is stored and read again the same, and what is on air does not vanish', () => {
		fc.assert(
			fc.property(fc.array(command, { maxLength: 60 }), (commands) => {
				let state = empty;
				for (const [i, each] of commands.entries()) {
					expect(v.is(commandSchema, each)).toBe(true);
					const before = structuredClone(state);
					const outcome = reduce(state, each, 1000 + i);
					// What is refused, and the state it was refused in, is as it was.
					expect(state).toEqual(before);
					if ('refused' in outcome) {
						expect(outcome.refused).toMatch(/^[A-Za-z’].*[.]$/);
						continue;
					}
					if (isOnAir(state) && isOnAir(outcome.state) && state.program !== null)
						expect(outcome.state.program).not.toBeNull();
					state = outcome.state;
					expectSound(state);
				}
				expect(v.parse(showStateSchema, JSON.parse(JSON.stringify(state)))).toEqual(state);
			}),
			{ numRuns: 400 },
		);
	});
});
