/**
 * How much later one sound of the same thing comes than another: generalised cross-correlation with phase transform
 * (C. H. Knapp, G. C. Carter, "The Generalized Correlation Method for Estimation of Time Delay", IEEE Trans. ASSP-24,
 * 1976). Only phases count, so that rooms and microphones that colour the sound do not mislead it.
 */
import FFT from 'fft.js';

/** The longest delay looked for, either way. */
export const MAX_DELAY_MS = 600;
/** Speech and music have something to say here; below is rumble, above is hiss. */
const BAND_HZ = [120, 7000] as const;
/** Length of one window, in samples; windows overlap by half and their cross spectra are summed. */
const LOOK = 65_536;
/** Windows quieter than this are skipped. */
const QUIET_RMS = 1e-4;
/** Peaks this near each other are one. */
const ONE_PEAK_MS = 2;
/** Times the next best peak that the best must be. */
const CERTAIN = 1.4;

/** Why no delay can be estimated from two sounds. */
export type DelayRefusal = 'tooLittle' | 'silent' | 'notTheSame';

export type DelayEstimate =
	{ delayMs: number; /** Times the next best, 1.4 at least. */ certainty: number } | { refused: DelayRefusal };

/**
 * @param early a sound, 48 kHz
 * @param late the same thing by another way, as long
 * @returns by how much `late` is behind, negative when it is ahead; or why that cannot be said
 */
export function estimateDelay(early: Float32Array, late: Float32Array, rate = 48_000): DelayEstimate {
	if (early.length < LOOK || late.length < LOOK) return { refused: 'tooLittle' };
	const size = 2 * LOOK;
	const fft = new FFT(size);
	const sum = fft.createComplexArray().fill(0);
	const [a, b] = [fft.createComplexArray(), fft.createComplexArray()];
	const window = Float64Array.from({ length: LOOK }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / LOOK) ** 2);
	let looks = 0;
	for (let from = 0; from + LOOK <= Math.min(early.length, late.length); from += LOOK / 2) {
		const [one, other] = [early, late].map((sound) => sound.subarray(from, from + LOOK)) as [
			Float32Array,
			Float32Array,
		];
		if (rms(one) < QUIET_RMS || rms(other) < QUIET_RMS) continue;
		looks++;
		spectrum(fft, one, window, size, a);
		spectrum(fft, other, window, size, b);
		const last = Math.min(size / 2, Math.floor((BAND_HZ[1] * size) / rate));
		for (let k = Math.ceil((BAND_HZ[0] * size) / rate); k <= last; k++) {
			const [ar, ai, br, bi] = [a[2 * k]!, a[2 * k + 1]!, b[2 * k]!, b[2 * k + 1]!];
			const [re, im] = [br * ar + bi * ai, bi * ar - br * ai];
			const height = Math.hypot(re, im);
			if (height === 0) continue;
			sum[2 * k]! += re / height;
			sum[2 * k + 1]! += im / height;
		}
	}
	if (looks === 0) return { refused: 'silent' };
	fft.completeSpectrum(sum);
	const correlation = fft.createComplexArray();
	fft.inverseTransform(correlation, sum);
	return bestPeak(correlation, size, rate);
}

function bestPeak(correlation: readonly number[], size: number, rate: number): DelayEstimate {
	const most = Math.round((MAX_DELAY_MS / 1000) * rate);
	const near = Math.round((ONE_PEAK_MS / 1000) * rate);
	const at = (lag: number) => correlation[2 * ((lag + size) % size)]!;
	let best = 0;
	for (let lag = -most; lag <= most; lag++) if (at(lag) > at(best)) best = lag;
	let next = 0;
	for (let lag = -most; lag <= most; lag++) if (Math.abs(lag - best) > near) next = Math.max(next, at(lag));
	const certainty = at(best) / Math.max(next, 1e-12);
	if (certainty < CERTAIN) return { refused: 'notTheSame' };
	// Between samples the top of a parabola through three points.
	const [before, top, after] = [at(best - 1), at(best), at(best + 1)];
	const bend = before - 2 * top + after;
	const part = bend < 0 ? (0.5 * (before - after)) / bend : 0;
	return { delayMs: ((best + part) * 1000) / rate, certainty };
}

function spectrum(fft: FFT, sound: Float32Array, window: Float64Array, size: number, into: number[]): void {
	const padded = new Float64Array(size);
	for (let i = 0; i < sound.length; i++) padded[i] = sound[i]! * window[i]!;
	fft.realTransform(into, padded);
}

function rms(sound: Float32Array): number {
	let sum = 0;
	for (const sample of sound) sum += sample * sample;
	return Math.sqrt(sum / sound.length);
}
