import fc from 'fast-check';
import FFT from 'fft.js';
import { describe, expect, it } from 'vitest';
import { echoTone, findEcho } from './echo.ts';

const RATE = 48_000;
const tone = echoTone(RATE);

/** Repeatable noise, −1 to 1. */
function noise(length: number, seed: number): Float32Array {
	let state = seed;
	return Float32Array.from({ length }, () => {
		state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
		return state / 2 ** 31 - 1;
	});
}
/** What comes in: the tone `gain` times as loud after `delayMs` with three reflections, above something else. */
function heardOver(other: Float32Array, gain: number, delayMs: number): Float32Array {
	const out = other.slice();
	for (const [laterMs, part] of [
		[0, 1],
		[7, 0.5],
		[19, 0.3],
		[41, 0.2],
	] as const)
		// prettier-ignore
		tone.forEach((sample, i) => {
			const at = i + Math.round(((delayMs + laterMs) * RATE) / 1000);
			if (at < out.length) out[at]! += gain * part * sample;
		});
	return out;
}
/** Voiced sound that glides, as people speak and fiddles play. */
const voice = (length: number) =>
	Float32Array.from({ length }, (_, i) => {
		const t = i / RATE;
		const hz = 180 + 60 * Math.sin(2 * Math.PI * 0.9 * t);
		return [1, 2, 3, 4, 5, 6, 8, 11].reduce((sum, n) => sum + (0.05 / n) * Math.sin(2 * Math.PI * n * hz * t), 0);
	});

/** One word between two pauses: a voice whose pitch glides by so many hertz in a second. */
function word({ hz, glide, lasts, at }: Record<'hz' | 'glide' | 'lasts' | 'at', number>): Float32Array {
	const out = new Float32Array(1.5 * RATE);
	for (let i = 0; i < lasts * RATE; i++) {
		const t = i / RATE;
		const turn = 2 * Math.PI * (hz * t + (glide * t * t) / 2);
		const loud = 0.1 * Math.sin((Math.PI * t) / lasts) ** 2;
		for (let n = 1; n <= 24; n++) out[Math.round(at * RATE) + i]! += (loud * Math.sin(n * turn)) / n;
	}
	return out;
}

/** @param response of a room @param length of what is kept */
function convolved(sound: Float32Array, response: Float32Array, length: number): Float32Array {
	const size = 2 ** Math.ceil(Math.log2(sound.length + response.length));
	const fft = new FFT(size);
	const spectrumOf = (samples: Float32Array) => {
		const padded = new Float64Array(size);
		padded.set(samples);
		const spectrum = fft.createComplexArray();
		fft.realTransform(spectrum, padded);
		fft.completeSpectrum(spectrum);
		return spectrum;
	};
	const [a, b] = [spectrumOf(sound), spectrumOf(response)];
	const product = fft.createComplexArray();
	for (let k = 0; k < 2 * size; k += 2) {
		product[k] = a[k]! * b[k]! - a[k + 1]! * b[k + 1]!;
		product[k + 1] = a[k]! * b[k + 1]! + a[k + 1]! * b[k]!;
	}
	const back = fft.createComplexArray();
	fft.inverseTransform(back, product);
	return Float32Array.from({ length }, (_, i) => back[2 * i]!);
}

describe('the echo of headphones', () => {
	it('is found 30 dB below the tone, with reflections, at any delay, in silence, noise as loud, and a voice', () => {
		const length = 1.5 * RATE;
		fc.assert(
			fc.property(fc.integer({ min: 5, max: 400 }), fc.integer(), (delayMs, seed) => {
				const faint = noise(length, seed).map((sample) => sample * 1e-5);
				expect(findEcho([heardOver(faint, 0.03, delayMs)], tone)).not.toBeNull();
				// The tone's power is near 0.12² / 2; this noise's is as much.
				const loud = noise(length, seed).map((sample) => sample * 0.147);
				expect(findEcho([heardOver(loud, 1, delayMs)], tone)).not.toBeNull();
				expect(findEcho([heardOver(voice(length), 0.3, delayMs)], tone)).not.toBeNull();
			}),
			{ numRuns: 8 },
		);
	});

	it('is not found where there is none: silence, noise, a voice', () => {
		const length = 1.5 * RATE;
		expect(findEcho([new Float32Array(length)], tone)).toBeNull();
		expect(findEcho([voice(length)], tone)).toBeNull();
		for (let seed = 0; seed < 20; seed++) expect(findEcho([noise(length, seed)], tone)).toBeNull();
	});

	it('is not found in two looks at words between pauses, however their pitch glides', () => {
		// Repeatable, and spread evenly over what voices do.
		const chance = noise(400, 3).map((sample) => (sample + 1) / 2);
		const spoken = (i: number) => {
			const [hz, glide, lasts, at] = chance.subarray(4 * i, 4 * i + 4) as unknown as [number, number, number, number];
			return word({ hz: 80 + 180 * hz, glide: -80 + 480 * glide, lasts: 0.1 + 0.4 * lasts, at: 0.9 * at });
		};
		// One look is not enough.
		expect(findEcho([word({ hz: 90, glide: 200, lasts: 0.3, at: 0.2 })], tone)).not.toBeNull();
		for (let i = 0; i < 15; i++) expect(findEcho([spoken(2 * i), spoken(2 * i + 1)], tone)).toBeNull();
	});

	it('is found far away in a chapel, 15 dB below its own reverberation and 30 dB below what is said', () => {
		const rings = 1.5;
		const hall = noise(rings * RATE, 7).map((sample, i) => sample * 10 ** ((-3 * i) / (rings * RATE)));
		const power = (sound: Float32Array) => sound.reduce((sum, sample) => sum + sample * sample, 0);
		const reverberation = Math.sqrt(10 ** 1.5 / power(hall));
		hall.forEach((sample, i) => (hall[i] = sample * reverberation));
		hall[0] = 1;
		const echo = convolved(tone, hall, 1.5 * RATE);
		const look = (hz: number, at: number) => {
			const said = word({ hz, glide: 40, lasts: 0.5, at });
			const gain = Math.sqrt(power(said) / power(echo)) * 10 ** (-30 / 20);
			return said.map((sample, i) => sample + gain * echo[i]!);
		};
		expect(findEcho([look(120, 0.2), look(190, 0.7)], tone)).not.toBeNull();
	});

	it('is played softly, begins and ends without a click, and is named with what to do', () => {
		expect(tone.length).toBe(0.6 * RATE);
		expect(Math.max(...tone.map(Math.abs))).toBeLessThanOrEqual(0.12);
		for (const at of [0, tone.length - 1]) expect(Math.abs(tone[at]!)).toBeLessThan(1e-4);
	});
});
