/**
 * Whether a microphone hears the headphones: a short rising tone is played to them, and looked for in what comes in
 * (a matched filter on the phases alone, as in delay-estimate.ts). The tone is a sweep whose pitch rises by equal
 * intervals in equal times (A. Farina, "Simultaneous measurement of impulse response and distortion with a swept-sine
 * technique", AES 108th Convention, 2000): nothing that people say or play is like it.
 */
import FFT from 'fft.js';

const RISES_HZ = [400, 6000] as const;
const TONE_S = 0.6;
const EDGE_S = 0.05;
/** Linear: clearly heard in headphones, no fright. */
const TONE_PEAK = 0.12;
/** How long it is listened, from the tone's first sample on: the tone itself, and the way through both devices. */
export const ECHO_LISTEN_S = 1.5;
/**
 * Least ratio of the peak of the correlation to its root mean square. Among so many lags noise alone reaches 6, and a word
 * between two pauses 13, since few of its pitches decide; a tone 40 dB below what people say and play stands above 25.
 */
const FOUND = 35;
/** Root mean square below which a microphone counts as silent. */
const QUIET_RMS = 1e-6;

/** One side of the tone, full scale 1. */
export function echoTone(rate = 48_000): Float32Array<ArrayBuffer> {
	const [from, to] = RISES_HZ;
	const octaves = Math.log(to / from);
	const edge = EDGE_S * rate;
	return Float32Array.from({ length: TONE_S * rate }, (_, i) => {
		const near = Math.min(i, TONE_S * rate - i);
		const fade = near < edge ? Math.sin((Math.PI / 2) * (near / edge)) ** 2 : 1;
		const turns = ((from * TONE_S) / octaves) * Math.expm1((octaves * i) / (TONE_S * rate));
		return TONE_PEAK * fade * Math.sin(2 * Math.PI * turns);
	});
}

/**
 * @param heard what came in at a microphone around the tone, at its rate
 * @param tone as it was played
 * @returns how many times the usual height the tone stands out, when it does; null when it was not heard
 */
export function findEcho(heard: Float32Array, tone: Float32Array, rate = 48_000): number | null {
	if (heard.reduce((sum, sample) => sum + sample * sample, 0) < QUIET_RMS ** 2 * heard.length) return null;
	const size = 2 ** Math.ceil(Math.log2(heard.length + tone.length));
	const fft = new FFT(size);
	const spectrumOf = (sound: Float32Array) => {
		const padded = new Float64Array(size);
		padded.set(sound);
		const spectrum = fft.createComplexArray();
		fft.realTransform(spectrum, padded);
		return spectrum;
	};
	const [h, t] = [spectrumOf(heard), spectrumOf(tone)];
	const cross = fft.createComplexArray().fill(0);
	const first = Math.ceil((RISES_HZ[0] * size) / rate);
	const last = Math.floor((RISES_HZ[1] * size) / rate);
	for (let k = first; k <= last; k++) {
		const [hr, hi, tr, ti] = [h[2 * k]!, h[2 * k + 1]!, t[2 * k]!, t[2 * k + 1]!];
		const [re, im] = [hr * tr + hi * ti, hi * tr - hr * ti];
		const height = Math.hypot(re, im);
		if (height === 0) continue;
		cross[2 * k] = re / height;
		cross[2 * k + 1] = im / height;
	}
	fft.completeSpectrum(cross);
	const correlation = fft.createComplexArray();
	fft.inverseTransform(correlation, cross);
	let [top, power] = [0, 0];
	for (let lag = 0; lag < heard.length; lag++) {
		top = Math.max(top, Math.abs(correlation[2 * lag]!));
		power += correlation[2 * lag]! ** 2;
	}
	const stands = top / Math.sqrt(power / heard.length);
	return stands >= FOUND ? stands : null;
}
