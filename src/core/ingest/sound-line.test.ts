import { describe, expect, it } from 'vitest';
import { SoundLine } from './sound-line.ts';

const RATE = 48_000;
const PIECE = 1024;
const QUANTUM = 128;
const tone = (sample: number) => 0.5 * Math.sin((2 * Math.PI * 500 * sample) / RATE);
const piece = (at: number, length = PIECE) => Float32Array.from({ length }, (_, i) => tone(at + i));

/** Plays so many samples. */
function played(line: SoundLine, samples: number): Float32Array {
	const all = new Float32Array(samples);
	for (let at = 0; at < samples; at += QUANTUM) {
		const side = all.subarray(at, at + QUANTUM);
		line.play(side, new Float32Array(side.length));
	}
	return all;
}
const push = (line: SoundLine, at: number) => line.push(at, piece(at), piece(at));
/** The largest step between two samples: of the tone 0.033, of a click far more. */
const roughest = (samples: Float32Array) =>
	samples.reduce((most, sample, i) => Math.max(most, i > 0 ? Math.abs(sample - samples[i - 1]!) : 0), 0);
const loudest = (samples: Float32Array) => samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);

describe('sound that comes in pieces', () => {
	it('is played whole, without a click, once a little is waiting', () => {
		const line = new SoundLine();
		expect(loudest(played(line, QUANTUM))).toBe(0);
		const out: number[] = [];
		for (let i = 0; i < 40; i++) {
			push(line, PIECE * i);
			out.push(...played(line, PIECE));
		}
		expect(roughest(Float32Array.from(out))).toBeLessThan(0.04);
		expect(loudest(Float32Array.from(out.slice(-4800)))).toBeCloseTo(0.5, 2);
		expect(line.waiting).toBeLessThan(3 * PIECE);
	});

	it('that breaks off fades out, and begins again when it is back', () => {
		const line = new SoundLine();
		for (let i = 0; i < 4; i++) push(line, PIECE * i);
		const out = [...played(line, 8 * PIECE)];
		expect(loudest(Float32Array.from(out.slice(-PIECE)))).toBe(0);
		for (let i = 20; i < 24; i++) push(line, PIECE * i);
		out.push(...played(line, 6 * PIECE));
		expect(loudest(Float32Array.from(out.slice(-6 * PIECE)))).toBeGreaterThan(0.4);
		expect(roughest(Float32Array.from(out))).toBeLessThan(0.04);
	});

	it('with a piece missing is silent for as long, so that what follows is in time', () => {
		const line = new SoundLine();
		for (const i of [0, 1, 2, 4, 5, 6]) push(line, PIECE * i);
		expect(line.waiting).toBe(7 * PIECE);
		const out = played(line, 6 * PIECE);
		expect(loudest(out.subarray(3 * PIECE + 10, 4 * PIECE - 10))).toBe(0);
		expect(roughest(out)).toBeLessThan(0.04);
		// The pieces after the gap are where they belong.
		expect(out[5 * PIECE]).toBeCloseTo(tone(5 * PIECE), 4);
	});

	it('that steps in time goes on at once', () => {
		const line = new SoundLine();
		for (let i = 0; i < 3; i++) push(line, PIECE * i);
		push(line, 9_000_000);
		push(line, 5);
		expect(line.waiting).toBe(5 * PIECE);
	});

	it('of a clock that runs too fast is kept short, without a click', () => {
		const line = new SoundLine();
		const out: number[] = [];
		let at = 0;
		let most = 0;
		for (let i = 0; i < 2000; i++) {
			push(line, at);
			at += PIECE;
			// Two thousandths more come in than are played.
			out.push(...played(line, i % 4 === 0 ? PIECE - QUANTUM : PIECE));
			if (i > 400) most = Math.max(most, line.waiting);
		}
		expect(most).toBeLessThan(RATE / 2);
		expect(roughest(Float32Array.from(out))).toBeLessThan(0.07);
	});
});
