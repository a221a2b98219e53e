/** What is computed of a file of the media library from its decoded sound and pictures, and what is proposed for it. */
import { LoudnessMeter } from '../sound/loudness.ts';
import { Peaks } from '../sound/peaks.ts';
import { WAVEFORM_POINTS, type Media, type MediaAnalysis, type MediaSettings } from './media.ts';

const RATE = 48_000;
/** Below this nothing is heard, linear: −60 dB. */
const SILENCE = 0.001;
/** A picture is black when its mean is below this and hardly anything in it is brighter, of 255. */
const BLACK_MEAN = 12;
const BLACK_MOST = 40;
/** What a file's true peak is brought to at most, dBTP. */
const CEILING_DB = -1;
/** A gain of less than this is not worth a press, dB. */
const WORTH_DB = 1;
/** Nor is a shorter trim, milliseconds. */
const WORTH_MS = 200;
/** Samples that the meter is given at a time. */
const BLOCK = 2400;

/** Listens to all of a file's sound, piece by piece, at 48 kHz. */
export class SoundAnalysis {
	readonly #meter = new LoudnessMeter();
	readonly #peaks: Peaks;
	readonly #lengthMs: number;
	readonly #held: [Float32Array, Float32Array] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
	#fill = 0;
	#count = 0;
	#firstHeard = -1;
	#lastHeard = -1;

	/** @param lengthMs of the whole file */
	constructor(lengthMs: number) {
		this.#lengthMs = lengthMs;
		this.#peaks = new Peaks(WAVEFORM_POINTS, lengthMs / 1000);
	}

	add(left: Float32Array, right: Float32Array): void {
		for (const side of [left, right]) this.#peaks.add(side, this.#count / RATE, RATE);
		for (let i = 0; i < left.length; i++) {
			const [l, r] = [left[i]!, right[i]!];
			if (Math.abs(l) > SILENCE || Math.abs(r) > SILENCE) {
				if (this.#firstHeard < 0) this.#firstHeard = this.#count;
				this.#lastHeard = this.#count;
			}
			this.#count++;
			this.#held[0][this.#fill] = l;
			this.#held[1][this.#fill] = r;
			if (++this.#fill < BLOCK) continue;
			this.#meter.run(...this.#held);
			this.#fill = 0;
		}
	}

	/** To be asked once, at its end. */
	result(): Pick<MediaAnalysis, 'loudness' | 'truePeakDb' | 'silence' | 'waveform'> {
		// What does not fill a block is part of the sound as well; silence behind it is gated out.
		for (const side of this.#held) side.fill(0, this.#fill);
		this.#meter.run(...this.#held);
		const { integrated, truePeakDb } = this.#meter;
		const isHeard = this.#firstHeard >= 0;
		const ms = (samples: number) => Math.min(this.#lengthMs, Math.round((1000 * samples) / RATE));
		return {
			loudness: Number.isFinite(integrated) ? Math.round(10 * integrated) / 10 : null,
			truePeakDb: Number.isFinite(truePeakDb) ? Math.round(10 * truePeakDb) / 10 : null,
			silence: {
				startMs: isHeard ? ms(this.#firstHeard) : this.#lengthMs,
				endMs: isHeard ? Math.max(0, this.#lengthMs - ms(this.#lastHeard + 1)) : this.#lengthMs,
			},
			waveform: [...this.#peaks.heights].map((height) => Math.round(100 * height)),
		};
	}
}

/** True for a picture in which nothing is seen. @param rgba pixels, four bytes each */
export function isBlack(rgba: Uint8ClampedArray): boolean {
	let [sum, brighter] = [0, 0];
	for (let i = 0; i < rgba.length; i += 4) {
		const luma = 0.2126 * rgba[i]! + 0.7152 * rgba[i + 1]! + 0.0722 * rgba[i + 2]!;
		sum += luma;
		if (luma > BLACK_MOST) brighter++;
	}
	const pixels = rgba.length / 4;
	return sum / pixels < BLACK_MEAN && brighter / pixels < 0.002;
}

/** Changes of settings that are proposed; empty when the file is fine as it is. */
export type Proposal = Partial<Pick<MediaSettings, 'gainDb' | 'inMs' | 'outMs'>>;

/**
 * Proposes a gain that brings a file to the event's loudness, no louder than its peaks allow, and cuts off black ends
 * in which nothing is heard.
 * @param targetLufs what the event should come to
 */
export function proposalFor(
	{ about, analysis, settings }: Pick<Media, 'about' | 'analysis' | 'settings'>,
	targetLufs: number,
): Proposal {
	if (!analysis) return {};
	const { loudness, truePeakDb, black, silence } = analysis;
	const proposal: Proposal = {};
	if (loudness !== null) {
		const most = truePeakDb === null ? Infinity : CEILING_DB - truePeakDb;
		const gainDb = Math.round(2 * Math.max(-60, Math.min(24, targetLufs - loudness, most))) / 2;
		if (Math.abs(gainDb - settings.gainDb) >= WORTH_DB) proposal.gainDb = gainDb;
	}
	if (about.picture) {
		const isSilent = about.sound === null;
		const startMs = isSilent ? black.startMs : Math.min(black.startMs, silence.startMs);
		const endMs = isSilent ? black.endMs : Math.min(black.endMs, silence.endMs);
		const outMs = about.lengthMs - endMs;
		if (startMs < outMs && startMs - settings.inMs >= WORTH_MS) proposal.inMs = startMs;
		if (startMs < outMs && (settings.outMs ?? about.lengthMs) - outMs >= WORTH_MS) proposal.outMs = outMs;
	}
	return proposal;
}
