/**
 * Framing of the uplink: one WebSocket message from engine to server is one packet.
 *
 *   byte 0  'B'      byte 1  version     byte 2  kind     byte 3  flags (1: key frame)
 *   byte 4  rendition, or from 128 on a track that is recorded apart     bytes 5 to 7 zero
 *   bytes 8 to 15  time in microseconds on the engine's clock, signed, big-endian
 *   then the payload: H.264 NAL units with lengths, a raw AAC frame, or for the two configurations a
 *   16-bit length, JSON of that length, and the decoder configuration; for the sound of a track its samples, 24 bits
 *   each, little-endian, sides in turn.
 */
import { ProtocolError, viewOf } from './bytes.ts';
import { decodeUtf8, encodeUtf8 } from './utf8.ts';

const MAGIC = 0x42;
const VERSION = 1;
const HEADER_BYTES = 16;
const KEY_FLAG = 1;
/** A packet larger than this is no picture of ours. */
export const MAX_PACKET_BYTES = 4 * 1024 * 1024;

const Kind = { videoConfig: 1, audioConfig: 2, video: 3, audio: 4, end: 5, hold: 6, pcm: 7 } as const;

/** Renditions from this number on are isolated tracks, in the order of the broadcast's tracks. */
export const FIRST_TRACK = 128;

/** Size and pace of a rendition's picture, with its AVCDecoderConfigurationRecord. */
export interface VideoConfig {
	kind: 'videoConfig';
	rendition: number;
	width: number;
	height: number;
	fps: number;
	bitrateKbps: number;
	description: Uint8Array;
}

/** The sound's form, with its AudioSpecificConfig. */
export interface AudioConfig {
	kind: 'audioConfig';
	rendition: number;
	sampleRate: number;
	channels: number;
	bitrateKbps: number;
	description: Uint8Array;
}

export interface MediaPacket {
	kind: 'video' | 'audio';
	rendition: number;
	/** Decode time, which is presentation time: the engine encodes without reordering. */
	timeUs: number;
	/** True for each picture that needs no other, and for all sound. */
	key: boolean;
	data: Uint8Array;
}

/** A picture of the holding card's loop; a key frame begins a new loop. */
export interface HoldPacket {
	kind: 'hold';
	rendition: number;
	key: boolean;
	data: Uint8Array;
}

/** Samples of a track's sound as they came in, 48 kHz. */
export interface PcmPacket {
	kind: 'pcm';
	rendition: number;
	/** Of the first sample. */
	timeUs: number;
	data: Uint8Array;
}

/** Messages from the server to the engine over the uplink, as JSON. */
export type Downlink =
	/** A picture that stands alone is needed: the program should return, or somebody has just begun to take it. */
	| { needKey: true }
	/** Target rate of a rendition from now on. */
	| { rendition: number; kbps: number };

/** The engine has sent all of this broadcast. */
export interface EndMark {
	kind: 'end';
}

export type UplinkPacket = VideoConfig | AudioConfig | MediaPacket | HoldPacket | PcmPacket | EndMark;

export function encodeUplink(packet: UplinkPacket): Uint8Array<ArrayBuffer> {
	if (packet.kind === 'end') return header('end', 0, 0, false, 0);
	if ('data' in packet) {
		const timeUs = packet.kind === 'hold' ? 0 : packet.timeUs;
		const key = packet.kind !== 'pcm' && packet.key;
		const bytes = header(packet.kind, packet.rendition, timeUs, key, packet.data.length);
		bytes.set(packet.data, HEADER_BYTES);
		return bytes;
	}
	const { kind, rendition, description, ...about } = packet;
	const json = encodeUtf8(JSON.stringify(about));
	const bytes = header(kind, rendition, 0, false, 2 + json.length + description.length);
	viewOf(bytes).setUint16(HEADER_BYTES, json.length);
	bytes.set(json, HEADER_BYTES + 2);
	bytes.set(description, HEADER_BYTES + 2 + json.length);
	return bytes;
}

