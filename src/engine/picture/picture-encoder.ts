/** The video encoder of one rendition. */
import { encodeUplink } from '../../core/delivery/uplink.ts';
import type { Rendition } from '../../core/delivery/rates.ts';
import type { Trouble } from '../trouble.ts';
import { KEY_EVERY_S, videoEncoderConfig, type Hardware } from './encode.ts';
import type { ToUplinkPort } from '../messages.ts';

/** More frames than this within the encoder mean that it cannot follow; then a frame is left out. */
const MAX_IN_ENCODER = 12;

export class PictureEncoder {
	readonly form: Rendition;
	readonly #hardware: Hardware;
	#rendition: number;
	/** Frames of the program for each of this rendition's. */
	#every: number;
	#keyEvery: number;
	#encoder: VideoEncoder;
	#post: (message: ToUplinkPort & { packet: Uint8Array<ArrayBuffer> }) => void;
	#keyWanted = true;
	#lastKeyFrame = 0;
	/** Frames that came out. */
	encoded = 0;

	constructor(
		form: Rendition,
		rendition: number,
		{ fps, hardware }: { fps: number; hardware: Hardware },
		post: (message: ToUplinkPort & { packet: Uint8Array<ArrayBuffer> }) => void,
		failed: (trouble: Trouble) => void,
	) {
		this.form = form;
		this.#rendition = rendition;
		this.#hardware = hardware;
		this.#every = Math.max(1, Math.round(fps / form.fps));
		this.#keyEvery = KEY_EVERY_S * fps;
		this.#post = post;
		this.#encoder = new VideoEncoder({
			output: (chunk, metadata) => this.#send(chunk, metadata),
			error: ({ message: problem }) => failed({ code: 'pictureEncoding', about: { problem } }),
		});
		this.#encoder.configure(videoEncoderConfig(form, form.kbps, hardware));
	}

	/** True when this rendition takes a picture with that number on the engine's clock. */
	takes(number: number): boolean {
		return number % this.#every === 0;
	}

	/** The next picture is to stand alone. */
	requestKeyFrame(): void {
		this.#keyWanted = true;
	}

	/** Waits until no more than so many frames are within the encoder. */
	async follows(most: number): Promise<void> {
		while (this.#encoder.state === 'configured' && this.#encoder.encodeQueueSize > most)
			await new Promise((resolve) => this.#encoder.addEventListener('dequeue', resolve, { once: true }));
	}

	/** Takes more or less of the line from the next picture on, without a break. */
	setRate(kbps: number): void {
		if (this.#encoder.state === 'configured')
			this.#encoder.configure(videoEncoderConfig(this.form, kbps, this.#hardware));
	}

	/**
	 * Encodes a frame and closes it. False when it had to be left out.
	 * @param number of the frame on the engine's clock: key frames keep their beat whatever was left out
	 */
	encode(frame: VideoFrame, number: number): boolean {
		const beat = number - this.#lastKeyFrame >= this.#keyEvery;
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
		const rendition = this.#rendition;
		const description = metadata?.decoderConfig?.description;
		if (description) this.#sendConfig(toBytes(description));
		const data = new Uint8Array(chunk.byteLength);
		chunk.copyTo(data);
		const key = chunk.type === 'key';
		const packet = encodeUplink({ kind: 'video', rendition, timeUs: chunk.timestamp, key, data });
		this.encoded++;
		this.#post({ packet, kind: key ? 'key' : 'delta', rendition });
	}

	#sendConfig(description: Uint8Array): void {
		const rendition = this.#rendition;
		const { width, height, fps, kbps } = this.form;
		const packet = encodeUplink({ kind: 'videoConfig', rendition, width, height, fps, bitrateKbps: kbps, description });
		this.#post({ packet, kind: 'config', rendition });
	}

	/** Lets out what is inside. */
	async end(): Promise<void> {
		if (this.#encoder.state === 'configured') await this.#encoder.flush().catch(() => {});
		if (this.#encoder.state !== 'closed') this.#encoder.close();
	}
}

function toBytes(source: AllowSharedBufferSource): Uint8Array {
	return ArrayBuffer.isView(source)
		? new Uint8Array(source.buffer, source.byteOffset, source.byteLength)
		: new Uint8Array(source);
}
