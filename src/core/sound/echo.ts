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
 * Least height of the correlation where the tone is, in parts of its root mean square. Among so many lags noise alone reaches
 * 6. A word between two pauses may reach 20, since few of its pitches decide, but hardly twice at the same lag: whoever finds
 * the tone once looks again. A tone 15 dB below its own reverberation and 30 dB below what is said stands at 13 and more.
 */
const FOUND = 12;
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
 * Looks for the tone in what came in at a microphone, once or at several times.
 * @param looks what came in around the tone, by time; the tone was played at the same sample of each
 * @returns how high the correlation is where it is highest in all of them (geometric mean), in parts of its root mean square;
 *   null when the tone was not heard
 */
export function findEcho(looks: readonly Float32Array[], tone: Float32Array, rate = 48_000): number | null {
	if (looks.some(isSilent)) return null;
	const heights = looks.map((heard) => correlation(heard, tone, rate));
	let top = 0;
	for (let lag = 0; lag < heights[0]!.length; lag++)
		top = Math.max(
			top,
			heights.reduce((product, height) => product * height[lag]!, 1),
		);
	const stands = top ** (1 / looks.length);
	return stands >= FOUND ? stands : null;
}

function isSilent(heard: Float32Array): boolean {
	return heard.reduce((sum, sample) => sum + sample * sample, 0) < QUIET_RMS ** 2 * heard.length;
}

/** @returns how much the phases of both agree by lag in samples, without sign, in parts of the root mean square */
function correlation(heard: Float32Array, tone: Float32Array, rate: number): Float64Array {
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
	const byLag = fft.createComplexArray();
	fft.inverseTransform(byLag, cross);
	const heights = Float64Array.from({ length: heard.length }, (_, lag) => Math.abs(byLag[2 * lag]!));
	const rms = Math.sqrt(heights.reduce((sum, height) => sum + height * height, 0) / heights.length);
	return heights.map((height) => height / Math.max(rms, Number.MIN_VALUE));
}
