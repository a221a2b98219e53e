import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { WHOLE } from '../show/basics.ts';
import type { Overlay } from '../show/overlays/overlay.ts';
import { CUT, plainScene, wholeLayer, type Layer } from '../show/scenes/scene.ts';
import {
	sceneParts,
	sceneSteps,
	stepsAbove,
	picturesOf,
	untouchedPicture,
	type Blit,
	type PictureInfo,
	type Stage,
} from './draw-list.ts';
import { arranged, clipped, cropWithin, fitInto, fitted, partWithin, sharpness, softness } from './geometry.ts';
import { transitionBase } from './transition.ts';

const PICTURE = { width: 1280, height: 720 };
const infos: Record<string, PictureInfo> = {
	wide: { ...PICTURE, alpha: false },
	close: { ...PICTURE, alpha: false },
	small: { width: 640, height: 480, alpha: false },
	logo: { width: 200, height: 100, alpha: true },
};
const HARMONIUM = { x: 0.5, y: 0.25, width: 0.25, height: 0.25 };
const stage: Stage = {
	picture: PICTURE,
	pictureOf: (id) => infos[id] ?? null,
	framing: (_, framingId) => (framingId === 'harmonium' ? HARMONIUM : WHOLE),
	background: null,
};
const layer = (sourceId: string, part: Partial<Layer> = {}): Layer => ({ ...wholeLayer(sourceId, sourceId), ...part });
const scene = (...layers: Layer[]) => plainScene('scene', 'Scene', layers);
const blits = (steps: ReturnType<typeof sceneSteps>) => steps.filter((step): step is Blit => step.step === 'blit');
const ids = (steps: ReturnType<typeof sceneSteps>) => blits(steps).map(({ pictureId }) => pictureId);

const size = fc.record({ width: fc.integer({ min: 16, max: 4000 }), height: fc.integer({ min: 16, max: 4000 }) });

describe('fitting a picture of another shape', () => {
	it('fills one side, keeps the shape within a pixel pair, stays inside and on even pixels', () => {
		fc.assert(
			fc.property(size, (source) => {
				const { x, y, width, height } = fitted(source, PICTURE);
				expect([x, y, width, height].every((n) => n % 2 === 0 && n >= 0)).toBe(true);
				expect(x + width <= PICTURE.width && y + height <= PICTURE.height).toBe(true);
				expect(width === PICTURE.width || height === PICTURE.height).toBe(true);
				const scale = Math.min(PICTURE.width / source.width, PICTURE.height / source.height);
				expect(Math.abs(width - source.width * scale)).toBeLessThanOrEqual(2);
				expect(Math.abs(height - source.height * scale)).toBeLessThanOrEqual(2);
			}),
		);
	});

	it('crops to the box when it is to be filled, and never outside of the source', () => {
		const box = { x: 10, y: 20, width: 300, height: 300 };
		fc.assert(
			fc.property(size, (source) => {
				const { from, to } = fitInto({ x: 0, y: 0, ...source }, box, 'fill');
				expect(to).toEqual(box);
				expect(from.width).toBeCloseTo(from.height, 6);
				expect(from.x >= -1e-9 && from.y >= -1e-9).toBe(true);
				expect(from.x + from.width <= source.width + 1e-6 && from.y + from.height <= source.height + 1e-6).toBe(true);
			}),
		);
	});

	it('keeps the part of the source that belongs to what is left after clipping', () => {
		const seen = clipped({ x: 0, y: 0, width: 100, height: 100 }, { x: -640, y: 0, width: 1280, height: 720 }, PICTURE);
		expect(seen).toEqual({
			from: { x: 50, y: 0, width: 50, height: 100 },
			to: { x: 0, y: 0, width: 640, height: 720 },
		});
		expect(clipped({ ...WHOLE }, { x: 1280, y: 0, width: 100, height: 100 }, PICTURE)).toBeNull();
	});

	it('takes a crop of a crop', () => {
		expect(cropWithin(HARMONIUM, { x: 0.5, y: 0.5, width: 0.5, height: 0.5 })).toEqual({
			x: 0.625,
			y: 0.375,
			width: 0.125,
			height: 0.125,
		});
	});

	it('finds the crop of a crop again, kept within its picture', () => {
		const part = () => fc.double({ min: 0.02, max: 0.45, noNaN: true });
		fc.assert(
			fc.property(part(), part(), part(), part(), (x, y, width, height) => {
				const inner = { x, y, width, height };
				const found = partWithin(HARMONIUM, cropWithin(HARMONIUM, inner));
				for (const side of ['x', 'y', 'width', 'height'] as const) expect(found[side]).toBeCloseTo(inner[side], 9);
			}),
		);
		expect(partWithin(HARMONIUM, WHOLE)).toEqual(WHOLE);
		const beside = partWithin(HARMONIUM, { x: 0, y: 0, width: 0.1, height: 0.1 });
		expect(beside).toEqual({ x: 0, y: 0, width: 0.02, height: 0.02 });
	});

	it('says how sharp it will be, in words below 1 and below 0.67', () => {
		expect(sharpness({ width: 1920, height: 1080 }, PICTURE)).toBe(1.5);
		expect(softness(1)).toBe('none');
		expect(softness(0.8)).toBe('little');
		expect(softness(0.5)).toBe('visible');
	});
});

