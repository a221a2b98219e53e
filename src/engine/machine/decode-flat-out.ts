/** How many pixels of guests' pictures this machine decodes when it does nothing else. */
import { PictureSize } from '../../core/guests/picture-size.ts';
import { LARGEST_PICTURE } from '../../core/show/guests/guest.ts';
import type { Picture } from '../../core/show/state.ts';
import { videoEncoderConfig } from '../picture/encode.ts';
import { frameOf } from '../picture/worker-parts.ts';
import { grainyPicture, LOOP, movingFrames } from './made-frames.ts';

/** The largest picture that is asked of a guest, and what one of that size may take of the line. */
const { kbps: KBPS } = new PictureSize().fit(LARGEST_PICTURE);
const PICTURE: Picture = { width: 1280, height: 720, fps: 30 };
/** Pictures that are decoded over and over, the first of them a key. */
const ROUND = 30;
/** Guests' pictures come by several lines at once; no more decoders than this keep a machine busy. */
const MOST_DECODERS = 8;
/** Pictures within a decoder, so that it never waits for the next one. */
const AHEAD = 3;

/**
 * @param cores as many guests are decoded at a time
 * @param seconds for so long
 * @returns pixels a second
 */
export async function decodeFlatOut(cores: number, seconds: number): Promise<number> {
	const { chunks, config } = await encodeRound();
	const [startedAt, until] = [performance.now(), performance.now() + 1000 * seconds];
	const decoders = Array.from({ length: Math.min(MOST_DECODERS, cores) }, () => decodeUntil(until, chunks, config));
	const decoded = (await Promise.all(decoders)).reduce((sum, each) => sum + each, 0);
	return (decoded * PICTURE.width * PICTURE.height * 1000) / (performance.now() - startedAt);
}

/** A second of moving pictures as a guest sends them. */
async function encodeRound(): Promise<{ chunks: EncodedVideoChunk[]; config: VideoDecoderConfig }> {
	const loop = movingFrames({ ...PICTURE, frames: [grainyPicture(PICTURE)] });
	const chunks: EncodedVideoChunk[] = [];
	let config: VideoDecoderConfig | undefined;
	const failed = Promise.withResolvers<never>();
	const encoder = new VideoEncoder({
		output(chunk, metadata) {
			chunks.push(chunk);
			config ??= metadata?.decoderConfig;
		},
		error: (problem) => failed.reject(problem),
	});
	encoder.configure(videoEncoderConfig(PICTURE, KBPS, 'none'));
	for (let i = 0; i < ROUND; i++) {
		const frame = frameOf(loop[i % LOOP]!, PICTURE, { timestamp: Math.round((i * 1e6) / PICTURE.fps), duration: 0 });
		encoder.encode(frame, { keyFrame: i === 0 });
		frame.close();
	}
	await Promise.race([encoder.flush(), failed.promise]);
	encoder.close();
	return { chunks, config: config! };
}

/** @returns pictures that came out */
async function decodeUntil(until: number, chunks: readonly EncodedVideoChunk[], config: VideoDecoderConfig) {
	let decoded = 0;
	const failed = Promise.withResolvers<never>();
	const decoder = new VideoDecoder({
		output(frame) {
			if (performance.now() <= until) decoded++;
			frame.close();
		},
		error: (problem) => failed.reject(problem),
	});
	decoder.configure(config);
	const run = async () => {
		for (let i = 0; performance.now() < until; i++) {
			while (decoder.decodeQueueSize >= AHEAD)
				await new Promise((resolve) => decoder.addEventListener('dequeue', resolve, { once: true }));
			decoder.decode(chunks[i % chunks.length]!);
		}
		return decoded;
	};
	try {
		return await Promise.race([run(), failed.promise]);
	} finally {
		if (decoder.state !== 'closed') decoder.close();
	}
}
