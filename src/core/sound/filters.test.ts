import { describe, expect, it } from 'vitest';
import { bandOf, FilterRow, highPass, responseDb } from './biquad.ts';
import { dbOf, gainOf } from './decibels.ts';
import { linearGain, Ramp, RAMP_SAMPLES } from './ramp.ts';
import { PeakMeter, toDbfs } from './meter.ts';

const RATE = 48_000;
const tone = (hz: number, seconds: number, amplitude = 1) =>
	Float32Array.from({ length: seconds * RATE }, (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / RATE));
const rms = (samples: Float32Array) => Math.sqrt(samples.reduce((sum, s) => sum + s * s, 0) / samples.length);

describe('a fader', () => {
	it('is silent at the bottom, even at 0 dB, and doubles at +6.02 dB', () => {
		expect(linearGain(-60)).toBe(0);
		expect(linearGain(0)).toBe(1);
		expect(linearGain(6.0206)).toBeCloseTo(2, 4);
	});

	it('travels in equal steps, turns round from where it is, and then stands exactly on its target', () => {
		const ramp = new Ramp(0);
		ramp.aim(0.7);
		let before = 0;
		for (let i = 0; i < RAMP_SAMPLES / 2; i++) {
			const now = ramp.next();
			expect(now - before).toBeCloseTo(0.7 / RAMP_SAMPLES, 9);
			before = now;
		}
		ramp.aim(0, 100);
		expect(ramp.next()).toBeCloseTo(0.35 * 0.99, 3);
		for (let i = 0; i < 99; i++) ramp.next();
		expect(ramp.next()).toBe(0);
		expect(ramp.settled).toBe(true);
	});
});

describe('decibels', () => {
	it('are right to a millionth, over all that is ever asked', () => {
		for (let db = -380; db < 180; db += 0.37) expect(20 * Math.log10(gainOf(db)) - db).toBeCloseTo(0, 6);
		// What dbOf is given are 32-bit samples.
		for (let db = -119.9; db < 40; db += 0.37) expect(dbOf(Math.fround(10 ** (db / 20))) - db).toBeCloseTo(0, 5);
		expect([dbOf(0), dbOf(NaN), gainOf(-1e9)].map(Math.round)).toEqual([-120, -120, 0]);
		expect(gainOf(0)).toBeCloseTo(1, 7);
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

describe('a filter', () => {
	it('has the gains that the cookbook gives it', () => {
		expect(responseDb([highPass(100, RATE)], 100, RATE)).toBeCloseTo(-3.01, 2);
		expect(responseDb([highPass(100, RATE)], 50, RATE)).toBeCloseTo(-12.3, 1);
		expect(responseDb([highPass(100, RATE)], 5000, RATE)).toBeCloseTo(0, 3);
		expect(responseDb([bandOf({ shape: 'peak', hz: 1000, gainDb: 6, q: 1 }, RATE)], 1000, RATE)).toBeCloseTo(6, 6);
		const low = [bandOf({ shape: 'lowShelf', hz: 200, gainDb: -9, q: 0.71 }, RATE)];
		expect(responseDb(low, 10, RATE)).toBeCloseTo(-9, 1);
		expect(responseDb(low, 200, RATE)).toBeCloseTo(-4.5, 1);
		expect(responseDb(low, 10_000, RATE)).toBeCloseTo(0, 2);
		const high = [bandOf({ shape: 'highShelf', hz: 6000, gainDb: 5, q: 0.71 }, RATE)];
		expect(responseDb(high, 100, RATE)).toBeCloseTo(0, 2);
		expect(responseDb(high, 22_000, RATE)).toBeCloseTo(5, 1);
	});

	it('does to a tone what its curve says', () => {
		const filters = [highPass(90, RATE), bandOf({ shape: 'peak', hz: 800, gainDb: -7, q: 2 }, RATE)];
		for (const hz of [60, 400, 800, 3000]) {
			const row = new FilterRow(5);
			row.set(filters);
			const out = tone(hz, 1);
			row.run(out, null);
			const settled = out.subarray(RATE / 2);
			expect(dbOf(rms(settled) * Math.SQRT2)).toBeCloseTo(responseDb(filters, hz, RATE), 1);
		}
	});

	it('fades away to nothing without denormal numbers, and begins again after a broken sample', () => {
		const row = new FilterRow(1);
		row.set([highPass(20, RATE)]);
		const samples = new Float32Array(RATE);
		samples[0] = 1;
		row.run(samples, null);
		for (const sample of samples) expect(sample === 0 || Math.abs(sample) > 1e-37).toBe(true);
		const broken = Float32Array.of(NaN, 0, 0, 0);
		row.run(broken, null);
		const after = tone(1000, 0.01, 0.5);
		row.run(after, null);
		expect(Math.max(...after.map(Math.abs))).toBeLessThan(0.6);
		expect(after.every(Number.isFinite)).toBe(true);
	});
});
