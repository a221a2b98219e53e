/** Sound as it came in, in the oldest file there is: linear samples of 24 bits at 48 kHz, sides in turn. */

export const BYTES_PER_SAMPLE = 3;
const RATE = 48_000;
const LARGEST = 2 ** 23 - 1;
/** RIFF counts with 32 bits. */
const MOST_RIFF_BYTES = 0xffff_ffff;
/** Length of the header, the place for 64-bit lengths among it. */
export const WAV_HEADER_BYTES = 80;

/**
 * Writes samples as little-endian numbers of 24 bits, rounded to the nearest; beyond full scale they are cut off, and
 * what is no number is silence.
 * @param sides each side's samples, full scale 1
 * @param from the first of them
 */
export function toPcm24(sides: readonly Float32Array[], from: number, count: number): Uint8Array<ArrayBuffer> {
	const bytes = new Uint8Array(count * sides.length * BYTES_PER_SAMPLE);
	let at = 0;
	for (let i = from; i < from + count; i++)
		for (const side of sides) {
			const sample = side[i]! || 0;
			const value = Math.round(Math.max(-1, Math.min(1, sample)) * LARGEST);
			bytes[at++] = value;
			bytes[at++] = value >> 8;
			bytes[at++] = value >> 16;
		}
	return bytes;
}

/**
 * The header of a file with so many bytes of samples. Up to 4 GB it is RIFF with a chunk that means nothing; beyond
 * that the same chunk holds the lengths (RF64, EBU Tech 3306, sections 2 and 3).
 * @param sides 1 or 2
 */
export function wavHeader(sides: number, dataBytes: number): Uint8Array<ArrayBuffer> {
	const bytes = new Uint8Array(WAV_HEADER_BYTES);
	const view = new DataView(bytes.buffer);
	const riffBytes = WAV_HEADER_BYTES - 8 + dataBytes;
	const large = riffBytes > MOST_RIFF_BYTES;
	const name = (at: number, text: string) =>
		bytes.set(
			[...text].map((letter) => letter.charCodeAt(0)),
			at,
		);
	name(0, large ? 'RF64' : 'RIFF');
	view.setUint32(4, large ? MOST_RIFF_BYTES : riffBytes, true);
	name(8, 'WAVE');
	name(12, large ? 'ds64' : 'JUNK');
	view.setUint32(16, 28, true);
	const frameBytes = sides * BYTES_PER_SAMPLE;
	if (large) {
		view.setBigUint64(20, BigInt(riffBytes), true);
		view.setBigUint64(28, BigInt(dataBytes), true);
		view.setBigUint64(36, BigInt(Math.floor(dataBytes / frameBytes)), true);
	}
	name(48, 'fmt ');
	view.setUint32(52, 16, true);
	view.setUint16(56, 1, true);
	view.setUint16(58, sides, true);
	view.setUint32(60, RATE, true);
	view.setUint32(64, RATE * frameBytes, true);
	view.setUint16(68, frameBytes, true);
	view.setUint16(70, 8 * BYTES_PER_SAMPLE, true);
	name(72, 'data');
	view.setUint32(76, large ? MOST_RIFF_BYTES : dataBytes, true);
	return bytes;
}
