/**
 * FLV tag bodies for H.264 and AAC, as RTMP carries them (Adobe Flash Video File Format 10.1, annex E.4).
 */
import { ProtocolError, writeU24 } from './bytes.ts';

const AVC = 7;
const AAC_44K_16BIT_STEREO = 0xaf; // The specification fixes these bits for AAC, whatever the real rate.
const KEY_FRAME = 1;
const INTER_FRAME = 2;

/** The AVC sequence header: an AVCDecoderConfigurationRecord (ISO/IEC 14496-15). */
export function avcSequenceHeader(description: Uint8Array): Uint8Array {
	return videoTag(KEY_FRAME, 0, 0, description);
}

/** One picture: NAL units with four-byte lengths. `compositionOffsetMs` is presentation minus decode time. */
export function avcPicture(nalUnits: Uint8Array, key: boolean, compositionOffsetMs = 0): Uint8Array {
	return videoTag(key ? KEY_FRAME : INTER_FRAME, 1, compositionOffsetMs, nalUnits);
}

/** The AAC sequence header: an AudioSpecificConfig (ISO/IEC 14496-3). */
export function aacSequenceHeader(audioSpecificConfig: Uint8Array): Uint8Array {
	return audioTag(0, audioSpecificConfig);
}

/** One raw AAC frame, without ADTS header. */
export function aacFrame(frame: Uint8Array): Uint8Array {
	return audioTag(1, frame);
}

function videoTag(frameType: number, packetType: number, offsetMs: number, data: Uint8Array): Uint8Array {
	const body = new Uint8Array(5 + data.length);
	body[0] = (frameType << 4) | AVC;
	body[1] = packetType;
	body[2] = offsetMs >> 16;
	body[3] = offsetMs >> 8;
	body[4] = offsetMs;
	body.set(data, 5);
	return body;
}

function audioTag(packetType: number, data: Uint8Array): Uint8Array {
	const body = new Uint8Array(2 + data.length);
	body[0] = AAC_44K_16BIT_STEREO;
	body[1] = packetType;
	body.set(data, 2);
	return body;
}

export type FlvVideo =
	| { kind: 'config'; description: Uint8Array }
	| { kind: 'picture'; key: boolean; compositionOffsetMs: number; data: Uint8Array }
	| { kind: 'end' };

/** @throws ProtocolError when the body is truncated or of another codec than H.264. */
export function parseVideoTag(body: Uint8Array): FlvVideo {
	if (body.length < 5) throw new ProtocolError(`FLV video tag of ${body.length} bytes`);
	const codec = body[0]! & 0x0f;
	if (codec !== AVC) throw new ProtocolError(`FLV video codec ${codec} is not H.264`);
	const data = body.subarray(5);
	if (body[1] === 0) return { kind: 'config', description: data };
	if (body[1] === 2) return { kind: 'end' };
	const offset = (body[2]! << 16) | (body[3]! << 8) | body[4]!;
	return { kind: 'picture', key: body[0]! >> 4 === KEY_FRAME, compositionOffsetMs: (offset << 8) >> 8, data };
}

export type FlvAudio = { kind: 'config' | 'frame'; data: Uint8Array };

/** @throws ProtocolError when the body is truncated or of another codec than AAC. */
export function parseAudioTag(body: Uint8Array): FlvAudio {
	if (body.length < 2) throw new ProtocolError(`FLV audio tag of ${body.length} bytes`);
	const codec = body[0]! >> 4;
	if (codec !== 10) throw new ProtocolError(`FLV audio codec ${codec} is not AAC`);
	return { kind: body[1] === 0 ? 'config' : 'frame', data: body.subarray(2) };
}

/** The beginning of an FLV file with sound and picture (annex E.2 and E.3). */
export function flvFileHeader(): Uint8Array {
	return Uint8Array.of(0x46, 0x4c, 0x56, 1, 0x05, 0, 0, 0, 9, 0, 0, 0, 0);
}

/** One tag of an FLV file with its length behind it. `type` is the RTMP message type: 8 audio, 9 video, 18 data. */
export function flvFileTag(type: number, timestampMs: number, body: Uint8Array): Uint8Array {
	const tag = new Uint8Array(11 + body.length + 4);
	const view = new DataView(tag.buffer);
	tag[0] = type;
	writeU24(tag, 1, body.length);
	writeU24(tag, 4, timestampMs & 0xffffff);
	tag[7] = timestampMs >>> 24;
	tag.set(body, 11);
	view.setUint32(11 + body.length, 11 + body.length);
	return tag;
}
