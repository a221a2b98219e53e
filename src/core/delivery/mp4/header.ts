/** The header of an MP4 whose samples follow in fragments (ISO/IEC 14496-12, 8.2 to 8.8). */
import { concat } from '../bytes.ts';
import type { AudioConfig, VideoConfig } from '../uplink.ts';
import { ascii, box, descriptor, fullBox, u16, u32, zeros } from './boxes.ts';

export const VIDEO_TRACK = 1;
export const AUDIO_TRACK = 2;
/** Pictures are counted in microseconds, sounds in samples. */
export const VIDEO_SCALE = 1_000_000;

/** The language "und", five bits a letter (8.4.2.3). */
const UNDETERMINED = 0x55c4;
/** Nothing is turned or stretched. */
const MATRIX = u32(0x0001_0000, 0, 0, 0, 0x0001_0000, 0, 0, 0, 0x4000_0000);

/** @param audio null for a picture without sound */
export function movieHeader(video: VideoConfig, audio: AudioConfig | null): Uint8Array {
	const brands = concat([ascii('iso6'), u32(0), ascii('iso6'), ascii('avc1'), ascii('mp41')]);
	const tracks = [VIDEO_TRACK, ...(audio ? [AUDIO_TRACK] : [])];
	const general = concat([u32(0, 0, 1000, 0, 0x0001_0000), u16(0x0100, 0), u32(0, 0), MATRIX, zeros(24), u32(3)]);
	const movie = box(
		'moov',
		fullBox('mvhd', 0, 0, general),
		videoTrack(video),
		...(audio ? [audioTrack(audio)] : []),
		box('mvex', ...tracks.map((track) => fullBox('trex', 0, 0, u32(track, 1, 0, 0, 0)))),
	);
	return concat([box('ftyp', brands), movie]);
}

function videoTrack({ width, height, description }: VideoConfig): Uint8Array {
	const picture = concat([
		zeros(6),
		u16(1),
		zeros(16),
		u16(width, height),
		u32(0x0048_0000, 0x0048_0000, 0), // 72 points an inch, as all say
		u16(1),
		zeros(32),
		u16(0x18, 0xffff),
	]);
	// ITU-R BT.709 in all three, not full range (ISO/IEC 23091-2).
	const colour = box('colr', ascii('nclx'), u16(1, 1, 1), Uint8Array.of(0));
	const entry = box('avc1', picture, box('avcC', description), colour);
	return trackBox(VIDEO_TRACK, VIDEO_SCALE, 'vide', fullBox('vmhd', 0, 1, zeros(8)), entry, { width, height });
}

function audioTrack({ sampleRate, channels, bitrateKbps, description }: AudioConfig): Uint8Array {
	const sound = concat([zeros(6), u16(1), zeros(8), u16(channels, 16, 0, 0), u32(sampleRate * 0x1_0000)]);
	const rate = u32(bitrateKbps * 1000, bitrateKbps * 1000);
	// MPEG-4 audio, an audio stream (ISO/IEC 14496-1, 7.2.6.6).
	const decoder = concat([Uint8Array.of(0x40, 0x15, 0, 0, 0), rate, descriptor(5, description)]);
	const stream = descriptor(
		3,
		concat([u16(AUDIO_TRACK), Uint8Array.of(0), descriptor(4, decoder), descriptor(6, Uint8Array.of(2))]),
	);
	const entry = box('mp4a', sound, fullBox('esds', 0, 0, stream));
	return trackBox(AUDIO_TRACK, sampleRate, 'soun', fullBox('smhd', 0, 0, zeros(4)), entry, null);
}

function trackBox(
	track: number,
	scale: number,
	handler: 'vide' | 'soun',
	mediaHeader: Uint8Array,
	entry: Uint8Array,
	size: { width: number; height: number } | null,
): Uint8Array {
	const shown = size ? u32(size.width * 0x1_0000, size.height * 0x1_0000) : u32(0, 0);
	const trackHeader = concat([u32(0, 0, track, 0, 0), zeros(8), u16(0, 0, size ? 0 : 0x0100, 0), MATRIX, shown]);
	const noTables = [
		fullBox('stts', 0, 0, u32(0)),
		fullBox('stsc', 0, 0, u32(0)),
		fullBox('stsz', 0, 0, u32(0, 0)),
		fullBox('stco', 0, 0, u32(0)),
	];
	const inThisFile = fullBox('dref', 0, 0, u32(1), fullBox('url ', 0, 1));
	return box(
		'trak',
		fullBox('tkhd', 0, 3, trackHeader),
		box(
			'mdia',
			fullBox('mdhd', 0, 0, u32(0, 0, scale, 0), u16(UNDETERMINED, 0)),
			fullBox('hdlr', 0, 0, u32(0), ascii(handler), zeros(13)),
			box('minf', mediaHeader, box('dinf', inThisFile), box('stbl', fullBox('stsd', 0, 0, u32(1), entry), ...noTables)),
		),
	);
}
