/**
 * The chunk layer of RTMP 1.0 (section 5.3): messages are cut into chunks so that none blocks another for long.
 *
 * The writer always uses a full header (type 0) for the first chunk of a message. That costs at most 11 bytes a
 * message and keeps time stamps absolute, so that dropping a group of pictures can never shift what follows.
 */
import { ProtocolError, readU24, viewOf, writeU24 } from '../bytes.ts';
import { MessageType, type RtmpMessage } from './messages.ts';

export const DEFAULT_CHUNK_SIZE = 128;
/** Larger messages than this are no picture of any camera: somebody is filling memory. */
export const MAX_MESSAGE_BYTES = 8 * 1024 * 1024;
const MAX_CHUNK_STREAMS = 64;
const EXTENDED = 0xffffff;

/** Cuts messages into chunks. */
export class ChunkWriter {
	/** Bytes of payload in a chunk; changing it must be announced by a setChunkSize message before. */
	chunkSize = DEFAULT_CHUNK_SIZE;

	/** The bytes of one message on chunk stream `csid` (2 to 63). */
	write(csid: number, message: RtmpMessage): Uint8Array {
		const { body } = message;
		const timestamp = message.timestampMs >>> 0;
		const extended = timestamp >= EXTENDED;
		const chunks = Math.max(1, Math.ceil(body.length / this.chunkSize));
		const bytes = new Uint8Array(12 + body.length + (chunks - 1) + (extended ? 4 * chunks : 0));
		const view = viewOf(bytes);
		bytes[0] = csid;
		writeU24(bytes, 1, extended ? EXTENDED : timestamp);
		writeU24(bytes, 4, body.length);
		bytes[7] = message.type;
		view.setUint32(8, message.streamId, true);
		let at = 12;
		for (let chunk = 0; chunk < chunks; chunk++) {
			if (chunk > 0) bytes[at++] = 0xc0 | csid;
			if (extended) {
				view.setUint32(at, timestamp);
				at += 4;
			}
			const part = body.subarray(chunk * this.chunkSize, (chunk + 1) * this.chunkSize);
			bytes.set(part, at);
			at += part.length;
		}
		return bytes;
	}
}

/** What is known of one chunk stream: the header that later, shorter ones lean on, and the message in the making. */
interface Stream {
	timestampMs: number;
	/** Delta of the last header of type 1 or 2; a type 3 that begins a message repeats it. */
	deltaMs: number;
	extended: boolean;
	length: number;
	type: number;
	streamId: number;
	body: Uint8Array | null;
	filled: number;
}

/**
 * Puts chunks back together. Feed it bytes as they come, cut anywhere.
 * Memory is bounded: 64 chunk streams, messages of 8 MiB, and a body is only allocated as it arrives.
 */
export class ChunkReader {
	#streams = new Map<number, Stream>();
	#chunkSize = DEFAULT_CHUNK_SIZE;
	/** Bytes of a header that is not complete yet; never more than 18. */
	#pending = new Uint8Array(0);
	#stream: Stream | null = null;
	#chunkLeft = 0;