describe('arrangements', () => {
	it.each(['grid', 'oneLarge', 'inCorner'] as const)('%s keeps 1 to 9 pictures inside, apart, and in shape', (way) => {
		for (let count = 1; count <= 9; count++) {
			const boxes = arranged(way, count);
			expect(boxes).toHaveLength(count);
			for (const [i, { x, y, width, height }] of boxes.entries()) {
				expect(width).toBeCloseTo(height, 9);
				expect(Math.min(x, y)).toBeGreaterThanOrEqual(-1e-9);
				expect(Math.max(x + width, y + height)).toBeLessThanOrEqual(1 + 1e-9);
				for (const [j, other] of boxes.entries()) {
					if (j <= i || (way === 'inCorner' && i === 0)) continue;
					const apart =
						x + width <= other.x + 1e-9 ||
						other.x + other.width <= x + 1e-9 ||
						y + height <= other.y + 1e-9 ||
						other.y + other.height <= y + 1e-9;
					expect(apart, `${way} of ${count}: ${i} and ${j}`).toBe(true);
				}
			}
		}
		expect(() => arranged(way, 10)).toThrow('1 to 9');
	});
});

describe('the draw list', () => {
	it('leaves out what a full layer hides, and sources without a picture', () => {
		expect(ids(sceneSteps(scene(layer('small'), layer('wide')), stage))).toEqual(['wide']);
		expect(ids(sceneSteps(scene(layer('wide'), layer('small')), stage))).toEqual(['wide', 'small']);
		expect(sceneSteps(scene(layer('missing')), stage)).toEqual(sceneSteps(null, stage));
		expect(ids(sceneSteps(scene(layer('small'), layer('wide', { hidden: true })), stage))).toEqual(['small']);
	});

	it('keeps what shows through a layer that is not all there', () => {
		const parts: Partial<Layer>[] = [
			{ opacity: 0.9 },
			{ corner: 0.1 },
			{ key: { by: 'light', low: 0.1, high: 0.2 } },
			{ box: { x: 0, y: 0, width: 0.99, height: 1 } },
		];
		for (const part of parts)
			expect(ids(sceneSteps(scene(layer('close'), layer('wide', part)), stage))).toEqual(['close', 'wide']);
	});

	it('lets a picture through untouched only when it is the whole program and nothing lies above', () => {
		const list = (...layers: Layer[]) => ({
			base: { steps: sceneSteps(scene(...layers), stage) },
			above: [],
			black: 0,
		});
		expect(untouchedPicture(list(layer('wide')), stage)).toBe('wide');
		expect(untouchedPicture(list(layer('small')), stage)).toBeNull();
		expect(untouchedPicture(list(layer('wide', { mirrored: true })), stage)).toBeNull();
		expect(untouchedPicture(list(layer('wide', { framingId: 'harmonium' })), stage)).toBeNull();
		const above = sceneSteps(scene(layer('logo')), stage);
		expect(untouchedPicture({ ...list(layer('wide')), above }, stage)).toBeNull();
		expect(untouchedPicture({ ...list(layer('wide')), black: 3 }, stage)).toBeNull();
	});

	it('cuts a framing out of its camera', () => {
		const [blit] = blits(sceneSteps(scene(layer('wide', { framingId: 'harmonium' })), stage));
		expect(blit).toMatchObject({ from: { x: 640, y: 180, width: 320, height: 180 }, to: { x: 0, y: 0, ...PICTURE } });
	});

	it('puts the background behind every scene, or the scene’s own, or none', () => {
		const withBackground = { ...stage, background: 'wide' };
		const of = (background: ReturnType<typeof scene>['background']) =>
			ids(sceneSteps({ ...scene(layer('small')), background }, withBackground));
		expect(of({ is: 'event' })).toEqual(['wide', 'small']);
		expect(of({ is: 'own', sourceId: 'close' })).toEqual(['close', 'small']);
		expect(of({ is: 'none' })).toEqual(['small']);
	});

	it('needs each picture once, however many layers show it', () => {
		const box = { x: 0, y: 0, width: 0.4, height: 0.4 };
		const steps = sceneSteps(scene(layer('wide'), layer('wide', { box }), layer('small', { box })), stage);
		expect(picturesOf({ base: { steps }, above: [], black: 0 })).toEqual(['wide', 'small']);
	});

	it('stays within the picture and on even pixels wherever layers are put', () => {
		const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
		const box = fc.record({ x: number(-2, 2), y: number(-2, 2), width: number(0.01, 4), height: number(0.01, 4) });
		fc.assert(
			fc.property(
				box,
				fc.constantFrom('fit', 'fill', 'stretch' as const),
				fc.boolean(),
				number(0, 0.5),
				(place, fit, mirrored, corner) => {
					const border = { width: 0.01, colour: '#ffffff' };
					for (const step of sceneSteps(scene(layer('small', { box: place, fit, mirrored, corner, border })), stage)) {
						if (step.step === 'patch') continue;
						const { x, y, width, height } = step.to;
						expect([x, y, width, height].every((value) => value >= 0 && value % 2 === 0)).toBe(true);
						expect(x + width <= 1280 && y + height <= 720 && width >= 2 && height >= 2).toBe(true);
						if (step.step !== 'blit') continue;
						expect(step.from.x >= -1e-6 && step.from.x + step.from.width <= 640 + 1e-6).toBe(true);
						expect(step.from.y >= -1e-6 && step.from.y + step.from.height <= 480 + 1e-6).toBe(true);
					}
				},
			),
		);
	});
});

