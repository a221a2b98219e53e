import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { WHOLE } from '../show/basics.ts';
import { CUT, plainScene, wholeLayer, type Layer } from '../show/scenes/scene.ts';
import { NEUTRAL } from '../show/sources/source.ts';
import { adjustTables, keyNumbers, yuvOf } from './colour.ts';
import { Compositor } from './compositor.ts';
import {
	layerStepsOn,
	patchStep,
	sceneSteps,
	untouchedPicture,
	type DrawList,
	type DrawStep,
	type Stage,
} from './draw-list.ts';
import { fitted, type Size } from './geometry.ts';
import { blendReference, cellMeansReference, mixReference, scaleReference } from './kernels/reference.ts';
import { FrameMemory, type KernelExports, type Planes } from './planes.ts';
import { cornerMask, wipeField, wipeTable } from './shapes.ts';
import { transitionBase } from './transition.ts';

const PICTURE = { width: 64, height: 36 };
let compositor: Compositor;
const pictures = new Map<string, Planes>();
const luma = new Map<string, Uint8Array>();

const stage: Stage = {
	picture: PICTURE,
	pictureOf: (id) => {
		const planes = pictures.get(id);
		return planes ? { ...planes, alpha: planes.alpha !== null } : null;
	},
	framing: () => WHOLE,
	background: null,
};

function addPicture(id: string, { width, height }: Size, byte: (i: number) => number): void {
	const planes = compositor.memory.allocatePlanes(width, height);
	const bytes = Uint8Array.from({ length: planes.bytes }, (_, i) => byte(i));
	compositor.memory.bytes.set(bytes, planes.y);
	pictures.set(id, planes);
	luma.set(id, bytes.slice(0, width * height));
}
const noisy = (seed: number) => (i: number) => (i * 31 + seed * 97) ^ (i >> 3);

beforeAll(async () => {
	const memory = new WebAssembly.Memory({ initial: 2, maximum: 1024 });
	const bytes = readFileSync(new URL('./kernels/build/kernels.wasm', import.meta.url));
	const { instance } = await WebAssembly.instantiate(bytes, { env: { memory } });
	compositor = new Compositor(instance.exports as unknown as KernelExports, new FrameMemory(memory), PICTURE);
	addPicture('a', PICTURE, noisy(1));
	addPicture('b', PICTURE, noisy(2));
	addPicture('square', { width: 21, height: 21 }, noisy(3));
	addPicture('green', PICTURE, (i) =>
		i < 64 * 36 ? 140 : i < (64 * 36 * 5) / 4 ? yuvOf('#00b140').u : yuvOf('#00b140').v,
	);
});

const read = (at: number, length: number) => compositor.memory.bytes.slice(at, at + length);
const lumaOf = (planes: Planes) => read(planes.y, planes.width * planes.height);
const planesOf = (id: string) => pictures.get(id)!;
const layer = (sourceId: string, part: Partial<Layer> = {}): Layer => ({ ...wholeLayer(sourceId, sourceId), ...part });
const stepsOf = (...layers: Layer[]) => sceneSteps(plainScene('scene', 'Scene', layers), stage);
const list = (base: DrawList['base'], above: DrawStep[] = [], black = 0): DrawList => ({ base, above, black });
const paint = (...layers: Layer[]) => compositor.compose(list({ steps: stepsOf(...layers) }), planesOf, stage);
const compose = (made: DrawList) => compositor.compose(made, planesOf, stage);

