import { expect, it } from 'vitest';
import { estimateDelay } from './delay-estimate.ts';
import { HEARD_BACK_S, HeardBack } from './heard-back.ts';

const RATE = 48_000;
/** Noise in syllables, as speech is. */
function speech(seed: number): Float32Array {
	let state = seed;
	const next = () => (state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0) / 2 ** 32 - 0.5;
	return Float32Array.from(
		{ length: HEARD_BACK_S * RATE },
		(_, i) => 0.3 * next() * Math.sin((Math.PI * i) / 9000) ** 2,
	);
}
/** What a microphone hears of a voice and, softly and later, of what is played. */
function microphone(voice: Float32Array, played: Float32Array, gain: number, delayMs: number): Float32Array {
	const behind = (delayMs * RATE) / 1000;
	return voice.map((sample, i) => sample + gain * (played[i - behind] ?? 0));
}

it('finds what is played in the microphone, under a voice, and no longer when it is gone', () => {
	const back = new HeardBack();
	const look = (gain: number, delayMs: number, seed: number) => {
		const played = speech(seed);
		back.observe(estimateDelay(played, microphone(speech(seed + 1000), played, gain, delayMs)));
		return back.isThere;
	};
	expect([look(0, 0, 1), look(0, 0, 2)]).toEqual([false, false]);
	// Once may be chance.
	expect([look(0.4, 140, 3), look(0.4, 143, 4)]).toEqual([false, true]);
	expect([look(0, 0, 5), look(0, 0, 6), look(0, 0, 7)]).toEqual([true, true, false]);
	// What is found by chance elsewhere does not keep it there.
	const chance = new HeardBack();
	const found = [100, 101, 300, null, 500].map((delayMs) => {
		chance.observe(delayMs === null ? { refused: 'notTheSame' } : { delayMs, certainty: 2 });
		return chance.isThere;
	});
	expect(found).toEqual([false, true, true, true, false]);
	// Sound that slips by a buffer is found where it was a moment ago, and once it is gone it begins anew.
	const slips = new HeardBack();
	const seen = [185, 235, null, 184, 235, 600, null, 300, 185].map((delayMs) => {
		slips.observe(delayMs === null ? { refused: 'notTheSame' } : { delayMs, certainty: 20 });
		return slips.isThere;
	});
	expect(seen).toEqual([false, false, false, true, true, true, true, false, false]);
	// One of 200 ms and one of 400 ms are not the same.
	expect([look(0.4, 200, 8), look(0.4, 400, 9)]).toEqual([false, false]);
});

it('says nothing when nobody is heard, and takes no echo for one that comes before its sound', () => {
	const back = new HeardBack();
	back.observe({ delayMs: 120, certainty: 3 });
	back.observe({ refused: 'silent' });
	back.observe({ delayMs: 121, certainty: 3 });
	expect(back.isThere).toBe(true);
	const ahead = new HeardBack();
	ahead.observe({ delayMs: -120, certainty: 3 });
	ahead.observe({ delayMs: -120, certainty: 3 });
	expect(ahead.isThere).toBe(false);
});
