/** Sound of a recording as a job works on it. */
import { AudioSampleSink, type AudioSample, type InputAudioTrack } from 'mediabunny';
import type { Sides } from '../../core/afterwards/phone-sound.ts';
import { Resampler } from '../../core/sound/resampler.ts';

const RATE = 48_000;
/** Samples of a piece: 100 ms. */
const PIECE = 4800;
/** Sound that comes this much later than what was before it has a gap before it, which is silence. */
const GAP = RATE / 50;

/**
 * The sound of a track from one second to another, two sides at 48 kHz, in pieces of 100 ms; what is missing is silence.
 * @param onProgress told the part that was read, 0 to 1
 */
export async function* soundOf(
	track: InputAudioTrack,
	fromS: number,
	toS: number,
	onProgress: (part: number) => void = () => {},
): AsyncGenerator<Sides> {
	const length = Math.max(1, Math.round((toS - fromS) * RATE));
	const rate = await track.getSampleRate();
	const resamplers = rate === RATE ? null : [new Resampler(rate, RATE), new Resampler(rate, RATE)];
	let [at, begin] = [-Infinity, 0];
	let piece = silence(Math.min(PIECE, length));
	const next = (): Sides => {
		const whole = piece;
		begin += whole[0].length;
		piece = silence(Math.min(PIECE, length - begin));
		onProgress(begin / length);
		return whole;
	};
	for await (const sample of new AudioSampleSink(track).samples(fromS, toS)) {
		const due = Math.round((sample.timestamp - fromS) * RATE);
		if (due - at > GAP) at = due;
		const sides = sidesOf(sample).map((side, i) => resamplers?.[i]!.push(side) ?? side) as Sides;
		for (;;) {
			for (const i of [0, 1] as const) place(piece[i], sides[i], at - begin);
			if (begin === length || at + sides[0].length < begin + piece[0].length) break;
			yield next();
		}
		at += sides[0].length;
	}
	while (begin < length) yield next();
}

const silence = (samples: number): Sides => [new Float32Array(samples), new Float32Array(samples)];

/** Both sides of what was decoded, which is closed; one channel is on both of them. */
function sidesOf(sample: AudioSample): Sides {
	const sides = [0, Math.min(1, sample.numberOfChannels - 1)].map((planeIndex) => {
		const samples = new Float32Array(sample.numberOfFrames);
		sample.copyTo(samples, { planeIndex, format: 'f32-planar' });
		return samples;
	});
	sample.close();
	return sides as Sides;
}

/** Lays samples into a piece; what lies outside is left out. */
function place(into: Float32Array, samples: Float32Array, at: number): void {
	const from = Math.max(0, -at);
	const count = Math.min(samples.length, into.length - at) - from;
	if (count > 0) into.set(samples.subarray(from, from + count), at + from);
}
