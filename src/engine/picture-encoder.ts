/** The program's video encoder, and the port its packets leave by. */
import { encodeUplink } from '../core/delivery/uplink.ts';
import type { Picture } from '../core/show/state.ts';
import { KEY_EVERY_S, pictureKbps, videoEncoderConfig } from './encode.ts';
import type { FromUplinkPort, ToUplinkPort } from './messages.ts';

/** More frames than this within the encoder mean that it cannot follow; then a frame is left out. */
const MAX_IN_ENCODER = 12;

export class PictureEncoder {
	#encoder: VideoEncoder;
	#port: MessagePort;
	#picture: Picture;
	#keyWanted = true;
	#lastKeyFrame = 0;
	/** Frames that came out. */
	encoded = 0;

	constructor(picture: Picture, port: MessagePort, failed: (reason: string) => void) {
		this.#picture = picture;
		this.#port = port;
		port.onmessage = ({ data }: MessageEvent<FromUplinkPort>) => (this.#keyWanted ||= data.needKey);
		this.#encoder = new VideoEncoder({
			output: (chunk, metadata) => this.#send(chunk, metadata),
			error: (error) => failed(`The picture cannot be encoded (${error.message}). Reload the desk.`),
		});
		this.#encoder.configure(videoEncoderConfig(picture));
	}

	/**
	 * Encodes a frame and closes it. False when it had to be left out.
	 * @param number of the frame on the engine's clock: key frames keep their beat whatever was left out
	 */
	encode(frame: VideoFrame, number: number): boolean {
		const beat = number - this.#lastKeyFrame >= KEY_EVERY_S * this.#picture.fps;
		const taken = this.#encoder.state === 'configured' && this.#encoder.encodeQueueSize <= MAX_IN_ENCODER;
		if (taken) {
			const keyFrame = this.#keyWanted || beat;
			if (keyFrame) this.#lastKeyFrame = number;
			this.#keyWanted = false;
			this.#encoder.encode(frame, { keyFrame });
		}
		frame.close();
		return taken;
	}

	#send(chunk: EncodedVideoChunk, metadata: EncodedVideoChunkMetadata | undefined): void {
		const description = metadata?.decoderConfig?.description;
		if (description) this.#sendConfig(toBytes(description));
		const data = new Uint8Array(chunk.byteLength);
		chunk.copyTo(data);
		const key = chunk.type === 'key';
		const packet = encodeUplink({ kind: 'video', rendition: 0, timeUs: chunk.timestamp, key, data });
		this.encoded++;
		this.#post({ packet, kind: key ? 'key' : 'delta' });
	}

	#sendConfig(description: Uint8Array): void {
		const { width, height, fps } = this.#picture;
		const bitrateKbps = pictureKbps(this.#picture);
		const packet = encodeUplink({ kind: 'videoConfig', rendition: 0, width, height, fps, bitrateKbps, description });
		this.#post({ packet, kind: 'config' });
	}

	#post(message: ToUplinkPort & { packet: Uint8Array<ArrayBuffer> }): void {
		this.#port.postMessage(message, [message.packet.buffer]);
	}

	/** Lets out what is inside, then tells the uplink that this was all. */
	async end(): Promise<void> {
		if (this.#encoder.state === 'configured') await this.#encoder.flush().catch(() => {});
		if (this.#encoder.state !== 'closed') this.#encoder.close();
		this.#port.postMessage({ done: true } satisfies ToUplinkPort);
	}
}

function toBytes(source: AllowSharedBufferSource): Uint8Array {
	return ArrayBuffer.isView(source)
		? new Uint8Array(source.buffer, source.byteOffset, source.byteLength)
		: new Uint8Array(source);
}
