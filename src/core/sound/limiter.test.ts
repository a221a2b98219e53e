import { describe, expect, it } from 'vitest';
import { Limiter, LIMITER_DELAY } from './limiter.ts';
import { TruePeak } from './true-peak.ts';

const RATE = 48_000;
const SAMPLES = RATE / 2;

let seed = 7;
const noise = () => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 31 - 1;

const SOUNDS: Record<string, (i: number) => number> = {
	noise: () => 3 * noise(),
	'square bursts': (i) => (i % 6000 < 2400 ? 2 * Math.sign(Math.sin((2 * Math.PI * 997 * i) / RATE)) : 0.05),
	'tops between samples': (i) => 1.6 * Math.sin((2 * Math.PI * 12_000 * i) / RATE + Math.PI / 4),
	'single clicks': (i) => (i % 3000 === 0 ? 4 : 0),
	'steps of a slow tone': (i) => (i < SAMPLES / 2 ? 0.1 : 1.9) * Math.sin((2 * Math.PI * 130 * i) / RATE),
};

/** The highest of the four points per sample that the standard's filter finds. */
function standardPeak(samples: Float32Array): number {
	const heights = new Float64Array(samples.length);
	new TruePeak().run(samples, 0, heights);
	return heights.reduce((highest, height) => Math.max(highest, height), 0);
}

/** The same with a filter of its own: a long sinc under a window, which sees more of what is above 20 kHz. */
function oversampledPeak(samples: Float32Array): number {
	const reach = 40;
	let highest = 0;
	for (let i = reach; i < samples.length - reach; i++)
		for (let phase = 0; phase < 4; phase++) {
			let sum = 0;
			for (let k = 1 - reach; k <= reach; k++) {
				const x = k - phase / 4;
				const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
				sum += samples[i + k]! * sinc * Math.cos((Math.PI * x) / (2 * reach + 1)) ** 2;
			}
			highest = Math.max(highest, Math.abs(sum));
		}
	return highest;
}

function limited(sound: (i: number) => number, ceilingDb: number): Float32Array {
	const limiter = new Limiter(RATE);
	limiter.set(ceilingDb);
	const left = Float32Array.from({ length: SAMPLES }, (_, i) => sound(i));
	const right = left.slice();
	for (let at = 0; at < SAMPLES; at += 120) limiter.run(left.subarray(at, at + 120), right.subarray(at, at + 120));
	expect(right).toEqual(left);
	return left;
}

describe('the limiter', () => {
	it.each(Object.keys(SOUNDS))('lets no point between samples above its ceiling: %s', (name) => {
		const out = limited(SOUNDS[name]!, -1);
		expect(20 * Math.log10(standardPeak(out))).toBeLessThanOrEqual(-1);
		// White noise up to 24 kHz, ten decibels too loud, is the one sound on which filters of any length differ.
		expect(20 * Math.log10(oversampledPeak(out))).toBeLessThanOrEqual(name === 'noise' ? -0.5 : -1);
	});

	it('leaves what is below its ceiling alone, but for a delay', () => {
		const tone = (i: number) => 0.7 * Math.sin((2 * Math.PI * 440 * i) / RATE);
		const out = limited(tone, -1);
		for (let i = LIMITER_DELAY; i < SAMPLES; i++) expect(out[i]).toBeCloseTo(tone(i - LIMITER_DELAY), 6);
	});

	it('turns down by no more than is needed, and lets go again', () => {
		const out = limited((i) => (i < 4800 ? 2 : 0.4) * Math.sin((2 * Math.PI * 440 * i) / RATE), -6);
		const peak = (from: number, to: number) => Math.max(...out.subarray(from, to).map(Math.abs));
		expect(20 * Math.log10(peak(2400, 4800))).toBeGreaterThan(-6.4);
		expect(peak(SAMPLES - 4800, SAMPLES)).toBeCloseTo(0.4, 2);
	});
});
