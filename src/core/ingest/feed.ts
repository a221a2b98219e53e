/**
 * Framing of a network camera's media on its way from the server to the desk: one WebSocket message is one packet.
 *
 *   byte 0  'C'      byte 1  version     byte 2  kind     byte 3  flags (1: key frame, 2: shown in another order)
 *   bytes 4 to 11  time in microseconds, signed, big-endian, on the camera's straightened clock
 *   then the payload: an AVCDecoderConfigurationRecord (ISO/IEC 14496-15), an AudioSpecificConfig (ISO/IEC 14496-3),
 *   NAL units with lengths, a raw AAC frame, or why nothing comes any more, as a code in ASCII.
 */
import { ProtocolError, viewOf } from '../delivery/bytes.ts';
import { decodeUtf8, encodeUtf8 } from '../delivery/utf8.ts';

const MAGIC = 0x43;
const VERSION = 1;
const HEADER_BYTES = 12;
const KEY_FLAG = 1;
const REORDERED_FLAG = 2;
/** No picture of a camera is larger. */
export const MOST_FEED_BYTES = 4 * 1024 * 1024;

const KINDS = ['begun', 'videoConfig', 'audioConfig', 'video', 'audio', 'gone'] as const;

/** Why a camera's media end: it said so, its connection broke, or it sends what cannot be used. */
export const GONE = ['left', 'torn', 'otherCodec', 'rubbish', 'flood', 'renewed'] as const;
export type Gone = (typeof GONE)[number];

export type FeedPacket =
	/** A camera has connected; all that follows is of this connection. */
	| { kind: 'begun' }
	| { kind: 'videoConfig' | 'audioConfig'; description: Uint8Array }
	/**
	 * `timeUs` is when it is to be shown; packets come in the order in which they are decoded. `reordered` says that these two
	 * are not the same: the stream has B-frames.
	 */
	| { kind: 'video'; timeUs: number; key: boolean; reordered: boolean; data: Uint8Array }
	| { kind: 'audio'; timeUs: number; data: Uint8Array }
	| { kind: 'gone'; why: Gone };

export function encodeFeed(packet: FeedPacket): Uint8Array<ArrayBuffer> {
	switch (packet.kind) {
		case 'begun':
			return framed('begun', new Uint8Array(0));
		case 'videoConfig':
		case 'audioConfig':
			return framed(packet.kind, packet.description);
		case 'video':
			return framed(
				'video',
				packet.data,
				packet.timeUs,
				(packet.key ? KEY_FLAG : 0) | (packet.reordered ? REORDERED_FLAG : 0),
			);
		case 'audio':
			return framed('audio', packet.data, packet.timeUs);
		case 'gone':
			return framed('gone', encodeUtf8(packet.why));
	}
}

function framed(kind: FeedPacket['kind'], payload: Uint8Array, timeUs = 0, flags = 0): Uint8Array<ArrayBuffer> {
	const bytes = new Uint8Array(HEADER_BYTES + payload.length);
	bytes.set([MAGIC, VERSION, KINDS.indexOf(kind), flags]);
	viewOf(bytes).setBigInt64(4, BigInt(Math.round(timeUs)));
	bytes.set(payload, HEADER_BYTES);
	return bytes;
}

/** @throws ProtocolError on anything that a server of this version would not send */
export function decodeFeed(bytes: Uint8Array): FeedPacket {
	if (bytes.length < HEADER_BYTES || bytes[0] !== MAGIC) throw new ProtocolError('Not a packet of a camera');
	if (bytes[1] !== VERSION) throw new ProtocolError(`Camera packet of version ${bytes[1]}; this page reads ${VERSION}`);
	const kind = KINDS[bytes[2]!];
	const payload = bytes.subarray(HEADER_BYTES);
	if (kind === 'begun') return { kind };
	if (kind === undefined || payload.length === 0 || bytes.length > MOST_FEED_BYTES + HEADER_BYTES)
		throw new ProtocolError(`Camera packet of kind ${bytes[2]} with ${payload.length} bytes`);
	if (kind === 'videoConfig' || kind === 'audioConfig') return { kind, description: payload };
	if (kind === 'gone') {
		const why = GONE.find((code) => code === decodeUtf8(payload));
		if (!why) throw new ProtocolError('Camera packet without a reason');
		return { kind, why };
	}
	const timeUs = Number(viewOf(bytes).getBigInt64(4));
	if (!Number.isSafeInteger(timeUs)) throw new ProtocolError(`Camera packet at ${timeUs} µs`);
	const has = (flag: number) => (bytes[3]! & flag) !== 0;
	return kind === 'video'
		? { kind, timeUs, key: has(KEY_FLAG), reordered: has(REORDERED_FLAG), data: payload }
		: { kind, timeUs, data: payload };
}
