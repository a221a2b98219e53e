/**
 * A loudness for phones: louder than a broadcast, since their loudspeakers are weak and nobody turns them up. Measured first
 * (ITU-R BS.1770), then raised or lowered as a whole, and kept under a true peak. Sound goes through in pieces, so that a
 * talk of hours takes no more memory than one of a minute.
 */
import { Limiter, LIMITER_DELAY } from '../sound/limiter.ts';
import { LoudnessMeter } from '../sound/loudness.ts';
import { linearGain } from '../sound/ramp.ts';

/** LUFS and dBTP that the services agree on to which such clips are given. */
export const PHONE_LUFS = -14;
export const PHONE_PEAK_DB = -1;
/** What is nearly silent is no speech, and is not made loud. */
const MOST_GAIN_DB = 18;
const RATE = 48_000;

/** A piece of a sound at 48 kHz, left and right, 100 ms at most. */
export type Sides = [Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>];

/** How loud a sound is, LUFS; −∞ for silence, and for less than 400 ms. */
export async function loudnessOf(sound: AsyncIterable<Sides>): Promise<number> {
	const meter = new LoudnessMeter();
	for await (const [left, right] of sound) meter.run(left, right);
	return meter.integrated;
}

/** The gain that brings a sound to a phone's loudness, dB. */
export function phoneGainDb(lufs: number): number {
	return Number.isFinite(lufs) ? Math.min(MOST_GAIN_DB, PHONE_LUFS - lufs) : 0;
}

/**
 * The sound at a phone's loudness: as long as it was, and in time with it.
 * @param read reads the sound from its beginning; called twice
 */
export async function* forPhones(read: () => AsyncIterable<Sides>): AsyncGenerator<Sides> {
	const gain = linearGain(phoneGainDb(await loudnessOf(read())));
	const limiter = new Limiter(RATE);
	limiter.set(PHONE_PEAK_DB);
	// What the limiter looks ahead comes out late: that much of the beginning is left out, and comes at the end.
	let late = LIMITER_DELAY;
	const limited = (piece: Sides): Sides => {
		const [left, right] = piece.map((side) => side.map((sample) => gain * sample)) as Sides;
		limiter.run(left, right);
		const from = Math.min(late, left.length);
		late -= from;
		return [left.slice(from), right.slice(from)];
	};
	for await (const piece of read()) yield limited(piece);
	yield limited([new Float32Array(LIMITER_DELAY), new Float32Array(LIMITER_DELAY)]);
}
