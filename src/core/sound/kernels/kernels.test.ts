/** Each kernel against what it says it does, worked out plainly, to the precision of its 32 bits. */
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { soundMemory } from '../../../../tests/support/sound.ts';
import type { SoundMemory } from '../memory.ts';

const LENGTH = 128;
const STEPS = LENGTH / 16;
let memory: SoundMemory;
beforeEach(() => void (memory = soundMemory()));

const sample = fc.oneof(fc.double({ min: -1.2, max: 1.2, noNaN: true }), fc.constantFrom(0, 1, -1));
const sound = fc.array(sample, { minLength: LENGTH, maxLength: LENGTH }).map((list) => Float32Array.from(list));
const gain = fc.double({ min: -2, max: 2, noNaN: true });
/** Blocks of which each has a place of its own; those of one name are used again. */
const kept = new Map<string, Float32Array>();
beforeEach(() => kept.clear());
function placed(name: string, samples: Float32Array): Float32Array {
	const there = kept.get(name) ?? memory.floats(LENGTH);
	kept.set(name, there);
	there.set(samples);
	return there;
}
const sumOf = (list: Iterable<number>) => [...list].reduce((sum, each) => sum + each, 0);
const squares = (samples: Float32Array) => sumOf(samples.map((each) => each * each));
const highest = (samples: Float32Array) => Math.max(...samples.map(Math.abs));
function expectClose(found: Iterable<number>, expected: Iterable<number>): void {
	const [list, wanted] = [[...found], [...expected]];
	expect(list).toHaveLength(wanted.length);
	for (const [i, each] of wanted.entries()) expect(list[i]).toBeCloseTo(each, 3.5);
}

describe('sound kernels', () => {
	it('look at what comes in: levels, full scale, sums of sixteen; what is no number becomes 0', () => {
		const broken = fc.array(fc.tuple(fc.nat(LENGTH - 1), fc.constantFrom(NaN, Infinity, -Infinity)), { maxLength: 5 });
		fc.assert(
			fc.property(sound, broken, (samples, places) => {
				const there = placed('a', samples);
				for (const [at, value] of places) there[at] = value;
				const clean = samples.map((each, i) => (places.some(([at]) => at === i) ? 0 : each));
				memory.kernels.examine(there.byteOffset, LENGTH, 0.999, memory.told.byteOffset);
				expect([...there]).toEqual([...clean]);
				expect(memory.told[0]).toBe(highest(clean));
				expect(memory.told[1]).toBe(clean.filter((each) => Math.abs(each) >= Math.fround(0.999)).length);
				const sums = Array.from({ length: STEPS }, (_, i) => sumOf(clean.subarray(16 * i, 16 * i + 16)));
				expectClose(memory.told.subarray(2, 3 + STEPS), [squares(clean), ...sums]);
			}),
		);
	});

	it('find peaks of sixteen, and lay gains on in straight lines', () => {
		const gains = fc.array(gain, { minLength: STEPS + 1, maxLength: STEPS + 1 });
		const peaks = memory.doubles(STEPS);
		const by = memory.doubles(STEPS + 1);
		fc.assert(
			fc.property(sound, sound, gains, (left, right, list) => {
				const [l, r] = [placed('l', left), placed('r', right)];
				peaks.fill(0);
				for (const side of [l, r]) memory.kernels.raiseToPeaks(peaks.byteOffset, side.byteOffset, STEPS);
				const part = (samples: Float32Array, i: number) => highest(samples.subarray(16 * i, 16 * i + 16));
				expect([...peaks]).toEqual(Array.from(peaks, (_, i) => Math.max(part(left, i), part(right, i))));
				by.set(list);
				memory.kernels.scale(l.byteOffset, by.byteOffset, STEPS);
				const line = (i: number) => {
					const [from, to] = [list[i >> 4]!, list[(i >> 4) + 1]!];
					return from + ((to - from) * ((i % 16) + 1)) / 16;
				};
				expectClose(
					l,
					left.map((each, i) => each * line(i)),
				);
				by.fill(1);
				memory.kernels.scale(r.byteOffset, by.byteOffset, STEPS);
				expect([...r]).toEqual([...right]);
			}),
		);
	});

	it('add channels to the mix, of one side or two, with a gain that moves', () => {
		fc.assert(
			fc.property(sound, sound, sound, gain, gain, fc.boolean(), (left, right, mix, from, to, isOne) => {
				const [l, mixLeft, mixRight] = [placed('l', left), placed('a', mix), placed('b', mix)];
				const r = isOne ? l : placed('r', right);
				const slope = (to - from) / LENGTH;
				const places = [l, r, mixLeft, mixRight].map(({ byteOffset }) => byteOffset) as [
					number,
					number,
					number,
					number,
				];
				memory.kernels.add(...places, LENGTH, from, slope);
				const scaled = (side: Float32Array) => side.map((each, i) => each * (from + slope * (i + 1)));
				expectClose(l, scaled(left));
				expectClose(
					mixLeft,
					scaled(left).map((each, i) => each + mix[i]!),
				);
				expectClose(
					mixRight,
					scaled(isOne ? left : right).map((each, i) => each + mix[i]!),
				);
			}),
		);
	});

	it('fade one side, or cross two, and tell how loud they were', () => {
		fc.assert(
			fc.property(sound, sound, fc.tuple(gain, gain, gain, gain), (left, right, [ll, rl, lr, rr]) => {
				const [l, r, one] = [placed('l', left), placed('r', right), placed('one', left)];
				memory.kernels.cross(l.byteOffset, r.byteOffset, LENGTH, ll, rl, lr, rr, memory.told.byteOffset);
				expectClose(
					l,
					left.map((each, i) => ll * each + rl * right[i]!),
				);
				expectClose(
					r,
					right.map((each, i) => rr * each + lr * left[i]!),
				);
				expectClose([memory.told[0]!], [squares(left) + squares(right)]);
				memory.kernels.fade(one.byteOffset, LENGTH, ll, memory.told.byteOffset);
				expectClose(
					one,
					left.map((each) => ll * each),
				);
				expectClose([memory.told[0]!], [squares(left)]);
			}),
		);
	});

	it('tell levels of both sides and how alike they are', () => {
		fc.assert(
			fc.property(sound, sound, (left, right) => {
				const [l, r] = [placed('l', left), placed('r', right)];
				memory.kernels.levels(l.byteOffset, r.byteOffset, LENGTH, memory.told.byteOffset);
				expect([...memory.told.subarray(0, 2)]).toEqual([highest(left), highest(right)]);
				const products = sumOf(left.map((each, i) => each * right[i]!));
				expectClose(memory.told.subarray(2, 5), [squares(left), squares(right), products]);
			}),
		);
	});
});