function header(
	kind: keyof typeof Kind,
	rendition: number,
	timeUs: number,
	key: boolean,
	payload: number,
): Uint8Array<ArrayBuffer> {
	const bytes = new Uint8Array(HEADER_BYTES + payload);
	bytes[0] = MAGIC;
	bytes[1] = VERSION;
	bytes[2] = Kind[kind];
	bytes[3] = key ? KEY_FLAG : 0;
	bytes[4] = rendition;
	viewOf(bytes).setBigInt64(8, BigInt(Math.round(timeUs)));
	return bytes;
}

/** @throws ProtocolError on anything that an engine of this version would not send. */
export function decodeUplink(bytes: Uint8Array): UplinkPacket {
	if (bytes.length < HEADER_BYTES || bytes[0] !== MAGIC) throw new ProtocolError('Not an uplink packet');
	if (bytes[1] !== VERSION) throw new ProtocolError(`Uplink version ${bytes[1]}; this server speaks ${VERSION}`);
	if (bytes.length > MAX_PACKET_BYTES) throw new ProtocolError(`Uplink packet of ${bytes.length} bytes`);
	const rendition = bytes[4]!;
	const payload = bytes.subarray(HEADER_BYTES);
	switch (bytes[2]) {
		case Kind.end:
			return { kind: 'end' };
		case Kind.hold: {
			if (payload.length === 0) throw new ProtocolError('Uplink packet without a payload');
			return { kind: 'hold', rendition, key: (bytes[3]! & KEY_FLAG) !== 0, data: payload };
		}
		case Kind.pcm:
			if (payload.length === 0) throw new ProtocolError('Uplink packet without a payload');
			return { kind: 'pcm', rendition, timeUs: timeOf(bytes), data: payload };
		case Kind.video:
		case Kind.audio: {
			const timeUs = timeOf(bytes);
			if (payload.length === 0) throw new ProtocolError('Uplink packet without a payload');
			const kind = bytes[2] === Kind.video ? 'video' : 'audio';
			return { kind, rendition, timeUs, key: (bytes[3]! & KEY_FLAG) !== 0, data: payload };
		}
		case Kind.videoConfig: {
			const { about, description } = config(payload);
			return {
				kind: 'videoConfig',
				rendition,
				width: whole(about, 'width', 16, 8192),
				height: whole(about, 'height', 16, 8192),
				fps: whole(about, 'fps', 1, 240),
				bitrateKbps: whole(about, 'bitrateKbps', 1, 200_000),
				description,
			};
		}
		case Kind.audioConfig: {
			const { about, description } = config(payload);
			return {
				kind: 'audioConfig',
				rendition,
				sampleRate: whole(about, 'sampleRate', 8000, 192_000),
				channels: whole(about, 'channels', 1, 8),
				bitrateKbps: whole(about, 'bitrateKbps', 1, 2000),
				description,
			};
		}
		default:
			throw new ProtocolError(`Uplink packet of kind ${bytes[2]}`);
	}
}

function timeOf(bytes: Uint8Array): number {
	const timeUs = Number(viewOf(bytes).getBigInt64(8));
	if (!Number.isSafeInteger(timeUs) || timeUs < 0) throw new ProtocolError(`Uplink packet at ${timeUs} µs`);
	return timeUs;
}

function config(payload: Uint8Array): { about: Record<string, unknown>; description: Uint8Array } {
	const length = payload.length >= 2 ? viewOf(payload).getUint16(0) : Infinity;
	if (payload.length < 2 + length) throw new ProtocolError('Uplink configuration is cut short');
	let about: unknown;
	try {
		about = JSON.parse(decodeUtf8(payload.subarray(2, 2 + length)));
	} catch {
		throw new ProtocolError('Uplink configuration is not JSON');
	}
	if (typeof about !== 'object' || about === null) throw new ProtocolError('Uplink configuration is no object');
	return { about: about as Record<string, unknown>, description: payload.slice(2 + length) };
}

function whole(about: Record<string, unknown>, name: string, least: number, most: number): number {
	const value = about[name];
	if (typeof value !== 'number' || !Number.isInteger(value) || value < least || value > most)
		throw new ProtocolError(`Uplink configuration has ${name} ${JSON.stringify(value)}`);
	return value;
}
