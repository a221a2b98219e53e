import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plainScene, wholeLayer } from '../show/scenes/scene.ts';
import { plainSource } from '../show/sources/source.ts';
import { withLive, withSetup } from '../show/slice.ts';
import { emptyShow } from '../show/state.ts';
import { LoudnessMeter } from '../sound/loudness.ts';
import { clipSize, cropAt, cropRect, withPoint, type CropPoint } from './crop.ts';
import { focusOf, followed } from './focus.ts';
import { captionAt, captionsOf } from './for-clips.ts';
import { forPhones, loudnessOf, phoneGainDb, PHONE_LUFS, PHONE_PEAK_DB, type Sides } from './phone-sound.ts';

const HD = { width: 1280, height: 720 };
const point = (atS: number, x: number, jumps = false): CropPoint => ({ atS, x, jumps });

describe('the crop of a clip', () => {
	it('stands in the middle, or where it was put, and goes from point to point in time', () => {
		expect(cropAt([], 5)).toBe(0.5);
		const points = [point(2, 0.3), point(6, 0.7)];
		expect([0, 2, 4.7].map((at) => cropAt(points, at))).toEqual([0.3, 0.3, 0.3]);
		expect(cropAt(points, 5.4)).toBeCloseTo(0.5, 6);
		expect([6, 100].map((at) => cropAt(points, at))).toEqual([0.7, 0.7]);
	});

	it('jumps with a take', () => {
		const points = [point(0, 0.3, true), point(6, 0.7, true)];
		expect([5.99, 6].map((at) => cropAt(points, at))).toEqual([0.3, 0.7]);
	});

	it('is of the shape that was chosen, whole pixels within the picture', () => {
		expect(cropRect('upright', HD, 0.5)).toEqual({ x: 438, y: 0, width: 406, height: 720 });
		expect(cropRect('square', HD, 0)).toEqual({ x: 0, y: 0, width: 720, height: 720 });
		expect(clipSize('upright', HD)).toEqual({ width: 720, height: 1280 });
		expect(clipSize('square', { width: 1920, height: 1080 })).toEqual({ width: 1080, height: 1080 });
		fc.assert(
			fc.property(
				fc.constantFrom('upright' as const, 'square' as const),
				fc.integer({ min: 64, max: 4000 }),
				fc.integer({ min: 64, max: 2200 }),
				fc.double({ min: 0, max: 1, noNaN: true }),
				(shape, width, height, x) => {
					const rect = cropRect(shape, { width, height }, x);
					expect([rect.x % 2, rect.width % 2, rect.height % 2]).toEqual([0, 0, 0]);
					expect(rect.x).toBeGreaterThanOrEqual(0);
					expect(rect.x + rect.width).toBeLessThanOrEqual(width);
				},
			),
			{ seed: 20, numRuns: 500 },
		);
	});

	it('has one point at a moment', () => {
		expect(withPoint([point(1, 0.2), point(5, 0.4)], point(5.1, 0.9))).toEqual([point(1, 0.2), point(5.1, 0.9)]);
	});
});

