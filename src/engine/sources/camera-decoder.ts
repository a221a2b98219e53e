/** Decodes what a camera of the network sends, and lets each picture and each piece of sound go when it is due. */
import { Arrival } from '../../core/ingest/arrival.ts';
import { aacForm, avcCodec } from '../../core/ingest/codecs.ts';
import type { FeedPacket } from '../../core/ingest/feed.ts';
import { Resampler } from '../../core/sound/resampler.ts';
import { SAMPLE_RATE } from '../shared.ts';
import type { SoundPiece } from './network-messages.ts';

/** Pictures that wait for their time; a decoder has only so many to give. */
const MOST_WAITING_PICTURES = 10;
const MOST_WAITING_PIECES = 60;
/** The sound line keeps so much before it plays; what is handed to it goes so much earlier. */
const SOUND_CUSHION_MS = 20;
/** A decoder of sound that has failed is made anew no sooner than so long after it was made. */
const SOUND_AGAIN_MS = 1000;
/** A decoder that is behind by so many pictures is given no more before the next key frame. */
const MOST_QUEUED = 30;

interface Waiting<T> {
	what: T;
	dueAt: number;
}

export interface CameraDecoderParts {
	onFrame(frame: VideoFrame): void;
	onSound(piece: SoundPiece): void;
	/** This browser cannot decode its pictures: none has come out of the decoder. */
	onUndecodable(): void;
	/** Milliseconds of a clock without steps. */
	now(): number;
}

export class CameraDecoder {
	readonly #parts: CameraDecoderParts;
	readonly #arrival = new Arrival();
	#video: VideoDecoder | null = null;
	#audio: AudioDecoder | null = null;
	/** When the sound's decoder was made last. */
	#audioMadeAt = -Infinity;
	#hasPicture = false;
	#videoDescription: Uint8Array | null = null;
	#needsKey = true;
	#isReordered = false;
	/** Time stamp of the picture that was let go last: one that is out of order is left out. */
	#lastUs = -Infinity;
	#pictures: Waiting<VideoFrame>[] = [];
	#pieces: Waiting<SoundPiece>[] = [];
	#resamplers: { rate: number; sides: [Resampler, Resampler] } | null = null;
	/** Sample at which what comes out of the resamplers next begins. */
	#resampledAt: number | null = null;
	#timer: ReturnType<typeof setTimeout> | undefined;

	constructor(parts: CameraDecoderParts) {
		this.#parts = parts;
	}

	/** Takes a packet. What cannot be decoded is left out until the next key frame. */
	take(packet: Exclude<FeedPacket, { kind: 'begun' | 'gone' }>): void {
		switch (packet.kind) {
			case 'videoConfig':
				this.#videoDescription = packet.description.slice();
				return this.#openVideo();
			case 'audioConfig':
				return this.#openAudio(packet.description.slice());
			case 'video':
				return this.#decodeVideo(packet);
			case 'audio':
				if (this.#audio?.state !== 'configured') return;
				return this.#audio.decode(
					new EncodedAudioChunk({ type: 'key', timestamp: packet.timeUs, data: packet.data.slice() }),
				);
		}
	}