	/**
	 * Reads bytes and hands each finished message to `emit`. Chunk size and abort messages are obeyed here and
	 * emitted as well.
	 * @throws ProtocolError when the peer breaks the chunk format or a limit; the connection is then of no more use.
	 */
	read(bytes: Uint8Array, emit: (message: RtmpMessage) => void): void {
		let at = 0;
		while (at < bytes.length || this.#pending.length > 0) {
			if (this.#stream) {
				at += this.#appendPayload(this.#stream, bytes.subarray(at), emit);
				if (at >= bytes.length) return;
			}
			const before = this.#pending.length;
			let header: Uint8Array = bytes.subarray(at, at + 18);
			if (before > 0) {
				header = new Uint8Array(before + Math.min(18, bytes.length - at));
				header.set(this.#pending);
				header.set(bytes.subarray(at, at + 18), before);
			}
			const used = this.#readHeader(header, emit);
			if (used === 0) {
				this.#pending = header.slice();
				return;
			}
			this.#pending = new Uint8Array(0);
			at += used - before;
		}
	}

	/** Reads one chunk header; 0 when more bytes are needed. */
	#readHeader(bytes: Uint8Array, emit: (message: RtmpMessage) => void): number {
		if (bytes.length === 0) return 0;
		const format = bytes[0]! >> 6;
		let csid = bytes[0]! & 0x3f;
		let at = 1;
		if (csid < 2) {
			at = csid === 0 ? 2 : 3;
			if (bytes.length < at) return 0;
			csid = csid === 0 ? bytes[1]! + 64 : bytes[1]! + bytes[2]! * 256 + 64;
		}
		const fieldBytes = [11, 7, 3, 0][format]!;
		if (bytes.length < at + fieldBytes) return 0;
		const known = this.#streams.get(csid);
		if (!known && format !== 0)
			throw new ProtocolError(`RTMP chunk stream ${csid} starts with a header of type ${format}`);
		if (!known && this.#streams.size >= MAX_CHUNK_STREAMS)
			throw new ProtocolError(`RTMP peer opens more than ${MAX_CHUNK_STREAMS} chunk streams`);

		const field = format === 3 ? 0 : readU24(bytes, at);
		const extended = format === 3 ? known!.extended : field === EXTENDED;
		const end = at + fieldBytes + (extended ? 4 : 0);
		if (bytes.length < end) return 0;
		const time = extended ? viewOf(bytes).getUint32(at + fieldBytes) : field;

		const continues = known?.body != null;
		if (continues && format !== 3) throw new ProtocolError(`RTMP chunk stream ${csid} begins a message within another`);
		const stream: Stream = known ?? {
			timestampMs: 0,
			deltaMs: 0,
			extended: false,
			length: 0,
			type: 0,
			streamId: 0,
			body: null,
			filled: 0,
		};
		if (format <= 1) {
			stream.length = readU24(bytes, at + 3);
			stream.type = bytes[at + 6]!;
			if (stream.length > MAX_MESSAGE_BYTES) throw new ProtocolError(`RTMP message of ${stream.length} bytes`);
		}
		if (format === 0) {
			stream.streamId = viewOf(bytes).getUint32(at + 7, true);
			stream.timestampMs = time;
			stream.deltaMs = 0;
		} else if (format < 3) {
			stream.deltaMs = time;
		}
		stream.extended = extended;
		if (!continues) {
			if (format > 0) stream.timestampMs = (stream.timestampMs + stream.deltaMs) >>> 0;
			stream.body = new Uint8Array(Math.min(stream.length, 64 * 1024));
			stream.filled = 0;
		}
		this.#streams.set(csid, stream);
		this.#stream = stream;
		this.#chunkLeft = Math.min(this.#chunkSize, stream.length - stream.filled);
		if (this.#chunkLeft === 0) this.#finishChunk(stream, emit);
		return end;
	}

	#appendPayload(stream: Stream, bytes: Uint8Array, emit: (message: RtmpMessage) => void): number {
		const part = bytes.subarray(0, this.#chunkLeft);
		const needed = stream.filled + part.length;
		if (needed > stream.body!.length) {
			const larger = new Uint8Array(Math.min(stream.length, Math.max(needed, stream.body!.length * 2)));
			larger.set(stream.body!.subarray(0, stream.filled));
			stream.body = larger;
		}
		stream.body!.set(part, stream.filled);
		stream.filled = needed;
		this.#chunkLeft -= part.length;
		if (this.#chunkLeft === 0) this.#finishChunk(stream, emit);
		return part.length;
	}

	#finishChunk(stream: Stream, emit: (message: RtmpMessage) => void): void {
		this.#stream = null;
		if (stream.filled < stream.length) return;
		const message = {
			type: stream.type,
			streamId: stream.streamId,
			timestampMs: stream.timestampMs,
			body: stream.body!.subarray(0, stream.length),
		};
		stream.body = null;
		this.#obey(message);
		emit(message);
	}

	#obey({ type, body }: RtmpMessage): void {
		if (type === MessageType.setChunkSize) {
			const size = body.length >= 4 ? viewOf(body).getUint32(0) : 0;
			if (size < 1 || size > 0x7fffffff) throw new ProtocolError(`RTMP chunk size of ${size}`);
			this.#chunkSize = size;
		} else if (type === MessageType.abort && body.length >= 4) {
			const stream = this.#streams.get(viewOf(body).getUint32(0));
			if (stream) stream.body = null;
		}
	}
}
