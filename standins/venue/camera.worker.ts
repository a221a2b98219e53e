/**
 * A stand-in camera: decodes a short loop over and over at its own pace and hands out each frame when it is due,
 * so that showing it costs what a camera costs. Or the flash of the flash-and-click source.
 */
import { EncodedPacketSink, Input, MP4, UrlSource, type EncodedPacket } from 'mediabunny';
import { Control, counterAfter } from '../../src/engine/shared.ts';

export interface CameraOrder {
	type: 'camera';
	url: string;
	/** A camera that has hung sends one picture over and over; one with its cap on sends black. */
	fault?: 'frozen' | 'black';
}

export interface FlashOrder {
	type: 'flash';
	control: Int32Array<SharedArrayBuffer>;
	fps: number;
	everyS: number;
}

onmessage = ({ data }: MessageEvent<{ order: CameraOrder | FlashOrder; port: MessagePort }>) => {
	const { order, port } = data;
	void (order.type === 'camera' ? loop(order, port) : flash(order, port));
};

async function loop({ url, fault }: CameraOrder, port: MessagePort): Promise<void> {
	const input = new Input({ source: new UrlSource(new URL(url, self.location.origin)), formats: [MP4] });
	const track = (await input.getPrimaryVideoTrack())!;
	const config = (await track.getDecoderConfig())!;
	const coming = new EncodedPacketSink(track).packets();
	const packets: EncodedPacket[] = [];
	/** The packet after those that were read; false at the end of the file. */
	const read = async () => {
		const { value, done } = await coming.next();
		if (value) packets.push(value);
		return !done;
	};
	await read();
	await read();
	const frameS = packets[1]!.timestamp - packets[0]!.timestamp;
	let isRead = false;

	let kept: VideoFrame | null = null;
	const send = (frame: VideoFrame) => port.postMessage(frame, [frame]);
	const decoder = new VideoDecoder({
		output(frame) {
			if (!fault) return send(frame);
			kept ??= fault === 'black' ? pictureOf(planes(16), 0) : frame.clone();
			send(new VideoFrame(kept, { timestamp: frame.timestamp }));
			frame.close();
		},
		error: (error) => reportError(error),
	});
	decoder.configure({ ...config, optimizeForLatency: true });
	const startedAt = performance.now();
	for (let count = 0; ; count++) {
		const waitMs = startedAt + count * frameS * 1000 - performance.now();
		if (waitMs > 0) await new Promise((resolve) => setTimeout(resolve, waitMs));
		// Read as they are wanted the first time: a camera does not keep one waiting for its first picture.
		if (!isRead && count >= packets.length) isRead = !(await read());
		// The loop begins with a key frame, so it can follow its own end without a break.
		const { type, data } = packets[count % packets.length]!;
		decoder.decode(new EncodedVideoChunk({ type, data, timestamp: Math.round(count * frameS * 1e6) }));
	}
}

const WIDTH = 1280;
const HEIGHT = 720;

/** Sends the picture of the frame after the one just due: it is there when that one is made. */
async function flash({ control, fps, everyS }: FlashOrder, port: MessagePort): Promise<void> {
	const dark = planes(40);
	const bright = planes(235);
	let seen = Atomics.load(control, Control.tick);
	for (;;) {
		seen = await counterAfter(control, Control.tick, seen);
		// `seen` frames have fallen due, numbers 0 to seen − 1: the coming one is number `seen`.
		const lit = seen % (everyS * fps) < fps / 10;
		const frame = pictureOf(lit ? bright : dark, Math.round((seen * 1e6) / fps));
		port.postMessage(frame, [frame]);
	}
}

function pictureOf(bytes: Uint8Array<ArrayBuffer>, timestamp: number): VideoFrame {
	return new VideoFrame(bytes, {
		format: 'I420',
		codedWidth: WIDTH,
		codedHeight: HEIGHT,
		timestamp,
		colorSpace: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', fullRange: false },
	});
}

function planes(luma: number): Uint8Array<ArrayBuffer> {
	const bytes = new Uint8Array((WIDTH * HEIGHT * 3) / 2).fill(128);
	return bytes.fill(luma, 0, WIDTH * HEIGHT);
}
