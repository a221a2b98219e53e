/**
 * How well a voice is taken up by a microphone, judged from a few seconds of speech. Level and noise are percentiles of
 * the power of short pieces, a plain form of the active speech level of ITU-T P.56. How far away the microphone is shows in
 * how fast speech falls silent: near it a syllable stops, far from it the room goes on (J. Y. C. Wen, E. A. P. Habets,
 * P. A. Naylor, "Blind estimation of reverberation time based on the distribution of signal decay rates", ICASSP 2008).
 */

export type VoiceAdvice =
	/** Nothing comes in at all. */
	| 'silent'
	/** Somebody should speak, and nobody has. */
	| 'nobodySpeaks'
	| 'tooSoft'
	| 'tooLoud'
	/** A fan, a street, a hall. */
	| 'noisy'
	| 'far';

export interface Voice {
	/** Level of what is spoken, and of the pauses, dB below full scale. */
	speechDb: number;
	noiseDb: number;
	/** How fast the fastest syllables fall silent, dB a second. */
	fallsDbPerS: number;
	/** Part of the samples at full scale. */
	clipped: number;
}

const PIECE_S = 0.02;
/** Pieces by whose mean a fall is measured: 80 ms. */
const SLOPE_PIECES = 4;
const SILENT_DB = -75;
const SOFT_DB = -42;
const FULL_SCALE = 0.999;
const CLIPPED_PART = 0.0005;
const NOISY_DB = 16;
/** What stands out of the noise by less than this is no speech. */
const SPEECH_DB = 8;
const FAR_DB_PER_S = 190;
const FLOOR_DB = -100;

/** @param sound one side, full scale 1; some seconds of it */
export function measureVoice(sound: Float32Array, rate = 48_000): Voice {
	const length = Math.round(PIECE_S * rate);
	let clippedCount = 0;
	const levels = Array.from({ length: Math.floor(sound.length / length) }, (_, i) => {
		let energy = 0;
		// A loop costs a third of calls for each sample: this runs on a phone all evening.
		for (let at = i * length; at < (i + 1) * length; at++) {
			const sample = sound[at]!;
			energy += sample * sample;
			if (Math.abs(sample) >= FULL_SCALE) clippedCount++;
		}
		return Math.max(FLOOR_DB, 10 * Math.log10(energy / length));
	});
	const sorted = levels.toSorted((a, b) => a - b);
	const percentile = (part: number) =>
		sorted[Math.min(sorted.length - 1, Math.floor(part * sorted.length))] ?? FLOOR_DB;
	const [speechDb, noiseDb] = [percentile(0.9), percentile(0.1)];
	const clipped = clippedCount / Math.max(1, levels.length * length);
	return { speechDb, noiseDb, clipped, fallsDbPerS: fastestFall(levels, noiseDb) };
}

/** Slope that a tenth of all falls out of speech exceed; infinite where nothing falls. */
function fastestFall(levels: readonly number[], noiseDb: number): number {
	const slopes: number[] = [];
	for (let i = 0; i + SLOPE_PIECES < levels.length; i++) {
		const [from, to] = [levels[i]!, levels[i + SLOPE_PIECES]!];
		// Only what ends above the noise tells how it falls.
		const falls = from > to && to > noiseDb + SPEECH_DB / 2 && from > noiseDb + 2 * SPEECH_DB;
		if (falls) slopes.push((from - to) / (SLOPE_PIECES * PIECE_S));
	}
	if (slopes.length === 0) return Infinity;
	return slopes.toSorted((a, b) => b - a)[Math.floor(slopes.length / 10)]!;
}

/** What should be changed, the gravest only; null while nothing should. */
export function judgeVoice({ speechDb, noiseDb, fallsDbPerS, clipped }: Voice): VoiceAdvice | null {
	if (speechDb < SILENT_DB) return 'silent';
	if (clipped > CLIPPED_PART) return 'tooLoud';
	if (speechDb - noiseDb < SPEECH_DB) return 'nobodySpeaks';
	if (speechDb < SOFT_DB) return 'tooSoft';
	if (speechDb - noiseDb < NOISY_DB) return 'noisy';
	return fallsDbPerS < FAR_DB_PER_S ? 'far' : null;
}
