import { describe, expect, it } from 'vitest';
import { PeakMeter, toDbfs } from './meter.ts';
import { addToMix, finishMix, GainRamp, linearGain, RAMP_SAMPLES } from './mix.ts';

const BLOCK = 128;
const tone = (amplitude: number, offset = 0) =>
	Float32Array.from({ length: BLOCK }, (_, i) => amplitude * Math.sin((2 * Math.PI * 1000 * (i + offset)) / 48_000));

describe('a fader', () => {
	it('is silent at the bottom, even at 0 dB, and doubles at +6.02 dB', () => {
		expect(linearGain(-60)).toBe(0);
		expect(linearGain(0)).toBe(1);
		expect(linearGain(6.0206)).toBeCloseTo(2, 4);
	});
});

describe('a gain that moves', () => {
	it('takes 20 ms in equal steps and then stands exactly on its target', () => {
		const ramp = new GainRamp(0);
		ramp.aim(0.7);
		let before = 0;
		for (let i = 0; i < RAMP_SAMPLES; i++) {
			const now = ramp.next();
			expect(now - before).toBeCloseTo(0.7 / RAMP_SAMPLES, 9);
			before = now;
		}
		expect(ramp.next()).toBe(0.7);
		expect(ramp.settled).toBe(true);
	});

	it('turns round from where it is', () => {
		const ramp = new GainRamp(1);
		ramp.aim(0);
		for (let i = 0; i < 480; i++) ramp.next();
		ramp.aim(1);
		expect(ramp.next()).toBeCloseTo(0.5, 2);
	});
});

describe('the mix', () => {
	it('sums its inputs with their gains and notes each one’s peaks', () => {
		const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
		const levels = new Float32Array(4);
		const a = new Float32Array(BLOCK).fill(0.25);
		const b = new Float32Array(BLOCK).fill(-0.5);
		addToMix(left, right, a, a, new GainRamp(1), levels, 0);
		addToMix(left, right, b, a, new GainRamp(0.5), levels, 2);
		expect(left[64]).toBeCloseTo(0);
		expect(right[64]).toBeCloseTo(0.375);
		expect([...levels].map((level) => Math.round(level * 1000))).toEqual([250, 250, 250, 125]);
	});

	it('leaves out samples that are no numbers', () => {
		const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
		const levels = new Float32Array(2);
		const broken = Float32Array.from({ length: BLOCK }, (_, i) => [NaN, Infinity, -Infinity, 0.5][i % 4]!);
		addToMix(left, right, broken, broken, new GainRamp(1), levels, 0);
		expect([...left.subarray(0, 4)]).toEqual([0, 0, 0, 0.5]);
		expect(levels[0]).toBe(0.5);
	});

	it('shows an overload and keeps it within full scale', () => {
		const loud = tone(1.8);
		const levels = new Float32Array(2);
		const right = loud.slice();
		finishMix(loud, right, new GainRamp(1), levels, 0);
		expect(levels[0]).toBeGreaterThan(1.7);
		expect(Math.max(...loud.map(Math.abs))).toBe(1);
	});

	it('makes no step when hushed in the middle of a tone', () => {
		const hush = new GainRamp(1);
		hush.aim(0);
		let last = 0;
		let largest = 0;
		for (let block = 0; block < 10; block++) {
			const left = tone(0.5, block * BLOCK);
			finishMix(left, left.slice(), hush, new Float32Array(2), 0);
			for (const sample of left) {
				largest = Math.max(largest, Math.abs(sample - last));
				last = sample;
			}
		}
		// The tone's own steepest step is 0.5 · 2π · 1000 / 48 000 = 0.0654.
		expect(largest).toBeLessThan(0.067);
		expect(Math.abs(last)).toBe(0);
	});
});

describe('a peak meter', () => {
	it('rises at once, falls 20 dB in 1.7 s, and holds its mark', () => {
		const meter = new PeakMeter();
		meter.read(1, 0.05);
		expect(meter.levelDb).toBe(0);
		for (let i = 0; i < 17; i++) meter.read(0, 0.1);
		expect(meter.levelDb).toBeCloseTo(-20, 5);
		const held = new PeakMeter();
		held.read(0.5, 0.05);
		held.read(0.1, 1);
		expect(held.holdDb).toBeCloseTo(toDbfs(0.5), 6);
	});
});
