/** What configurations of H.264 and AAC say: the names that WebCodecs wants, and what they hold. */
import { ProtocolError } from '../delivery/bytes.ts';

/**
 * The codec's name of an AVCDecoderConfigurationRecord (ISO/IEC 14496-15, 5.3.3.1; RFC 6381, section 3.3).
 * @throws ProtocolError when it is none
 */
export function avcCodec(description: Uint8Array): string {
	// Version 1, profile, compatibility, level, length of NAL unit lengths, and one parameter set at least.
	if (description.length < 8 || description[0] !== 1)
		throw new ProtocolError(`An H.264 configuration of ${description.length} bytes`);
	const hex = (at: number) => description[at]!.toString(16).padStart(2, '0');
	return `avc1.${hex(1)}${hex(2)}${hex(3)}`;
}

/** Sampling frequencies by their index (ISO/IEC 14496-3, table 1.18). */
const RATES = [96_000, 88_200, 64_000, 48_000, 44_100, 32_000, 24_000, 22_050, 16_000, 12_000, 11_025, 8000, 7350];
/** Index that says that the frequency itself follows. */
const RATE_FOLLOWS = 15;
/** Channels by their configuration (table 1.19); 0 says that they stand elsewhere. */
const CHANNELS = [0, 1, 2, 3, 4, 5, 6, 8];
/** Object type that says that the type itself follows. */
const TYPE_FOLLOWS = 31;

export interface AacForm {
	codec: string;
	/** Samples in a second. */
	sampleRate: number;
	channels: number;
}

/**
 * What an AudioSpecificConfig says (ISO/IEC 14496-3, 1.6.2.1; RFC 6381, section 3.3).
 * @throws ProtocolError when it is none, or of a form that no camera sends
 */
export function aacForm(config: Uint8Array): AacForm {
	let at = 0;
	const bits = (count: number) => {
		let value = 0;
		for (let i = 0; i < count; i++, at++) {
			const byte = config[at >> 3];
			if (byte === undefined) throw new ProtocolError(`An AAC configuration of ${config.length} bytes`);
			value = value * 2 + ((byte >> (7 - (at & 7))) & 1);
		}
		return value;
	};
	let type = bits(5);
	if (type === TYPE_FOLLOWS) type = 32 + bits(6);
	const index = bits(4);
	const sampleRate = index === RATE_FOLLOWS ? bits(24) : RATES[index];
	const channels = CHANNELS[bits(4)];
	if (type === 0 || !sampleRate || sampleRate < 7350 || sampleRate > 96_000 || !channels)
		throw new ProtocolError(`An AAC configuration of type ${type} with ${sampleRate} Hz and ${channels} channels`);
	return { codec: `mp4a.40.${type}`, sampleRate, channels };
}
