import { describe, expect, it } from 'vitest';
import type { Overlay } from '../show/overlays/overlay.ts';
import { plainScene, wholeLayer, type Layer } from '../show/scenes/scene.ts';
import { plainSource } from '../show/sources/source.ts';
import { emptyShow, type ShowState } from '../show/state.ts';
import { encodedPixels, eventWeight, weighScenes } from './weight.ts';

const camera = (id: string) => plainSource(id, id, { kind: 'standInCamera', standIn: 'lectern' });
const keyed = (layer: Layer): Layer => ({
	...layer,
	key: { by: 'colour', colour: '#00ff00', tolerance: 0.1, softness: 0.1, spill: 0.2 },
});
const small = { x: 0.7, y: 0.7, width: 0.25, height: 0.25 };
const SIZE = () => ({ width: 1280, height: 720 });

function show(...scenes: Layer[][]): ShowState {
	const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
	return {
		...empty,
		setup: {
			...empty.setup,
			sources: [camera('a'), camera('b'), camera('c')],
			scenes: scenes.map((layers, i) => plainScene(`scene-${i}`, `Scene ${i}`, layers)),
		},
	};
}
const order = (state: ShowState) => weighScenes(state.setup, SIZE).map(({ sceneId }) => sceneId);

describe('the heaviest scene', () => {
	it('is the one whose draw list costs most: keyed before placed, placed before whole', () => {
		const whole = [wholeLayer('a', 'a')];
		const placed = [wholeLayer('a', 'a'), { ...wholeLayer('b', 'b'), box: small, opacity: 0.8 }];
		const key = [wholeLayer('a', 'a'), keyed(wholeLayer('b', 'b'))];
		expect(order(show(whole, placed, key))).toEqual(['scene-2', 'scene-1', 'scene-0']);
	});

	it('does not count what is hidden behind a picture that covers it, or is not shown', () => {
		const many = [wholeLayer('a', 'a'), wholeLayer('b', 'b'), wholeLayer('c', 'c')];
		const hidden = [wholeLayer('a', 'a'), { ...keyed(wholeLayer('b', 'b')), hidden: true }];
		const weights = weighScenes(show(many, hidden, [wholeLayer('a', 'a')]).setup, SIZE).map(({ weight }) => weight);
		expect(new Set(weights).size).toBe(1);
	});

	it('has the overlays on it that reach it', () => {
		const state = show([wholeLayer('a', 'a')], [wholeLayer('b', 'b')]);
		const overlay: Overlay = {
			...{ id: 'logo', name: 'Logo', sourceId: 'c', box: small, reach: ['scene-1'], showMs: 0 },
			...({ kind: 'picture', fit: 'fit', move: 'fade' } as const),
		};
		expect(order({ ...state, setup: { ...state.setup, overlays: [overlay] } })[0]).toBe('scene-1');
	});
});

describe('an event', () => {
	it('becomes heavier with what is recorded apart, not with its picture’s size', () => {
		const state = show([wholeLayer('a', 'a')]);
		const { setup } = state;
		const apart = { ...setup.delivery, apart: { sourceIds: ['a', 'b'], channelIds: [] } };
		const recording = { ...state, setup: { ...setup, delivery: apart } };
		expect(eventWeight(recording, SIZE)).toBeGreaterThan(1.3 * eventWeight(state, SIZE));
		expect(encodedPixels(recording)).toBeGreaterThan(encodedPixels(state));
		const picture = { width: 1280, height: 720, fps: 60 } as const;
		expect(eventWeight({ ...state, setup: { ...setup, picture } }, SIZE)).toBeCloseTo(eventWeight(state, SIZE), 6);
	});

	it('becomes heavier with another camera, shown or not', () => {
		const state = show([wholeLayer('a', 'a')]);
		const sources = [...state.setup.sources, camera('d'), camera('e')];
		const more = { ...state, setup: { ...state.setup, sources } };
		expect(eventWeight(more, SIZE)).toBeGreaterThan(1.05 * eventWeight(state, SIZE));
	});

	it('without a scene weighs what its encoder takes', () => {
		expect(eventWeight(show(), SIZE)).toBeGreaterThan(0);
	});
});
