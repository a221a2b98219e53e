import { describe, expect, it } from 'vitest';
import { isBlack, proposalFor, SoundAnalysis } from './analysis.ts';
import { plainSettings, type Media, type MediaAnalysis } from './media.ts';

const RATE = 48_000;
/** A tone of 997 Hz on both sides between two times, in a file of a length, seconds. */
function analysed(lengthS: number, fromS: number, toS: number, peak: number) {
	const analysis = new SoundAnalysis(lengthS * 1000);
	for (let at = 0; at < lengthS * RATE; at += 1000) {
		const piece = Float32Array.from({ length: Math.min(1000, lengthS * RATE - at) }, (_, i) => {
			const t = (at + i) / RATE;
			return t >= fromS && t < toS ? peak * Math.sin(2 * Math.PI * 997 * t) : 0;
		});
		analysis.add(piece, piece);
	}
	return analysis.result();
}

describe('the sound of a file', () => {
	it('has the loudness that BS.1770 gives it: a tone of 997 Hz on both sides at −20 dBFS is −20 LUFS', () => {
		const { loudness, truePeakDb } = analysed(10, 0, 10, 0.1);
		expect(loudness).toBeCloseTo(-20, 1);
		expect(truePeakDb).toBeCloseTo(-20, 1);
	});

	it('is silent at its ends for as long as nothing is heard there', () => {
		const { silence, waveform } = analysed(6, 1.5, 5, 0.5);
		expect(Math.abs(silence.startMs - 1500)).toBeLessThanOrEqual(2);
		expect(Math.abs(silence.endMs - 1000)).toBeLessThanOrEqual(2);
		expect(waveform).toHaveLength(600);
		expect([waveform[100], waveform[300], waveform[550]]).toEqual([0, 50, 0]);
	});

	it('of silence alone is no loudness', () => {
		expect(analysed(2, 0, 0, 1)).toMatchObject({
			loudness: null,
			truePeakDb: null,
			silence: { startMs: 2000, endMs: 2000 },
		});
	});
});

it('a picture is black when nothing is seen in it', () => {
	const picture = (bright: number, level: number) =>
		Uint8ClampedArray.from({ length: 4 * 64 * 36 }, (_, i) => (i / 4 < bright ? level : 3));
	expect(isBlack(picture(0, 0))).toBe(true);
	// One star in a night sky is something; noise is not.
	expect(isBlack(picture(40, 200))).toBe(false);
	expect(isBlack(picture(64 * 36, 20))).toBe(false);
});

describe('what is proposed', () => {
	const media = (analysis: Partial<MediaAnalysis>, sound = true): Pick<Media, 'about' | 'analysis' | 'settings'> => ({
		about: {
			kind: 'video',
			lengthMs: 90_000,
			picture: { width: 1280, height: 720, fps: 30, codec: 'avc1.64001f', alpha: false },
			sound: sound ? { codec: 'mp4a.40.2', sampleRate: 48_000, channels: 2 } : null,
		},
		analysis: {
			loudness: -16,
			truePeakDb: -3,
			silence: { startMs: 0, endMs: 0 },
			black: { startMs: 0, endMs: 0 },
			waveform: [],
			thumbnails: 10,
			...analysis,
		},
		settings: plainSettings(),
	});

	it('is a gain to the target, no louder than the peaks allow', () => {
		expect(proposalFor(media({ loudness: -24, truePeakDb: -12 }), -16)).toEqual({ gainDb: 8 });
		expect(proposalFor(media({ loudness: -24, truePeakDb: -6 }), -16)).toEqual({ gainDb: 5 });
		expect(proposalFor(media({ loudness: -9, truePeakDb: 0.5 }), -16)).toEqual({ gainDb: -7 });
		expect(proposalFor(media({ loudness: -16.4 }), -16)).toEqual({});
	});

	it('cuts off black ends, but never what is heard in them', () => {
		const black = { startMs: 2000, endMs: 3000 };
		expect(proposalFor(media({ black, silence: { startMs: 500, endMs: 4000 } }), -16)).toEqual({
			inMs: 500,
			outMs: 87_000,
		});
		expect(proposalFor(media({ black }, false), -16)).toEqual({ inMs: 2000, outMs: 87_000 });
		// A file that is black from end to end is left alone.
		const all = { startMs: 90_000, endMs: 90_000 };
		expect(proposalFor(media({ black: all, silence: all, loudness: null }), -16)).toEqual({});
	});
});
