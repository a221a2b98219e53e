/** All that a broadcast is encoded in: one encoder for each rendition, and the holding card's loop for each. */
import { encodeUplink, type Downlink } from '../../core/delivery/uplink.ts';
import type { PictureForm, Rendition } from '../../core/delivery/rates.ts';
import { KEY_EVERY_S, videoEncoderConfig, type Hardware } from './encode.ts';
import type { ToUplinkPort } from '../messages.ts';
import { PictureEncoder } from './picture-encoder.ts';
import { TrackEncoder, type PictureTrack } from './track-encoder.ts';
import type { Trouble } from '../trouble.ts';

/** What a broadcast is encoded in. */
export interface Encoded {
	renditions: readonly Rendition[];
	/** Sources that are recorded apart. */
	tracks: readonly PictureTrack[];
	/** Pace of the picture that renditions are made from. */
	fps: number;
	hardware: Hardware;
}

export class Renditions {
	readonly encoders: readonly PictureEncoder[];
	/** What is recorded apart. */
	readonly tracks: readonly TrackEncoder[];
	#port: MessagePort;
	#forms: readonly Rendition[];
	#hardware: Hardware;
	/** What the holding card said when its loops were begun. */
	#heldStamp = '';
	#loops: HoldingLoop[] = [];

	constructor({ renditions, tracks, fps, hardware }: Encoded, port: MessagePort, failed: (trouble: Trouble) => void) {
		this.#forms = renditions;
		this.#hardware = hardware;
		this.#port = port;
		const post = (message: ToUplinkPort & { packet: Uint8Array<ArrayBuffer> }) =>
			port.postMessage(message, [message.packet.buffer]);
		this.encoders = renditions.map((form, i) => new PictureEncoder(form, i, { fps, hardware }, post, failed));
		this.tracks = tracks.map((track) => new TrackEncoder(track, { fps, hardware }, post));
		port.onmessage = ({ data }: MessageEvent<Downlink>) => {
			if ('needKey' in data) for (const encoder of [...this.encoders, ...this.tracks]) encoder.requestKeyFrame();
			else this.encoders[data.rendition]?.setRate(data.kbps);
		};
	}

	/** Frames of the best rendition that came out. */
	get encoded(): number {
		return this.encoders[0]!.encoded;
	}

	/**
	 * Encodes a little of the holding card's loops; all of them are there after a few seconds, and made anew when the
	 * card says something else.
	 * @param stamp says all that is on the card
	 * @param frameOf makes the card's picture in a form
	 */
	hold(
		stamp: string,
		frameOf: (form: PictureForm, timing: { timestamp: number; duration: number }) => VideoFrame,
	): void {
		if (stamp !== this.#heldStamp) {
			this.#heldStamp = stamp;
			for (const loop of this.#loops) loop.close();
			this.#loops = this.#forms.map((form, i) => new HoldingLoop(form, i, this.#hardware, this.#port));
		}
		const loop = this.#loops.find(({ done }) => !done);
		loop?.encode((timing) => frameOf(loop.form, timing));
	}

	/** Lets out what is inside, then tells the uplink that this was all. */
	async end(): Promise<void> {
		for (const loop of this.#loops) loop.close();
		await Promise.all([...this.encoders, ...this.tracks].map((encoder) => encoder.end()));
		this.#port.postMessage({ done: true } satisfies ToUplinkPort);
	}
}

/**
 * The loop of one rendition: a key frame and the pictures after it until the next would be due. Its encoder has the
 * program's settings, so that what decodes the one decodes the other.
 */
class HoldingLoop {
	readonly form: Rendition;
	#encoder: VideoEncoder;
	#count = 0;
	#length: number;

	constructor(form: Rendition, rendition: number, hardware: Hardware, port: MessagePort) {
		this.form = form;
		this.#length = KEY_EVERY_S * form.fps;
		this.#encoder = new VideoEncoder({
			output(chunk) {
				const data = new Uint8Array(chunk.byteLength);
				chunk.copyTo(data);
				const packet = encodeUplink({ kind: 'hold', rendition, key: chunk.type === 'key', data });
				port.postMessage({ packet, kind: 'hold', rendition, first: chunk.type === 'key' } satisfies ToUplinkPort, [
					packet.buffer,
				]);
			},
			// The program goes on without a card to hold it.
			error: () => this.close(),
		});
		this.#encoder.configure(videoEncoderConfig(form, form.kbps, hardware));
	}

	get done(): boolean {
		return this.#count >= this.#length || this.#encoder.state === 'closed';
	}

	encode(frameOf: (timing: { timestamp: number; duration: number }) => VideoFrame): void {
		if (this.done || this.#encoder.encodeQueueSize > 1) return;
		const duration = 1e6 / this.form.fps;
		const frame = frameOf({ timestamp: Math.round(this.#count * duration), duration: Math.round(duration) });
		this.#encoder.encode(frame, { keyFrame: this.#count === 0 });
		frame.close();
		this.#count++;
		if (this.#count === this.#length)
			void this.#encoder.flush().then(
				() => this.close(),
				() => {},
			);
	}

	close(): void {
		if (this.#encoder.state !== 'closed') this.#encoder.close();
	}
}
