import { describe, expect, it } from 'vitest';
import { CLIP_RING_SAMPLES, ClipVoice, type ClipAnchor } from './clip-voice.ts';

/** A clip whose samples say where they are: 0.0001 for each of its first 5000. */
function ramp() {
	const left = Float32Array.from({ length: CLIP_RING_SAMPLES }, (_, i) => 0.5 + (i % 5000) / 10_000);
	const voice = new ClipVoice([left, left]);
	const filled = { from: 0, to: CLIP_RING_SAMPLES };
	return {
		left,
		/** Sound from one sample to another of the engine's clock, block by block. */
		hear(from: number, to: number, anchor: ClipAnchor, range = filled) {
			const heard: number[] = [];
			for (let at = from; at < to; at += 128) {
				const [l, r] = [new Float32Array(128), new Float32Array(128)];
				voice.run(at, anchor, range, l, r);
				heard.push(...l);
			}
			return heard;
		},
	};
}

const at = (sample: number, position: number, version: number, playing = true) => ({
	sample,
	position,
	version,
	playing,
});

describe('the sound of a clip', () => {
	it('begins at the sample it is due at, with its first sample, at once', () => {
		const { hear, left } = ramp();
		const heard = hear(0, 1024, at(300, 0, 1));
		expect(heard.slice(0, 300).every((value) => value === 0)).toBe(true);
		expect(heard.slice(300)).toEqual([...left.subarray(0, 724)]);
	});

	it('stays where the engine’s clock is, however late it is told', () => {
		const { hear, left } = ramp();
		hear(0, 1024, at(0, 0, 0, false));
		const heard = hear(1024, 2048, at(300, 0, 1));
		// Faded in, since it is entered in its middle; then exactly in its place.
		expect(Math.abs(heard[0]!)).toBeLessThan(0.01);
		expect(heard.slice(240)).toEqual([...left.subarray(1024 + 240 - 300, 2048 - 300)]);
	});

	it('ends without a click when it is paused, and is silent then', () => {
		const { hear } = ramp();
		hear(0, 1024, at(0, 0, 1));
		const heard = hear(1024, 2048, at(1024, 1024, 2, false));
		const steps = heard.slice(1).map((value, i) => Math.abs(value - heard[i]!));
		expect(Math.max(...steps)).toBeLessThan(0.01);
		expect(heard.slice(240).every((value) => value === 0)).toBe(true);
	});

	it('goes to another place without a click', () => {
		const { hear } = ramp();
		hear(0, 1024, at(0, 0, 1));
		const heard = hear(1024, 2048, at(1024, 2000, 2));
		const steps = heard.slice(1).map((value, i) => Math.abs(value - heard[i]!));
		expect(Math.max(...steps)).toBeLessThan(0.01);
		// What came while the former sound was faded is not made up for.
		expect(heard[800]).toBeCloseTo(0.5 + 2800 / 10_000, 5);
	});

	it('is silent where nothing has been decoded, and where it is over', () => {
		const { hear } = ramp();
		const heard = hear(0, 1024, at(0, 0, 1), { from: 0, to: 600 });
		expect(heard[599]).toBeGreaterThan(0);
		expect(heard.slice(600).every((value) => value === 0)).toBe(true);
	});
});