	#openVideo(): void {
		this.#needsKey = true;
		const description = this.#videoDescription!;
		if (this.#video?.state !== 'configured') this.#video = this.#makeVideo();
		this.#video.configure({
			codec: avcCodec(description),
			description,
			// A decoder that hurries shows pictures that are reordered in the wrong order.
			optimizeForLatency: !this.#isReordered,
		});
	}

	#makeVideo(): VideoDecoder {
		const decoder: VideoDecoder = new VideoDecoder({
			output: (frame) => (this.#video === decoder ? this.#receiveFrame(frame) : frame.close()),
			// The next configuration, or key frame, begins anew.
			error: () => {
				if (this.#video !== decoder) return;
				this.#video = null;
				if (!this.#hasPicture) this.#parts.onUndecodable();
			},
		});
		return decoder;
	}

	#decodeVideo({ key, reordered, timeUs, data }: Extract<FeedPacket, { kind: 'video' }>): void {
		if (!this.#videoDescription || (this.#needsKey && !key)) return;
		if (key && (reordered !== this.#isReordered || this.#video === null)) {
			this.#isReordered = reordered;
			this.#openVideo();
		} else if (reordered && !this.#isReordered) this.#isReordered = true;
		if (!this.#video || this.#video.state !== 'configured') return;
		if (!key && this.#video.decodeQueueSize > MOST_QUEUED) {
			this.#needsKey = true;
			return;
		}
		this.#needsKey = false;
		this.#video.decode(new EncodedVideoChunk({ type: key ? 'key' : 'delta', timestamp: timeUs, data: data.slice() }));
	}

	#receiveFrame(frame: VideoFrame): void {
		this.#hasPicture = true;
		const now = this.#parts.now();
		const dueAt = this.#arrival.dueAt('video', frame.timestamp / 1000, now);
		this.#pictures.push({ what: frame, dueAt });
		if (this.#pictures.length > MOST_WAITING_PICTURES) this.#letGo(this.#pictures.shift()!.what);
		this.#run();
	}

	#letGo(frame: VideoFrame): void {
		if (frame.timestamp <= this.#lastUs) return frame.close();
		this.#lastUs = frame.timestamp;
		this.#parts.onFrame(plainFrame(frame));
	}

	#openAudio(description: Uint8Array): void {
		const { codec, sampleRate, channels } = aacForm(description);
		if (this.#audio && this.#audio.state !== 'closed') this.#audio.close();
		this.#resamplers = null;
		this.#resampledAt = null;
		const decoder: AudioDecoder = new AudioDecoder({
			output: (sound) => (this.#audio === decoder ? this.#receiveSound(sound) : sound.close()),
			// One damaged piece is no reason to be silent; what cannot be decoded at all is not tried for each piece.
			error: () => {
				if (this.#audio === decoder && this.#parts.now() - this.#audioMadeAt > SOUND_AGAIN_MS)
					this.#openAudio(description);
			},
		});
		this.#audio = decoder;
		this.#audioMadeAt = this.#parts.now();
		decoder.configure({ codec, sampleRate, numberOfChannels: channels, description });
	}

	#receiveSound(sound: AudioData): void {
		const { timestamp, sampleRate, numberOfFrames, numberOfChannels } = sound;
		const side = (planeIndex: number) => {
			const samples = new Float32Array(numberOfFrames);
			sound.copyTo(samples, { planeIndex, format: 'f32-planar' });
			return samples;
		};
		const left = side(0);
		const right = numberOfChannels > 1 ? side(1) : left;
		sound.close();
		const dueAt = this.#arrival.dueAt('audio', timestamp / 1000, this.#parts.now()) - SOUND_CUSHION_MS;
		this.#pieces.push({ what: this.#resampled(timestamp, sampleRate, left, right), dueAt });
		if (this.#pieces.length > MOST_WAITING_PIECES) this.#parts.onSound(this.#pieces.shift()!.what);
		this.#run();
	}

	#resampled(timeUs: number, rate: number, left: Float32Array, right: Float32Array): SoundPiece {
		const at = Math.round((timeUs * SAMPLE_RATE) / 1e6);
		if (rate === SAMPLE_RATE) return { at, left, right };
		if (this.#resamplers?.rate !== rate) {
			const sides: [Resampler, Resampler] = [new Resampler(rate, SAMPLE_RATE), new Resampler(rate, SAMPLE_RATE)];
			this.#resamplers = { rate, sides };
			this.#resampledAt = null;
		}
		const { sides } = this.#resamplers;
		const made = { left: sides[0].push(left), right: sides[1].push(right) };
		// A resampler keeps a little back: what comes out goes on from what came out before, but over a gap.
		const isGap = this.#resampledAt === null || Math.abs(this.#resampledAt - at) > SAMPLE_RATE / 10;
		const from = isGap ? at : this.#resampledAt!;
		this.#resampledAt = from + made.left.length;
		return { at: from, ...made };
	}

	/** Lets go what is due, and comes again for what is not. */
	#run(): void {
		clearTimeout(this.#timer);
		const now = this.#parts.now();
		while (this.#pictures[0] && this.#pictures[0].dueAt <= now) this.#letGo(this.#pictures.shift()!.what);
		while (this.#pieces[0] && this.#pieces[0].dueAt <= now) this.#parts.onSound(this.#pieces.shift()!.what);
		const next = Math.min(this.#pictures[0]?.dueAt ?? Infinity, this.#pieces[0]?.dueAt ?? Infinity);
		if (next < Infinity) this.#timer = setTimeout(() => this.#run(), Math.max(0, next - now));
	}

	close(): void {
		clearTimeout(this.#timer);
		for (const { what } of this.#pictures.splice(0)) what.close();
		this.#pieces = [];
		for (const decoder of [this.#video, this.#audio]) if (decoder && decoder.state !== 'closed') decoder.close();
		this.#video = this.#audio = null;
	}
}

/** A picture in square pixels and the program's colours; what is not is redrawn by the browser. */
function plainFrame(frame: VideoFrame): VideoFrame {
	const { format, displayWidth, displayHeight, visibleRect, colorSpace, timestamp } = frame;
	const isPlain = format === 'I420' || format === 'NV12';
	const isSquare = displayWidth === visibleRect?.width && displayHeight === visibleRect.height;
	const isOurColour = !colorSpace.fullRange && (colorSpace.matrix === 'bt709' || !colorSpace.matrix);
	if (isPlain && isSquare && isOurColour) return frame;
	const canvas = new OffscreenCanvas(Math.max(2, displayWidth & ~1), Math.max(2, displayHeight & ~1));
	canvas.getContext('2d')!.drawImage(frame, 0, 0, canvas.width, canvas.height);
	frame.close();
	return new VideoFrame(canvas, { timestamp, alpha: 'discard' });
}