describe('a scene', () => {
	it('of one whole picture is handed on without being copied', () => {
		expect(paint(layer('a'))).toBe(pictures.get('a'));
		expect(untouchedPicture(list({ steps: stepsOf(layer('a')) }), stage)).toBe('a');
	});

	it('fits a square between black sides', () => {
		const out = paint(layer('square'));
		const expected = new Uint8Array(64 * 36).fill(16);
		const { x, width } = fitted({ width: 21, height: 21 }, PICTURE);
		const scaled = scaleReference(luma.get('square')!, 21, 21, width, 36);
		for (let row = 0; row < 36; row++) expected.set(scaled.subarray(row * width, (row + 1) * width), row * 64 + x);
		expect(lumaOf(out)).toEqual(expected);
		expect(read(out.u, 2)).toEqual(Uint8Array.of(128, 128));
	});

	it('is black when there is nothing', () => {
		expect(new Set(lumaOf(compose(list({ steps: sceneSteps(null, stage) }))))).toEqual(new Set([16]));
	});

	it('blends a layer by its opacity exactly', () => {
		const out = paint(layer('a'), layer('b', { opacity: 0.25 }));
		const [a, b] = [luma.get('a')!, luma.get('b')!];
		expect(lumaOf(out)).toEqual(a.map((value, i) => blendReference(value, b[i]!, 255, 64)));
	});

	it('mirrors a layer', () => {
		const [out, b] = [lumaOf(paint(layer('b', { mirrored: true }))), luma.get('b')!];
		expect(out).toEqual(b.map((_, i) => b[Math.floor(i / 64) * 64 + 63 - (i % 64)]!));
	});

	it('rounds corners and leaves what is behind them', () => {
		const box = { x: 14 / 64, y: 8 / 36, width: 36 / 64, height: 20 / 36 };
		const out = lumaOf(paint(layer('a'), layer('b', { box, fit: 'stretch', corner: 0.5 })));
		const scaled = scaleReference(luma.get('b')!, 64, 36, 36, 20);
		const mask = cornerMask(36, 20, 10);
		const expected = luma.get('a')!.slice();
		for (let i = 0; i < 36 * 20; i++) {
			const at = (8 + Math.floor(i / 36)) * 64 + 14 + (i % 36);
			expected[at] = blendReference(expected[at]!, scaled[i]!, mask[i]!, 256);
		}
		expect(out).toEqual(expected);
		expect([mask[0], mask[10], mask[36 * 10]]).toEqual([0, 255, 255]);
	});

	it('shows how opaque a layer is: its opacity, its shape, its key', () => {
		const opacity = (part: Partial<Layer>) =>
			lumaOf(compositor.composeOpacity((ground) => layerStepsOn(ground, layer('a', part), stage), planesOf));
		expect(new Set(opacity({}))).toEqual(new Set([235]));
		for (const value of opacity({ opacity: 0.5 })) expect(Math.abs(value - 125.5)).toBeLessThanOrEqual(1);
		const beside = opacity({ box: { x: 0, y: 0, width: 0.5, height: 1 }, fit: 'stretch' });
		expect([beside[0], beside[63]]).toEqual([235, 16]);
		const lit = opacity({ key: { by: 'light', low: 0.4, high: 0.6 } });
		const picture = luma.get('a')!;
		for (let i = 0; i < lit.length; i++) {
			if (picture[i]! < 16 + 0.39 * 219) expect(lit[i]).toBe(16);
			if (picture[i]! > 16 + 0.61 * 219) expect(lit[i]).toBe(235);
		}
	});

	it('keys a colour away and keeps the rest', () => {
		const key = keyNumbers({ by: 'colour', colour: '#00b140', tolerance: 0.2, softness: 0.1, spill: 0.5 });
		const steps: DrawStep[] = [
			...stepsOf(layer('a')),
			{ ...(stepsOf(layer('green'))[0] as DrawStep & { step: 'blit' }), key },
		];
		expect(lumaOf(compose(list({ steps })))).toEqual(luma.get('a'));
		const other = {
			...(stepsOf(layer('b'))[0] as DrawStep & { step: 'blit' }),
			key: keyNumbers({ by: 'light', low: 0, high: 0.001 }),
		};
		const kept = lumaOf(compose(list({ steps: [...stepsOf(layer('a')), other] })));
		expect(kept).toEqual(luma.get('b')!.map((value, i) => (value > 16 ? value : luma.get('a')![i]!)));
	});

	it('takes no more and more memory while monitors and rounded layers are resized', () => {
		const step = (i: number) => {
			const size = { width: 20 + 2 * (i % 40), height: 12 + 2 * (i % 20) };
			compositor.toRgba(compositor.smaller(size).fit(pictures.get('a')!, fitted(PICTURE, size)));
			paint(layer('b', { corner: 0.3, box: { x: 0, y: 0, width: 0.3 + (i % 30) / 100, height: 0.5 } }));
		};
		const bytes = () => compositor.memory.bytes.length;
		for (let i = 0; i < 120; i++) step(i);
		const before = bytes();
		for (let i = 0; i < 1200; i++) step(i);
		expect(bytes()).toBe(before);
	});

	it('takes no new memory once it has been painted', () => {
		const layers = [
			layer('a'),
			layer('b', { opacity: 0.5, corner: 0.2, box: { x: 0.1, y: 0.1, width: 0.3, height: 0.3 } }),
		];
		const monitor = () => {
			for (const id of ['a', 'square'])
				for (const size of [
					{ width: 16, height: 10 },
					{ width: 30, height: 16 },
				])
					compositor.toRgba(compositor.smaller(size).fit(pictures.get(id)!, fitted(pictures.get(id)!, size)));
		};
		const draw = () => void (paint(...layers), monitor());
		draw();
		const before = compositor.memory.allocate(4);
		for (let i = 0; i < 50; i++) draw();
		expect(compositor.memory.allocate(4) - before).toBeLessThanOrEqual(128);
	});
});

