import fc from 'fast-check';
import { expect, it } from 'vitest';
import { Resampler } from './resampler.ts';

const tone = (hz: number, rate: number, length: number) =>
	Float32Array.from({ length }, (_, i) => Math.sin((2 * Math.PI * hz * i) / rate));

/** All of a sound, pushed in pieces. */
function resampled(sound: Float32Array, from: number, to: number, pieces: readonly number[] = [sound.length]) {
	const resampler = new Resampler(from, to);
	const made: number[] = [];
	let at = 0;
	for (const piece of pieces) {
		made.push(...resampler.push(sound.subarray(at, at + piece)));
		at += piece;
	}
	made.push(...resampler.push(sound.subarray(at)), ...resampler.end());
	return Float32Array.from(made);
}

it.each([44_100, 32_000, 22_050, 96_000])('a tone comes out of %d Hz as it would be at 48 kHz', (rate) => {
	const made = resampled(tone(997, rate, rate), rate, 48_000);
	const wanted = tone(997, 48_000, 48_000);
	let worst = 0;
	for (let i = 2000; i < 46_000; i++) worst = Math.max(worst, Math.abs(made[i]! - wanted[i]!));
	// 80 dB down.
	expect(worst).toBeLessThan(1e-4);
});

it('what the lower rate cannot carry is taken out, not folded down', () => {
	const made = resampled(tone(30_000, 96_000, 96_000), 96_000, 48_000).subarray(1000, 47_000);
	expect(Math.max(...made.map(Math.abs))).toBeLessThan(1e-4);
});

it('pieces make the same sound as the whole', () => {
	const sound = tone(440, 44_100, 3000);
	const whole = resampled(sound, 44_100, 48_000);
	fc.assert(
		fc.property(fc.array(fc.nat(400), { maxLength: 12 }), (pieces) => {
			expect(resampled(sound, 44_100, 48_000, pieces)).toEqual(whole);
		}),
	);
});