describe('overlays', () => {
	const overlay: Overlay = {
		id: 'logo',
		name: 'Logo',
		kind: 'picture',
		reach: ['scene'],
		showMs: 0,
		move: 'fade',
		sourceId: 'logo',
		box: { x: 0.8, y: 0.8, width: 0.15, height: 0.15 },
		fit: 'fit',
	};
	const above = (sceneId: string, presence = 1, each: Overlay = overlay) =>
		stepsAbove([{ overlay: each, presence, age: 0 }], sceneId, () => null, [], stage);

	it('reach their scenes, and every scene when that is asked', () => {
		expect(above('scene')).toHaveLength(1);
		expect(above('other')).toHaveLength(0);
		expect(above('other', 1, { ...overlay, reach: 'every' })).toHaveLength(1);
	});

	it('come in by their opacity', () => {
		expect(above('scene', 0.5)[0]).toMatchObject({ opacity: 128 });
	});

	it('lie below the patches of the program, which hold only while they are on', () => {
		const patch = {
			id: 'p',
			name: 'Numbers',
			sourceId: null,
			area: { ...WHOLE },
			style: 'solid',
			strength: 3,
			on: true,
			follow: false,
		} as const;
		const steps = (on: boolean) =>
			stepsAbove([{ overlay, presence: 1, age: 0 }], 'scene', () => null, [{ ...patch, on }], stage);
		expect(steps(true).map(({ step }) => step)).toEqual(['blit', 'patch']);
		expect(steps(false).map(({ step }) => step)).toEqual(['blit']);
	});
});

describe('a glide', () => {
	const corner = { x: 0.7, y: 0, width: 0.3, height: 0.3 };
	const from = scene(layer('wide'), layer('close', { box: corner }));
	const to = scene(layer('close'), layer('logo'));
	const at = (progress: number) => transitionBase(from, to, { ...CUT, kind: 'glide' }, progress, stage);

	it('moves what is in both scenes from one place to the other', () => {
		const widths = [0.1, 0.5, 0.9].map((progress) => {
			const base = at(progress);
			const close = 'steps' in base ? blits(base.steps).find(({ pictureId }) => pictureId === 'close') : undefined;
			return close!.to.width;
		});
		expect(widths[0]).toBeGreaterThan(384);
		expect(widths).toEqual([...widths].sort((x, y) => x - y));
		expect(widths[2]).toBeLessThan(1280);
	});

	it('fades out what leaves and in what arrives', () => {
		const base = at(0.25);
		const opacity = Object.fromEntries(
			blits('steps' in base ? base.steps : []).map((step) => [step.pictureId, step.opacity]),
		);
		expect(opacity).toEqual({ wide: 192, close: 256, logo: 64 });
	});

	it('between two framings of one camera is a move of the camera', () => {
		const framed = scene(layer('wide', { framingId: 'harmonium' }));
		const base = transitionBase(scene(layer('wide')), framed, { ...CUT, kind: 'glide' }, 0.5, stage);
		const [blit] = blits('steps' in base ? base.steps : []);
		expect(blit).toMatchObject({ from: { x: 320, y: 90, width: 800, height: 450 }, to: { x: 0, y: 0, ...PICTURE } });
		expect(sceneParts(framed, stage)[0]!.from).toEqual({ x: 640, y: 180, width: 320, height: 180 });
	});
});
