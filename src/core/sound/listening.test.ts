/** What the desk finds out by listening: faults in words, and how far two sounds are apart. */
import { describe, expect, it } from 'vitest';
import { estimateDelay } from './delay-estimate.ts';
import type { Levels } from './readings.ts';
import { offTargetLu, SoundHealth } from './sound-health.ts';

const FINE: Levels = {
	peaks: [0.3, 0.3],
	rms: [0.1, 0.1],
	correlation: 0.8,
	peakIn: 0.3,
	rmsIn: 0.1,
	clipped: 0,
	hum: 0,
	gateDb: 0,
	compressorDb: 0,
	automaticDb: 0,
};

describe('what is wrong with a sound', () => {
	/** Seconds until a fault is said, of a sound that is so from the start. */
	function saidAfter(levels: Partial<Levels>, fault: string): number {
		const health = new SoundHealth();
		for (let i = 0; i < 10; i++) health.observe(FINE, 0.1, true);
		expect(health.faults).toEqual([]);
		for (let tenths = 1; tenths < 300; tenths++) {
			health.observe({ ...FINE, ...levels }, 0.1, true);
			if (health.faults.includes(fault as 'hum')) return tenths / 10;
		}
		return Infinity;
	}

	it.each<[string, Partial<Levels>, number]>([
		['silent', { rms: [0, 0] }, 5],
		['oneSide', { rms: [0.1, 0.001] }, 4],
		['outOfPhase', { correlation: -0.9 }, 3],
		['clipping', { clipped: 40 }, 0.1],
		['hum', { hum: 0.9 }, 1],
		['idle', { rmsIn: 1e-5 }, 10],
	])('%s is said in time', (fault, levels, seconds) => {
		expect(saidAfter(levels, fault)).toBeCloseTo(seconds, 0);
	});

	it('is not said of what is only quiet, muted, or mono', () => {
		expect(saidAfter({ rms: [0.001, 0.0001] }, 'oneSide')).toBe(Infinity);
		const health = new SoundHealth();
		for (let i = 0; i < 300; i++) health.observe({ ...FINE, rms: [0, 0], rmsIn: 0 }, 0.1, false);
		expect(health.faults).toEqual([]);
		expect(saidAfter({ correlation: 1 }, 'outOfPhase')).toBe(Infinity);
	});

	it('is over when it is over, and has words that say what to do', () => {
		const health = new SoundHealth();
		for (let i = 0; i < 60; i++) health.observe({ ...FINE, rms: [0, 0.2] }, 0.1, true);
		expect(health.faults).toEqual(['oneSide']);
		expect(health.side).toBe('right');
		health.observe(FINE, 0.1, true);
		expect(health.faults).toEqual([]);
		expect(offTargetLu(-16.5, -16)).toBe(0);
		expect(offTargetLu(-11.2, -16)).toBeCloseTo(4.8);
		expect(offTargetLu(-23, -16)).toBe(-7);
		expect(offTargetLu(-Infinity, -16)).toBe(0);
	});
});

describe('how far two sounds are apart', () => {
	const RATE = 48_000;
	let seed = 11;
	const noise = () => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 31 - 1;
	/** Speech-like: noise through a slow envelope. */
	const source = Float32Array.from({ length: 5 * RATE }, (_, i) => noise() * Math.sin((Math.PI * i) / 9000) ** 2 * 0.3);
	/** The same in a room: later, with echoes that fade away over 0.4 s, and as much noise as sound. */
	function inRoom(delayMs: number): Float32Array {
		const out = new Float32Array(source.length);
		const delay = Math.round((delayMs / 1000) * RATE);
		const echoes = Array.from({ length: 60 }, (_, i) => ({
			at: delay + Math.round(((i + 1) / 60) * 0.4 * RATE + noise() * 200),
			gain: 0.35 * Math.exp((-4 * i) / 60) * Math.sign(noise()),
		}));
		for (let i = 0; i < out.length; i++) {
			let sum = source[i - delay] ?? 0;
			for (const { at, gain } of echoes) sum += gain * (source[i - at] ?? 0);
			out[i] = sum;
		}
		const power = (sound: Float32Array) => sound.reduce((sum, s) => sum + s * s, 0) / sound.length;
		const level = Math.sqrt(3 * power(out));
		return out.map((sample) => sample + level * noise());
	}

	it.each([0, 3.2, 40, 180, 500])('%d ms are found within one, in a room, with as much noise as sound', (delayMs) => {
		const found = estimateDelay(source, inRoom(delayMs));
		expect(found).toHaveProperty('delayMs');
		if ('delayMs' in found) expect(Math.abs(found.delayMs - delayMs)).toBeLessThan(1);
		const turned = estimateDelay(inRoom(delayMs), source);
		if ('delayMs' in turned) expect(Math.abs(turned.delayMs + delayMs)).toBeLessThan(1);
	});

	it('nothing is said of two sounds that have nothing to do with each other, of silence, or of too little', () => {
		const other = source.map(() => noise() * 0.1);
		expect(estimateDelay(source, other)).toMatchObject({ refused: 'notTheSame' });
		expect(estimateDelay(source, new Float32Array(source.length))).toMatchObject({
			refused: 'silent',
		});
		expect(estimateDelay(source.subarray(0, 1000), source)).toMatchObject({
			refused: 'tooLittle',
		});
	});
});