describe('what was on air', () => {
	const lectern = {
		...plainSource('lectern', 'Lectern', { kind: 'standInCamera', standIn: 'lectern' }),
		framings: [{ id: 'left', name: 'Left', crop: { x: 0, y: 0, width: 0.5, height: 0.5 } }],
	};
	const two = plainScene('two', 'Two', [
		{ ...wholeLayer('a', 'lectern'), framingId: 'left', box: { x: 0, y: 0, width: 0.6, height: 1 } },
		{ ...wholeLayer('b', 'choir'), box: { x: 0.6, y: 0, width: 0.4, height: 1 } },
	]);
	const show = withLive(
		withSetup(emptyShow('e', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }), {
			sources: [lectern],
			scenes: [two],
		}),
		{ program: 'two' },
	);

	it('is the largest layer, and each source by its framing', () => {
		expect(focusOf(show)).toEqual({
			program: 0.3,
			sources: [
				{ id: 'lectern', x: 0.25 },
				{ id: 'choir', x: 0.5 },
			],
		});
		expect(focusOf(withLive(show, { program: null }))).toBeNull();
	});

	it('is followed by a crop: of the program, or of a source as far as it was shown', () => {
		const said = [
			{ atS: -8, program: 0.2, sources: [] },
			{ atS: -2, program: 0.3, sources: [{ id: 'lectern', x: 0.25 }] },
			{ atS: 4, program: 0.3, sources: [] },
			{ atS: 9, program: 0.5, sources: [{ id: 'lectern', x: 0.75 }] },
		];
		expect(followed(said, null)).toEqual([point(0, 0.3, true), point(9, 0.5, true)]);
		expect(followed(said, 'lectern')).toEqual([point(0, 0.25, true), point(9, 0.75, true)]);
		expect(followed([], null)).toEqual([]);
	});
});

it('words that stood are captions of the part that is cut out', () => {
	const words = [
		{ atS: 2, lines: ['Lamp on the col,'] },
		{ atS: 6, lines: ['light me home', 'to the hut'] },
		{ atS: 9, lines: [] },
	];
	const captions = captionsOf(words, 4, 20);
	expect(captions).toEqual([
		{ fromS: 0, toS: 2, text: 'Lamp on the col,' },
		{ fromS: 2, toS: 5, text: 'light me home\nto the hut' },
	]);
	expect([1.9, 2, 5, -1].map((at) => captionAt(captions, at))).toEqual([
		...['Lamp on the col,', 'light me home\nto the hut', '', ''],
	]);
});

describe('the sound of a clip for phones', () => {
	const tone = (gain: number, seconds = 4): Sides => {
		const side = Float32Array.from(
			{ length: 48_000 * seconds },
			(_, i) => gain * Math.sin((2 * Math.PI * 997 * i) / 48_000),
		);
		return [side, side.slice()];
	};
	/** Pieces of 100 ms; the last one is shorter. */
	async function* pieces([left, right]: Sides): AsyncGenerator<Sides> {
		for (let at = 0; at < left.length; at += 4800) yield [left.slice(at, at + 4800), right.slice(at, at + 4800)];
	}
	const made = async (sides: Sides): Promise<Sides> => {
		const all: number[][] = [[], []];
		for await (const piece of forPhones(() => pieces(sides))) for (const i of [0, 1]) all[i]!.push(...piece[i]!);
		return all.map((side) => Float32Array.from(side)) as Sides;
	};
	const peakOf = async (sides: Sides) => {
		const meter = new LoudnessMeter();
		for await (const [left, right] of pieces(sides)) meter.run(left, right);
		return meter.truePeakDb;
	};

	it.each([0.04, 0.1, 0.5])('is as loud as phones want it, whatever it was (%s)', async (gain) => {
		const quiet = tone(gain, 4.03);
		const loud = await made(quiet);
		expect(await loudnessOf(pieces(loud))).toBeCloseTo(PHONE_LUFS, 0);
		expect(loud[0].length).toBe(quiet[0].length);
		// It begins when it began.
		expect(loud[0].findIndex((sample) => Math.abs(sample) > 0.01)).toBeLessThan(10);
	});

	it('stays under its true peak, also where a loud word stands in a quiet sentence', async () => {
		const sides = tone(0.02);
		for (const side of sides) for (let i = 96_000; i < 98_000; i++) side[i]! *= 40;
		expect(await peakOf(await made(sides))).toBeLessThanOrEqual(PHONE_PEAK_DB + 0.05);
	});

	it('does not make silence loud', async () => {
		expect([phoneGainDb(-Infinity), phoneGainDb(-60)]).toEqual([0, 18]);
		expect((await made([new Float32Array(1000), new Float32Array(1000)]))[0].every((sample) => sample === 0)).toBe(
			true,
		);
	});
});
