/** Decoded sound of a file, as the mix takes it: two sides at 48 kHz, from one time to another without a gap. */
import { AudioSampleSink, type AudioSample, type InputAudioTrack } from 'mediabunny';
import { Resampler } from '../../core/sound/resampler.ts';
import { SAMPLE_RATE } from '../shared.ts';

/** The sound of a track from one time to another, seconds, at 48 kHz and as two sides. */
export async function* samplesOf(
	track: InputAudioTrack,
	fromS: number,
	toS: number,
): AsyncGenerator<[Float32Array, Float32Array]> {
	let resamplers: [Resampler, Resampler] | null = null;
	let expectedS: number | null = null;
	for await (const sample of new AudioSampleSink(track).samples(fromS, toS)) {
		const { sampleRate, timestamp } = sample;
		let [left, right] = sidesOf(sample);
		sample.close();
		expectedS ??= fromS;
		// What lies before the beginning is cut off, what is missing before the first sample is silence.
		const skip = Math.round((expectedS - timestamp) * sampleRate);
		if (skip >= left.length) continue;
		if (skip > 0) [left, right] = [left.subarray(skip), right.subarray(skip)];
		const gap = skip < 0 ? new Float32Array(Math.min(-skip, sampleRate)) : null;
		expectedS = Math.max(expectedS, timestamp) + left.length / sampleRate;
		resamplers ??= [new Resampler(sampleRate, SAMPLE_RATE), new Resampler(sampleRate, SAMPLE_RATE)];
		const resample = (side: 0 | 1, samples: Float32Array) =>
			sampleRate === SAMPLE_RATE ? samples : resamplers![side].push(samples);
		if (gap) yield [resample(0, gap), resample(1, gap)];
		yield [resample(0, left), resample(1, right)];
	}
	if (resamplers && (await track.getSampleRate()) !== SAMPLE_RATE) yield [resamplers[0].end(), resamplers[1].end()];
}

/** Left and right of a sample; one side alone is both, of more than two the first two are taken. */
function sidesOf(sample: AudioSample): [Float32Array, Float32Array] {
	const side = (planeIndex: number) => {
		const samples = new Float32Array(sample.numberOfFrames);
		sample.copyTo(samples, { planeIndex, format: 'f32-planar' });
		return samples;
	};
	const left = side(0);
	return [left, sample.numberOfChannels > 1 ? side(1) : left];
}
