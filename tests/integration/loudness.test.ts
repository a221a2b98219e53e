/** Loudness against an independent meter: FFmpeg's, in the same run, on the demo's material. */
import { describe, expect, it } from 'vitest';
import { LoudnessMeter } from '../../src/core/sound/loudness.ts';
import { run } from '../support/media.ts';
import { samplesOf } from '../support/see.ts';

const MEDIA = 'standins/venue/media';
const BLOCK = 480;
/** Long enough that the first three seconds, which each meter takes in its own way, do not count for much. */
const LOOPED = ['-stream_loop', '3'];

async function byFfmpeg(
	inputs: string[],
	filter: string,
): Promise<{ integrated: number; range: number; peak: number }> {
	const args = [...inputs.flatMap((file) => [...LOOPED, '-i', file]), '-filter_complex', `${filter},ebur128=peak=true`];
	const { stderr } = await run('ffmpeg', ['-hide_banner', '-nostats', ...args, '-f', 'null', '-'], { maxBuffer: 64e6 });
	const summary = stderr.slice(stderr.lastIndexOf('Summary:'));
	const figure = (name: string) => Number(new RegExp(`${name}:\\s+(-?[\\d.]+)`).exec(summary)![1]);
	return { integrated: figure('I'), range: figure('LRA'), peak: figure('Peak') };
}

describe('the loudness of the demo’s material, held against FFmpeg', () => {
	const stereo = (a: number, b: number) => `[${a}:a][${b}:a]join=inputs=2:channel_layout=stereo,volume=12dB`;
	it.each([
		['two people talking', ['lectern-mic', 'handheld']],
		['the choir', ['choir-left', 'choir-right']],
		['harmonium and fiddle', ['harmonium', 'fiddle']],
	])('%s', async (_, names) => {
		const files = names.map((name) => `${MEDIA}/${name}.flac`);
		const theirs = await byFfmpeg(files, stereo(0, 1));
		const mixed = await samplesOf(
			[...files.flatMap((file) => [...LOOPED, '-i', file]), '-filter_complex', stereo(0, 1)],
			2,
		);
		const meter = new LoudnessMeter();
		const [left, right] = [0, 1].map((side) => mixed.filter((__, i) => i % 2 === side)) as [Float32Array, Float32Array];
		for (let at = 0; at + BLOCK <= left.length; at += BLOCK)
			meter.run(left.subarray(at, at + BLOCK), right.subarray(at, at + BLOCK));
		expect(Math.abs(meter.integrated - theirs.integrated)).toBeLessThanOrEqual(0.1);
		expect(Math.abs(meter.range - theirs.range)).toBeLessThanOrEqual(0.1);
		expect(Math.abs(meter.truePeakDb - theirs.peak)).toBeLessThanOrEqual(0.2);
	});
});
