/** Takes a colour out of a frame. The slot that shows the frame, and what is done to it there, are left alone. */
import { yuvOf, type Yuv } from '../../core/picture/colour.ts';

/** So many pixels each way make one colour. */
const SIDE = 4;

/**
 * The mean colour around a place of a frame, as the camera sent it, so that picking twice gives the same twice.
 * @param x in parts of the frame's width, 0 to 1
 * @param y in parts of its height
 * @throws when the frame cannot be read
 */
export async function colourAt(frame: VideoFrame, x: number, y: number): Promise<Yuv> {
	// The camera may want its frame back before it has been read.
	const own = frame.clone();
	try {
		const { x: left, y: top, width, height } = own.visibleRect!;
		const start = (at: number, from: number, length: number) =>
			from + 2 * Math.round(Math.min(length - SIDE, Math.max(0, at * length - SIDE / 2)) / 2);
		const rect = { x: start(x, left, width), y: start(y, top, height), width: SIDE, height: SIDE };
		const planar = own.format === 'I420' || own.format === 'NV12';
		const options: VideoFrameCopyToOptions = planar ? { rect } : { rect, format: 'RGBA' };
		const bytes = new Uint8Array(own.allocationSize(options));
		await own.copyTo(bytes, options);
		return planar ? meanOfPlanes(bytes, own.format === 'NV12') : meanOfRgba(bytes);
	} finally {
		own.close();
	}
}

/** Luma first, then chroma at half size: one plane after the other, or the two in turn. */
function meanOfPlanes(bytes: Uint8Array, inTurn: boolean): Yuv {
	const pixels = SIDE * SIDE;
	const chroma = [...bytes.subarray(pixels, pixels + pixels / 2)];
	const isU = (i: number) => (inTurn ? i % 2 === 0 : i < pixels / 4);
	return {
		y: mean([...bytes.subarray(0, pixels)]),
		u: mean(chroma.filter((_, i) => isU(i))),
		v: mean(chroma.filter((_, i) => !isU(i))),
	};
}

function meanOfRgba(bytes: Uint8Array): Yuv {
	const channel = (at: number) => mean([...bytes].filter((_, i) => i % 4 === at));
	const hex = [0, 1, 2].map((at) => channel(at).toString(16).padStart(2, '0'));
	return yuvOf(`#${hex.join('')}`);
}

function mean(values: readonly number[]): number {
	return Math.round(values.reduce((sum, value) => sum + value, 0) / values.length);
}
