/** Whether this machine encodes video in hardware, and whether what comes out is what went in. */
import { goodKbps } from '../../core/delivery/rates.ts';
import type { Hardware } from '../../core/machine/machine.ts';
import type { Picture } from '../../core/show/state.ts';
import { videoEncoderConfig } from '../picture/encode.ts';
import { frameOf } from '../picture/worker-parts.ts';
import { grainyPicture, LOOP, movingFrames } from './made-frames.ts';

const FRAMES = 30;
/** Steps of brightness, of 256, that a picture may be off by on average; encoders at a good rate stay far below. */
const MOST_APART = 8;
/** Brightness is compared at so many places. */
const PLACES = 1000;
/** Something that says yes and then does nothing is given up after this. */
const PATIENCE_MS = 5000;

/** @param picture the largest that is to be encoded */
export async function findHardware(picture: Picture): Promise<Hardware> {
	const config = videoEncoderConfig(picture, goodKbps(picture), 'works');
	const { supported } = await VideoEncoder.isConfigSupported(config).catch(() => ({ supported: false }));
	if (!supported) return 'none';
	const late = new Promise<'spoils'>((resolve) => setTimeout(() => resolve('spoils'), PATIENCE_MS));
	return Promise.race([verify(picture, config), late]).catch(() => 'spoils');
}

/** Encodes a second of moving pictures, decodes them, and compares; too slow for its pace is as bad as wrong. */
async function verify(picture: Picture, config: VideoEncoderConfig): Promise<Hardware> {
	const { width, height, fps } = picture;
	const loop = movingFrames({ width, height, frames: [grainyPicture(picture)] });
	const failed = Promise.withResolvers<never>();
	const [error, decoded] = [(problem: Error) => failed.reject(problem), [] as VideoFrame[]];
	const decoder = new VideoDecoder({ output: (frame) => decoded.push(frame), error });
	const encoder = new VideoEncoder({
		output(chunk, metadata) {
			if (metadata?.decoderConfig) decoder.configure(metadata.decoderConfig);
			// Decoders have few frames to give away: the last one is enough, and shows all mistakes before it.
			decoder.decode(chunk);
			for (const frame of decoded.splice(0, decoded.length - 1)) frame.close();
		},
		error,
	});
	encoder.configure(config);
	const run = async (): Promise<Hardware> => {
		const startedAt = performance.now();
		for (let i = 0; i < FRAMES; i++) {
			const timing = { timestamp: Math.round((i * 1e6) / fps), duration: Math.round(1e6 / fps) };
			const frame = frameOf(loop[i % LOOP]!, picture, timing);
			encoder.encode(frame, { keyFrame: i === 0 });
			frame.close();
		}
		await encoder.flush();
		const isFast = performance.now() - startedAt < (FRAMES * 1000) / fps;
		await decoder.flush();
		const last = decoded.at(-1);
		if (!last || !isFast) return 'spoils';
		const bytes = new Uint8Array(last.allocationSize());
		const [luma] = await last.copyTo(bytes);
		const apart = distance(loop[(FRAMES - 1) % LOOP]!, bytes, luma!, picture);
		return apart <= MOST_APART ? 'works' : 'spoils';
	};
	try {
		return await Promise.race([run(), failed.promise]);
	} finally {
		for (const frame of decoded) frame.close();
		for (const each of [encoder, decoder]) if (each.state !== 'closed') each.close();
	}
}

/** Mean difference of brightness between a packed picture and one as a decoder laid it out, steps of 256. */
export function distance(
	packed: Uint8Array,
	other: Uint8Array,
	{ offset, stride }: PlaneLayout,
	{ width, height }: { width: number; height: number },
): number {
	let sum = 0;
	for (let i = 0; i < PLACES; i++) {
		const [x, y] = [(i * 97) % width, Math.floor((i * height) / PLACES)];
		sum += Math.abs(packed[y * width + x]! - other[offset + y * stride + x]!);
	}
	return sum / PLACES;
}
