/** Pictures that move by themselves: animated PNG and WebP, and WebM with its transparency. Read frame by frame. */
import { BufferSource, EncodedPacketSink, Input, WEBM } from 'mediabunny';
import type { Size } from '../../core/picture/geometry.ts';
import { movingProblem, readStillHeader } from '../../core/picture/still-header.ts';

/** How long a frame stands that says nothing of it. */
const USUAL_US = 100_000;

/** One frame of it: pixels with straight alpha, or the planes of a film and of its transparency. */
export type AnimationFrame = Size & { endsMs: number } & (
		{ rgba: Uint8ClampedArray } | { film: VideoFrame; alpha: VideoFrame | null }
	);

/** @throws with a sentence when it cannot be read or has more frames than can be held */
export async function* readAnimation(bytes: ArrayBuffer, name: string): AsyncGenerator<AnimationFrame> {
	const header = readStillHeader(new Uint8Array(bytes));
	try {
		if (header?.type === 'video/webm') yield* readFilm(bytes, name);
		else yield* readImages(bytes, header?.type ?? 'image/png', name);
	} catch (error) {
		if (error instanceof UnusableAnimation) throw error;
		throw new Error(`${name} cannot be played (${(error as Error).message}).`, { cause: error });
	}
}

async function* readImages(data: ArrayBuffer, type: string, name: string): AsyncGenerator<AnimationFrame> {
	const decoder = new ImageDecoder({ data, type });
	// The tracks are known first, how many frames they have only at the end of the file.
	await decoder.tracks.ready;
	await decoder.completed;
	const { frameCount } = decoder.tracks.selectedTrack!;
	let endsMs = 0;
	for (let frameIndex = 0; frameIndex < frameCount; frameIndex++) {
		const { image } = await decoder.decode({ frameIndex });
		// Even sides, as the planes want them.
		const [width, height] = [Math.max(2, image.displayWidth & ~1), Math.max(2, image.displayHeight & ~1)];
		if (frameIndex === 0) refuse(movingProblem(name, { width, height }, frameCount));
		endsMs += (image.duration || USUAL_US) / 1000;
		const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
		context.drawImage(image, 0, 0);
		image.close();
		yield { width, height, endsMs, rgba: context.getImageData(0, 0, width, height).data };
	}
	decoder.close();
}

/** Colour and transparency are two films in one (WebM, BlockAdditional 1); each has a decoder of its own. */
async function* readFilm(data: ArrayBuffer, name: string): AsyncGenerator<AnimationFrame> {
	const input = new Input({ source: new BufferSource(data), formats: [WEBM] });
	const track = await input.getPrimaryVideoTrack();
	const config = await track?.getDecoderConfig();
	if (!track || !config) throw new Error('there is no picture in it');
	const { packetCount } = await track.computePacketStats();
	const [width, height] = [track.codedWidth & ~1, track.codedHeight & ~1];
	refuse(movingProblem(name, { width, height }, packetCount));
	const [film, alpha] = [new FrameQueue(config), new FrameQueue(config)];
	for await (const packet of new EncodedPacketSink(track).packets()) {
		film.decode(packet.toEncodedVideoChunk());
		const hasAlpha = packet.sideData.alpha !== undefined;
		if (hasAlpha) alpha.decode(packet.alphaToEncodedVideoChunk());
		const endsMs = (packet.timestamp + packet.duration) * 1000;
		yield { width, height, endsMs, film: await film.next(), alpha: hasAlpha ? await alpha.next() : null };
	}
	film.close();
	alpha.close();
}

/** Gives back what a frame holds of the decoder. */
export function closeFrame(frame: AnimationFrame): void {
	if ('film' in frame) {
		frame.film.close();
		frame.alpha?.close();
	}
}

/** Its sentence says all there is to say. */
class UnusableAnimation extends Error {}

function refuse(problem: string | null): void {
	if (problem) throw new UnusableAnimation(problem);
}

/** A decoder whose frames are asked for one by one. */
class FrameQueue {
	#frames: VideoFrame[] = [];
	#waiting: PromiseWithResolvers<VideoFrame> | null = null;
	#failed: Error | null = null;
	#decoder = new VideoDecoder({
		output: (frame) => {
			if (this.#waiting) this.#waiting.resolve(frame);
			else this.#frames.push(frame);
			this.#waiting = null;
		},
		error: (error) => {
			this.#failed = error;
			this.#waiting?.reject(error);
		},
	});

	constructor(config: VideoDecoderConfig) {
		this.#decoder.configure({ ...config, optimizeForLatency: true });
	}

	decode(chunk: EncodedVideoChunk): void {
		if (this.#failed) throw this.#failed;
		this.#decoder.decode(chunk);
	}

	async next(): Promise<VideoFrame> {
		const ready = this.#frames.shift();
		if (ready) return ready;
		if (this.#failed) throw this.#failed;
		this.#waiting = Promise.withResolvers<VideoFrame>();
		return this.#waiting.promise;
	}

	close(): void {
		if (this.#decoder.state !== 'closed') this.#decoder.close();
	}
}