describe('transitions', () => {
	const scene = (id: string) => plainScene(id, id, [layer(id)]);
	const at = (
		kind: 'fade' | 'wipe' | 'slide' | 'dip' | 'glide',
		progress: number,
		direction: 'left' | 'right' | 'circle' = 'right',
	) => lumaOf(compose(list(transitionBase(scene('a'), scene('b'), { ...CUT, kind, direction }, progress, stage))));
	const [a, b] = [() => luma.get('a')!, () => luma.get('b')!];

	it.each(['fade', 'wipe', 'slide', 'dip', 'glide'] as const)(
		'%s begins with the first scene and ends with the second',
		(kind) => {
			expect(at(kind, 0)).toEqual(a());
			expect(at(kind, 1)).toEqual(b());
		},
	);

	it('fade mixes exactly, chroma included', () => {
		const out = compose(list(transitionBase(scene('a'), scene('b'), { ...CUT, kind: 'fade' }, 0.25, stage)));
		const [from, to] = [pictures.get('a')!, pictures.get('b')!];
		expect(read(out.y, out.bytes)).toEqual(mixReference(read(from.y, from.bytes), read(to.y, to.bytes), 64));
	});

	it('wipe follows its field exactly', () => {
		const [field, table] = [wipeField('circle', 64, 36), wipeTable(0.5)];
		expect(at('wipe', 0.5, 'circle')).toEqual(
			a().map((value, i) => blendReference(value, b()[i]!, table[field[i]!]!, 256)),
		);
	});

	it('slide pushes one picture out with the other', () => {
		const out = at('slide', 0.25, 'left');
		const expected = a().map((_, i) => {
			const [x, y] = [i % 64, Math.floor(i / 64)];
			return x < 48 ? a()[y * 64 + x + 16]! : b()[y * 64 + x - 48]!;
		});
		expect(out).toEqual(expected);
	});

	it('dip is its colour in the middle', () => {
		expect(new Set(at('dip', 0.5))).toEqual(new Set([16]));
	});

	it('go black over everything', () => {
		const full = compose(list({ steps: stepsOf(layer('a')) }, [], 256));
		expect(new Set(lumaOf(full))).toEqual(new Set([16]));
		const half = lumaOf(compose(list({ steps: stepsOf(layer('a')) }, [], 128)));
		expect(half).toEqual(mixReference(a(), new Uint8Array(64 * 36).fill(16), 128));
	});
});

