/**
 * What the mixer tells of each channel and of the master: numbers in a row, in memory that others read. Peaks and sums
 * grow until somebody has read them and sets them back; the rest is as it is now.
 */
import { dbOf } from './decibels.ts';

export const Reading = {
	/** Behind the fader and all that is automatic, linear. */
	peakLeft: 0,
	peakRight: 1,
	/** Sums of squares, and of the product of both sides: power and correlation. */
	squareLeft: 2,
	squareRight: 3,
	product: 4,
	/** Samples in these sums. */
	samples: 5,
	/** As it came in: highest, samples at full scale, sums of squares in all and at the mains' frequencies. */
	peakIn: 6,
	clipped: 7,
	powerIn: 8,
	hum: 9,
	/** Decibels by which it is turned down now, 0 or less. */
	gate: 10,
	compressor: 11,
	/** Gain of ducking and gain sharing together, linear; 0 while there is no channel. */
	automatic: 12,
} as const;
export const READINGS = 13;
const GROWING = Reading.hum + 1;

/** Beyond those, of the master alone: LUFS, LU, dBTP, and what the limiter takes off in dB. */
export const MasterReading = {
	momentary: 13,
	shortTerm: 14,
	integrated: 15,
	range: 16,
	truePeak: 17,
	limiter: 18,
} as const;
export const MASTER_READINGS = 19;

/** Copies the readings of all and sets back what grows. */
export function drainReadings(from: Float32Array, into: Float32Array): void {
	into.set(from);
	for (let at = 0; at + READINGS <= from.length; at += READINGS) from.fill(0, at, at + GROWING);
}

/** What a person reads of one channel. */
export interface Levels {
	/** Left and right, linear. */
	peaks: [number, number];
	/** Root mean square, linear. */
	rms: [number, number];
	/** −1 (out of phase) to 1 (alike); 0 when one side is silent. */
	correlation: number;
	peakIn: number;
	rmsIn: number;
	clipped: number;
	/** Part of what comes in that is the mains, 0 to 1. */
	hum: number;
	gateDb: number;
	compressorDb: number;
	automaticDb: number;
}

/** @param at where its readings begin; beyond the end there is silence */
export function levelsAt(readings: Float32Array, at: number): Levels {
	const read = (place: number) => readings[at + place] ?? 0;
	const samples = Math.max(1, read(Reading.samples));
	const [l, r] = [read(Reading.squareLeft), read(Reading.squareRight)];
	const both = Math.sqrt(l * r);
	const powerIn = read(Reading.powerIn);
	return {
		peaks: [read(Reading.peakLeft), read(Reading.peakRight)],
		rms: [Math.sqrt(l / samples), Math.sqrt(r / samples)],
		correlation: both > 0 ? read(Reading.product) / both : 0,
		peakIn: read(Reading.peakIn),
		rmsIn: Math.sqrt(powerIn / samples),
		clipped: read(Reading.clipped),
		hum: powerIn > 0 ? Math.min(1, read(Reading.hum) / powerIn) : 0,
		gateDb: read(Reading.gate),
		compressorDb: read(Reading.compressor),
		automaticDb: dbOf(read(Reading.automatic) || 1),
	};
}
