import { describe, expect, it } from 'vitest';
import { judgePicture, lumaOf, type SmallPicture } from './picture-check.ts';
import { judgeVoice, measureVoice } from './voice-check.ts';

/** A head and shoulders before a wall. */
function person(face: number, wall: number): SmallPicture {
	const [width, height] = [64, 36];
	const luma = Uint8Array.from({ length: width * height }, (_, i) => {
		const [x, y] = [(i % width) - width / 2, Math.floor(i / width) - height / 2];
		const isPerson = (x / 11) ** 2 + (y / 13) ** 2 < 1 || (y > 8 && Math.abs(x) < 22);
		return (isPerson ? face : wall) + ((i * 7) % 5);
	});
	return { luma, width, height };
}

describe('a picture before somebody is let in', () => {
	it('is good in a lit room, also of dark skin and before a bright wall', () => {
		expect(judgePicture(person(150, 120))).toBeNull();
		expect(judgePicture(person(70, 90))).toBeNull();
		expect(judgePicture(person(140, 230))).toBeNull();
	});

	it('is named by what is wrong with it', () => {
		expect(judgePicture(person(3, 4))).toBe('covered');
		expect(judgePicture(person(30, 25))).toBe('tooDark');
		expect(judgePicture(person(60, 220))).toBe('againstLight');
		expect(judgePicture(person(251, 120))).toBe('tooBright');
	});

	it('is read from a canvas', () => {
		expect([...lumaOf(new Uint8ClampedArray([255, 255, 255, 255, 0, 255, 0, 255]), 2, 1).luma]).toEqual([255, 150]);
	});
});

const RATE = 48_000;
/** Noise that is the same for each seed. */
function noise(seed: number): () => number {
	let state = seed;
	return () => {
		state = (Math.imul(state, 1664525) + 1013904223) | 0;
		return state / 2 ** 31;
	};
}

/** Syllables of a voice-like buzz, four a second, with pauses between words. */
function speech(peak: number, seconds = 5): Float32Array {
	const random = noise(3);
	return Float32Array.from({ length: seconds * RATE }, (_, i) => {
		const t = i / RATE;
		const syllable = Math.floor(4 * t);
		const within = 4 * t - syllable;
		if (syllable % 5 === 4 || within > 0.7) return 0;
		const envelope = Math.min(1, within / 0.08, (0.7 - within) / 0.08);
		const pitch = 110 + 15 * (syllable % 3);
		const buzz = [1, 2, 3, 5, 8].reduce((sum, n) => sum + Math.sin(2 * Math.PI * n * pitch * t) / n, 0) / 2.2;
		return peak * envelope * (0.9 * buzz + 0.1 * random());
	});
}
const withNoise = (sound: Float32Array, peak: number) => {
	const random = noise(9);
	return sound.map((sample) => sample + peak * random());
};
/** What a microphone hears of it at the other end of a room: echoes that fall by 60 dB in `seconds`. */
function inRoom(sound: Float32Array, seconds: number, direct: number): Float32Array {
	const random = noise(5);
	const taps = Array.from({ length: 160 }, (_, i) => {
		const at = ((i + 0.5 + 0.4 * random()) / 160) * seconds;
		return { at: Math.round(at * RATE), gain: 0.25 * random() * 10 ** ((-3 * at) / seconds) };
	});
	return sound.map((sample, i) =>
		taps.reduce((sum, { at, gain }) => sum + gain * (sound[i - at] ?? 0), direct * sample),
	);
}
const judged = (sound: Float32Array) => judgeVoice(measureVoice(sound));

describe('a voice before somebody is let in', () => {
	it('is good near a microphone in a quiet room, also if the room is live', () => {
		expect(judged(withNoise(speech(0.3), 0.001))).toBeNull();
		expect(judged(withNoise(inRoom(speech(0.3), 0.5, 1.5), 0.001))).toBeNull();
	});

	it('is named by what is wrong with it', () => {
		expect(judged(new Float32Array(5 * RATE))).toBe('silent');
		expect(judged(withNoise(new Float32Array(5 * RATE), 0.01))).toBe('nobodySpeaks');
		expect(judged(withNoise(speech(0.01), 0.0001))).toBe('tooSoft');
		expect(judged(speech(3).map((sample) => Math.max(-1, Math.min(1, sample))))).toBe('tooLoud');
		expect(judged(withNoise(speech(0.3), 0.06))).toBe('noisy');
		expect(judged(withNoise(inRoom(speech(0.5), 0.7, 0.1), 0.0005))).toBe('far');
	});

	it('says how loud it is and how loud the room', () => {
		const { speechDb, noiseDb } = measureVoice(withNoise(speech(0.3), 0.001));
		expect(speechDb).toBeCloseTo(-18, -1);
		expect(noiseDb).toBeCloseTo(-65, -1);
	});
});