describe('what is done to a source', () => {
	it('corrects every byte by its table, and neutral corrections are none', () => {
		expect(adjustTables(NEUTRAL)).toBeNull();
		const tables = adjustTables({ ...NEUTRAL, brightness: 0.1, gamma: 1.4, saturation: 0 })!;
		addPicture('adjusted', PICTURE, noisy(7));
		const planes = pictures.get('adjusted')!;
		const before = read(planes.y, planes.bytes);
		compositor.treat(planes, tables, []);
		expect(lumaOf(planes)).toEqual(before.slice(0, 64 * 36).map((value) => tables.y[value]!));
		expect(new Set(read(planes.u, 32 * 18))).toEqual(new Set([128]));
	});

	const area = fc
		.tuple(fc.double({ min: 0, max: 0.8, noNaN: true }), fc.double({ min: 0, max: 0.8, noNaN: true }))
		.chain(([x, y]) =>
			fc
				.tuple(fc.double({ min: 0.05, max: 1 - x, noNaN: true }), fc.double({ min: 0.05, max: 1 - y, noNaN: true }))
				.map(([width, height]) => ({ x, y, width, height })),
		);

	it('patches cover all of their area to the edge, whatever is behind, and nothing else', () => {
		fc.assert(
			fc.property(
				area,
				fc.constantFrom('blur', 'mosaic', 'solid' as const),
				fc.integer({ min: 1, max: 10 }),
				(where, style, strength) => {
					const step = patchStep({ area: where, style, strength }, PICTURE);
					const { x, y, width, height } = step.area;
					expect(x <= where.x * 64 && y <= where.y * 36).toBe(true);
					expect(x + width >= Math.min(64, (where.x + where.width) * 64 - 1e-9)).toBe(true);
					expect(y + height >= Math.min(36, (where.y + where.height) * 36 - 1e-9)).toBe(true);
					// Two pictures whose cells have the same means are the same once they are patched: nothing else is left.
					const fine = new Uint8Array(64 * 36).map((_, i) => (((i % 64) + Math.floor(i / 64)) % 2 ? 60 : 180));
					const flat = new Uint8Array(64 * 36).fill(120);
					const patched = [fine, flat].map((bytes, i) => {
						addPicture(`text ${i}`, PICTURE, (at) => bytes[at] ?? 128);
						const planes = pictures.get(`text ${i}`)!;
						compositor.treat(planes, null, [step]);
						const out = lumaOf(planes);
						compositor.forget(planes);
						return out;
					});
					const wrong = [...fine.keys()].filter((i) => {
						const [column, row] = [i % 64, Math.floor(i / 64)];
						const inside = column >= x && column < x + width && row >= y && row < y + height;
						return inside ? Math.abs(patched[0]![i]! - patched[1]![i]!) > 1 : patched[0]![i] !== fine[i];
					});
					expect(wrong).toEqual([]);
				},
			),
			{ numRuns: 150 },
		);
	});

	it('a stronger patch never keeps more', () => {
		const cells = Array.from({ length: 10 }, (_, i) => {
			const { cell } = patchStep({ area: { ...WHOLE }, style: 'blur', strength: i + 1 }, { width: 1280, height: 720 });
			return cell;
		});
		expect(cells).toEqual([...cells].sort((x, y) => x - y));
		expect(new Set(cells).size).toBe(10);
		// Two lines of small print fit into the weakest cell of a 720-line picture.
		expect(cells[0]).toBeGreaterThanOrEqual(30);
	});

	it('a mosaic shows the means of its cells', () => {
		addPicture('mosaic', PICTURE, noisy(9));
		const planes = pictures.get('mosaic')!;
		const before = lumaOf(planes);
		const step = patchStep({ area: { ...WHOLE }, style: 'mosaic', strength: 1 }, PICTURE);
		compositor.treat(planes, null, [step]);
		const means = cellMeansReference(before, 64, 64, 36, step.cell);
		expect([lumaOf(planes)[0], lumaOf(planes).at(-1)]).toEqual([means[0], means.at(-1)]);
	});
});
