/** What a worker that makes pictures gives its engine: kernels, their memory, and the browser's frames. */
import { Compositor } from '../../core/picture/compositor.ts';
import { FrameMemory, type KernelExports, type Planes } from '../../core/picture/planes.ts';
import type { Picture } from '../../core/show/state.ts';
import { DRAWN_KINDS } from '../sources/drawn-kinds.ts';
import { drawLowerThird, drawTicker, drawWords, loadFonts } from './drawing.ts';
import type { PictureEngineParts, Timing } from './picture-engine.ts';

const COLOUR: VideoColorSpaceInit = { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', fullRange: false };
/** Pages of 64 kB: 1 GB, though most is never touched. Growing would take the memory away from a frame that is just being copied into it. */
const MEMORY_PAGES = 16_384;

type MadeHere =
	'compositor' | 'picture' | 'drawings' | 'drawnKinds' | 'frameFrom' | 'frameAt' | 'now' | 'wallClock' | 'onProblem';

/** @param kernelUrls builds of the kernels, the best first */
export async function makeParts(kernelUrls: string[], picture: Picture): Promise<Pick<PictureEngineParts, MadeHere>> {
	const wasm = new WebAssembly.Memory({ initial: MEMORY_PAGES, maximum: MEMORY_PAGES });
	const [kernels] = await Promise.all([kernelsFrom(kernelUrls, wasm), loadFonts()]);
	const compositor = new Compositor(kernels, new FrameMemory(wasm), picture);
	return {
		compositor,
		picture,
		drawings: { lowerThird: drawLowerThird, ticker: drawTicker, words: drawWords },
		drawnKinds: DRAWN_KINDS,
		frameFrom: (planes: Planes, timing: Timing) =>
			frameOf(compositor.memory.bytes.subarray(planes.y, planes.y + planes.bytes), planes, timing),
		frameAt: (frame: VideoFrame, timing: Timing) => new VideoFrame(frame, timing),
		now: () => performance.now(),
		wallClock: () => Date.now(),
		onProblem: (problem: unknown) => reportError(problem),
	};
}

/** A frame of three planes that lie one after another, as planes in the kernels' memory do. */
export function frameOf(
	bytes: Uint8Array<ArrayBuffer>,
	{ width, height }: Pick<Planes, 'width' | 'height'>,
	timing: Timing,
): VideoFrame {
	return new VideoFrame(bytes, {
		format: 'I420',
		codedWidth: width,
		codedHeight: height,
		colorSpace: COLOUR,
		...timing,
	});
}

/** The first of these builds that this browser can run. */
async function kernelsFrom([url, ...others]: string[], memory: WebAssembly.Memory): Promise<KernelExports> {
	try {
		const { instance } = await WebAssembly.instantiateStreaming(fetch(url!), { env: { memory } });
		return instance.exports as unknown as KernelExports;
	} catch (error) {
		if (others.length === 0) throw error;
		return kernelsFrom(others, memory);
	}
}
