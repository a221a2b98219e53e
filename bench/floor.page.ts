/** Runs in Chromium: decodes and encodes at the pace of an evening, and does nothing else. Bundled and called by floor.ts. */
import { ALL_FORMATS, EncodedPacketSink, Input, UrlSource } from 'mediabunny';
import { videoEncoderConfig } from '../src/engine/picture/encode.ts';

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function read(url: string) {
	const input = new Input({ source: new UrlSource(new URL(url, location.origin).href), formats: ALL_FORMATS });
	const track = (await input.getPrimaryVideoTrack())!;
	const config = (await track.getDecoderConfig())!;
	const chunks: EncodedVideoChunk[] = [];
	for await (const packet of new EncodedPacketSink(track).packets()) chunks.push(packet.toEncodedVideoChunk());
	input.dispose();
	return { config, chunks };
}

/**
 * Decodes files over and over, each as fast as it is played.
 * @returns pictures decoded
 */
export async function decodeInTime(urls: readonly string[], seconds: number): Promise<number> {
	const files = await Promise.all(urls.map(read));
	let decoded = 0;
	const play = async ({ config, chunks }: (typeof files)[number]) => {
		const decoder = new VideoDecoder({
			output(frame) {
				decoded++;
				frame.close();
			},
			error: (error) => console.error(error),
		});
		decoder.configure(config);
		const first = chunks[0]!.timestamp;
		const lengthMs = (chunks.at(-1)!.timestamp - first) / 1000 + 1000 / 30;
		const startedAt = performance.now();
		for (let i = 0; ; i++) {
			const chunk = chunks[i % chunks.length]!;
			const dueMs = Math.floor(i / chunks.length) * lengthMs + (chunk.timestamp - first) / 1000;
			if (dueMs > seconds * 1000) break;
			const waitMs = dueMs - (performance.now() - startedAt);
			if (waitMs > 4) await wait(waitMs);
			decoder.decode(chunk);
		}
		await decoder.flush();
		decoder.close();
	};
	await Promise.all(files.map(play));
	return decoded;
}

interface Pictures {
	config: VideoEncoderConfig;
	fps: number;
	frames: VideoFrame[];
}
let pictures: Pictures | null = null;

/**
 * Keeps the pictures of a file for `encodeInTime`, to be encoded as the program is.
 * @returns how many there are
 */
export async function keepPictures(url: string, fps: number, kbps: number): Promise<number> {
	const { config, chunks } = await read(url);
	const frames: VideoFrame[] = [];
	const pending: Promise<void>[] = [];
	const decoder = new VideoDecoder({
		output(frame) {
			// Decoders have few frames to give away: what is kept is copied.
			const { displayWidth: width, displayHeight: height, timestamp } = frame;
			const layout = [
				{ offset: 0, stride: width },
				{ offset: width * height, stride: width / 2 },
				{ offset: (width * height * 5) / 4, stride: width / 2 },
			];
			const bytes = new Uint8Array((width * height * 3) / 2);
			const copied = frame.copyTo(bytes, { layout }).then(() => {
				const kept = { format: 'I420', codedWidth: width, codedHeight: height, timestamp } as const;
				frames.push(new VideoFrame(bytes, kept));
				frame.close();
			});
			pending.push(copied);
		},
		error: (error) => console.error(error),
	});
	decoder.configure(config);
	for (const chunk of chunks) {
		decoder.decode(chunk);
		while (decoder.decodeQueueSize > 4) await wait(5);
	}
	await decoder.flush();
	await Promise.all(pending);
	decoder.close();
	frames.sort((a, b) => a.timestamp - b.timestamp);
	const { displayWidth: width, displayHeight: height } = frames[0]!;
	pictures = { config: videoEncoderConfig({ width, height, fps }, kbps), fps, frames };
	return frames.length;
}

/**
 * Encodes the kept pictures over and over, at their pace, with a key picture every two seconds.
 * @returns pictures encoded
 */
export async function encodeInTime(seconds: number): Promise<number> {
	const { config, fps, frames } = pictures!;
	let encoded = 0;
	const encoder = new VideoEncoder({ output: () => void encoded++, error: (error) => console.error(error) });
	encoder.configure(config);
	const startedAt = performance.now();
	for (let i = 0; i < seconds * fps; i++) {
		const waitMs = (i * 1000) / fps - (performance.now() - startedAt);
		if (waitMs > 4) await wait(waitMs);
		const frame = new VideoFrame(frames[i % frames.length]!, { timestamp: Math.round((i * 1e6) / fps) });
		encoder.encode(frame, { keyFrame: i % (2 * fps) === 0 });
		frame.close();
	}
	await encoder.flush();
	encoder.close();
	return encoded;
}
