/**
 * The worker of the picture engine: waits for the sound's clock and wires the engine to ports, canvases and encoders.
 * Nothing here hangs on the page's timers or animation frames.
 */
import { expose } from 'comlink';
import { Compositor } from '../../core/picture/compositor.ts';
import { FrameMemory, type KernelExports, type Planes } from '../../core/picture/planes.ts';
import type { FromPicture, PictureQuestions, ToPicture } from '../messages.ts';
import { Control, counterAfter } from '../shared.ts';
import { DRAWN_KINDS } from '../sources/drawn-kinds.ts';
import { drawLowerThird, drawTicker, loadFonts } from './drawing.ts';
import { nextTurn } from './pace.ts';
import { PictureEngine, type Timing } from './picture-engine.ts';
import { Renditions } from './renditions.ts';
import { troubleOf, type Trouble } from '../trouble.ts';

const COLOUR: VideoColorSpaceInit = { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', fullRange: false };
/** Pages of 64 kB: 1 GB, though most is never touched. Growing would take the memory away from a frame that is just being copied into it. */
const MEMORY_PAGES = 16_384;

/** Server's clock minus this machine's. */
let clockOffsetMs = 0;

const post = (message: FromPicture) => postMessage(message);
/** Messages may come before there is an engine to take them. */
const made = Promise.withResolvers<PictureEngine>();

onmessage = ({ data }: MessageEvent<ToPicture>) => {
	if (data.type === 'start') {
		expose(questions, data.questions);
		return void start(data).catch((error: unknown) => post({ type: 'failed', trouble: troubleOf(error) }));
	}
	// In the order in which they came.
	void made.promise.then((engine) => handleMessage(engine, data));
};

const questions: PictureQuestions = {
	pick: async (sourceId, x, y) => (await made.promise).pick(sourceId, x, y),
	watch: async (sourceId, frames) => (await made.promise).watch(sourceId, frames),
};

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

async function start({ memory, picture, kernelUrls }: Extract<ToPicture, { type: 'start' }>): Promise<void> {
	const wasm = new WebAssembly.Memory({ initial: MEMORY_PAGES, maximum: MEMORY_PAGES });
	const [kernels] = await Promise.all([kernelsFrom(kernelUrls, wasm), loadFonts()]);
	const compositor = new Compositor(kernels, new FrameMemory(wasm), picture);
	// What fell due before there was an engine is nobody's picture.
	let seen = Atomics.load(memory.control, Control.tick);
	const parts = {
		compositor,
		picture,
		drawings: { lowerThird: drawLowerThird, ticker: drawTicker },
		drawnKinds: DRAWN_KINDS,
		frameFrom: (planes: Planes, timing: Timing) =>
			new VideoFrame(compositor.memory.bytes.subarray(planes.y, planes.y + planes.bytes), {
				format: 'I420',
				codedWidth: planes.width,
				codedHeight: planes.height,
				colorSpace: COLOUR,
				...timing,
			}),
		frameAt: (frame: VideoFrame, timing: Timing) => new VideoFrame(frame, timing),
		now: () => performance.now(),
		wallClock: () => Date.now() + clockOffsetMs,
		onReport: (report: Extract<FromPicture, { type: 'report' }>['report']) => post({ type: 'report', report }),
		onFell: (dueId: string) => post({ type: 'fell', dueId }),
		onProblem: (problem: unknown) => reportError(problem),
	};
	const engine = new PictureEngine(parts, seen);
	made.resolve(engine);
	post({ type: 'started' });
	for (;;) {
		seen = await counterAfter(memory.control, Control.tick, seen);
		do await nextTurn();
		while (await engine.advance(Atomics.load(memory.control, Control.tick)));
	}
}

function handleMessage(engine: PictureEngine, message: Exclude<ToPicture, { type: 'start' }>): void {
	switch (message.type) {
		case 'plan':
			return engine.follow(message.plan, message.heard);
		case 'arm':
			return engine.arm(message.armed, message.heard);
		case 'clock':
			clockOffsetMs = message.offsetMs;
			return;
		case 'expect':
			return engine.expect(message.sourceIds, message.withinMs);
		case 'stream':
			return void consumeFrames(engine, message.sourceId, message.frames);
		case 'port': {
			const { sourceId, port } = message;
			const input = engine.addLive(sourceId);
			port.onmessage = ({ data: frame }: MessageEvent<VideoFrame>) => {
				if (engine.uses(sourceId, input)) engine.put(input, frame);
				else frame.close();
			};
			return;
		}
		case 'clip':
			return engine.addClip(message.sourceId, message.port, message.memory);
		case 'still':
			return addStill(engine, message.sourceId, message.image);
		case 'animation':
			return void addAnimation(engine, message);
		case 'removeSource':
			return engine.remove(message.sourceId);
		case 'monitor':
			return engine.monitors.add(message.id, message.canvas, message.subject);
		case 'monitorSize':
			return engine.monitors.resize(message.id, message.size);
		case 'monitorSeen':
			return engine.monitors.see(message.id, message.seen);
		case 'monitorSubject':
			return engine.monitors.point(message.id, message.subject);
		case 'removeMonitor':
			return engine.monitors.remove(message.id);
		case 'encode': {
			const failed = (trouble: Trouble) => post({ type: 'failed', trouble });
			const { renditions, tracks, port, fps } = message;
			return engine.startEncoding(new Renditions(renditions, tracks, fps, port, failed));
		}
		case 'stopEncoding':
			return void engine.stopEncoding();
	}
}

function addStill(engine: PictureEngine, sourceId: string, image: ImageBitmap): void {
	// Even sides, as the planes want them.
	const [width, height] = [Math.max(2, image.width & ~1), Math.max(2, image.height & ~1)];
	const context = new OffscreenCanvas(width, height).getContext('2d')!;
	context.drawImage(image, 0, 0);
	image.close();
	const rgba = context.getImageData(0, 0, width, height).data;
	engine.addStill(sourceId, { width, height, rgba, at: { x: 0, y: 0, width, height } });
}

async function addAnimation(
	engine: PictureEngine,
	{ sourceId, name, bytes }: Extract<ToPicture, { type: 'animation' }>,
): Promise<void> {
	try {
		post({ type: 'animationRead', sourceId, size: await engine.addAnimation(sourceId, name, bytes), problem: '' });
	} catch (error) {
		post({ type: 'animationRead', sourceId, size: { width: 0, height: 0 }, problem: (error as Error).message });
	}
}

/** Takes a camera's frames as they come; only the newest is kept. */
async function consumeFrames(
	engine: PictureEngine,
	sourceId: string,
	frames: ReadableStream<VideoFrame>,
): Promise<void> {
	const input = engine.addLive(sourceId);
	const reader = frames.getReader();
	for (;;) {
		const { value: frame, done } = await reader.read();
		if (done) return;
		if (!engine.uses(sourceId, input)) {
			frame.close();
			return void reader.cancel();
		}
		engine.put(input, frame);
	}
}
