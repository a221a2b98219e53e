/** Message types, control messages and limits of RTMP 1.0 (specification of 2012, sections 5.4, 6 and 7). */
import { viewOf } from '../bytes.ts';

export const MessageType = {
	setChunkSize: 1,
	abort: 2,
	acknowledgement: 3,
	userControl: 4,
	windowAckSize: 5,
	setPeerBandwidth: 6,
	audio: 8,
	video: 9,
	dataAmf0: 18,
	commandAmf0: 20,
} as const;

export const UserControl = { streamBegin: 0, streamEof: 1, pingRequest: 6, pingResponse: 7 } as const;

/** Chunk stream ids: 2 is fixed by the specification for control; the others are our choice. */
export const ChunkStream = { control: 2, command: 3, audio: 4, video: 6, data: 5 } as const;

/** One message as it leaves or reaches the chunk layer. */
export interface RtmpMessage {
	type: number;
	/** Message stream id: 0 for the connection, else what createStream answered. */
	streamId: number;
	/** Milliseconds, unsigned 32 bit. */
	timestampMs: number;
	body: Uint8Array;
}

/** A control message whose body is one 32-bit number (chunk size, acknowledgement, window). */
export function controlMessage(type: number, value: number): RtmpMessage {
	const body = new Uint8Array(type === MessageType.setPeerBandwidth ? 5 : 4);
	viewOf(body).setUint32(0, value);
	// Limit type 2, dynamic (section 5.4.5).
	if (type === MessageType.setPeerBandwidth) body[4] = 2;
	return { type, streamId: 0, timestampMs: 0, body };
}

/** A user control event (section 6.2) with its 32-bit argument: stream id or ping time. */
export function userControlMessage(event: number, argument: number): RtmpMessage {
	const body = new Uint8Array(6);
	viewOf(body).setUint16(0, event);
	viewOf(body).setUint32(2, argument);
	return { type: MessageType.userControl, streamId: 0, timestampMs: 0, body };
}
