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
 * Reads the pictures that the desk's encoder was given, to be encoded as they were.
 * @returns how many there are
 */
export async function readPictures(
	file: string,
	width: number,
	height: number,
	fps: number,
	kbps: number,
): Promise<number> {
	const root = await navigator.storage.getDirectory();
	const all = await (await root.getFileHandle(file)).getFile();
	const length = (width * height * 3) / 2;
	const frames: VideoFrame[] = [];
	for (let at = 0; at + length <= all.size; at += length) {
		const bytes = await all.slice(at, at + length).arrayBuffer();
		frames.push(new VideoFrame(bytes, { format: 'I420', codedWidth: width, codedHeight: height, timestamp: 0 }));
	}
	pictures = { config: videoEncoderConfig({ width, height, fps }, kbps), fps, frames };
	return frames.length;
}

/**
 * Encodes the pictures over and over, forwards and backwards, at their pace, with a key picture every two seconds.
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
		const way = i % (2 * frames.length - 2);
		const next = frames[way < frames.length ? way : 2 * frames.length - 2 - way]!;
		const frame = new VideoFrame(next, { timestamp: Math.round((i * 1e6) / fps) });
		encoder.encode(frame, { keyFrame: i % (2 * fps) === 0 });
		frame.close();
	}
	await encoder.flush();
	encoder.close();
	return encoded;
}
