/**
 * The worker of the picture engine: waits for the sound's clock and wires the engine to ports, canvases and encoders.
 * Nothing here hangs on the page's timers or animation frames.
 */
import { expose, transfer } from 'comlink';
import type { FromPicture, PictureQuestions, ToPicture } from '../messages.ts';
import { Control, counterAfter } from '../shared.ts';
import { nextTurn } from './pace.ts';
import { PictureEngine } from './picture-engine.ts';
import { Renditions } from './renditions.ts';
import { ViewEncoder } from './view-encoder.ts';
import { VIEW_NAMES, type View } from '../../core/watch/views.ts';
import { troubleOf, type Trouble } from '../trouble.ts';
import { makeParts } from './worker-parts.ts';

/** Server's clock minus this machine's. */
let clockOffsetMs = 0;
/** Messages that the engine has been told of. */
let handled = 0;
/** Encoders of the views that are watched. */
const watched: { [V in View]?: { url: string; encoder: ViewEncoder } | undefined } = {};

const post = (message: FromPicture) => postMessage(message);
/** Messages may come before there is an engine to take them. */
const started = Promise.withResolvers<PictureEngine>();

onmessage = ({ data }: MessageEvent<ToPicture>) => {
	if (data.type === 'start') {
		expose(questions, data.questions);
		return void start(data).catch((error: unknown) => post({ type: 'failed', trouble: troubleOf(error) }));
	}
	// In the order in which they came.
	void started.promise.then((engine) => {
		handled++;
		handleMessage(engine, data);
	});
};

const questions: PictureQuestions = {
	pick: async (sourceId, x, y) => (await started.promise).pick(sourceId, x, y),
	watch: async (sourceId, frames) => (await started.promise).watch(sourceId, frames),
	sample: async (sourceIds, frames) => {
		const samples = await (await started.promise).sample(sourceIds, frames);
		return transfer(
			samples,
			samples.flatMap((sample) => sample.frames.map((bytes) => bytes.buffer)),
		);
	},
};

async function start({ memory, picture, kernelUrls }: Extract<ToPicture, { type: 'start' }>): Promise<void> {
	const made = await makeParts(kernelUrls, picture);
	// What fell due before there was an engine is nobody's picture.
	let seen = Atomics.load(memory.control, Control.tick);
	const parts = {
		...made,
		wallClock: () => Date.now() + clockOffsetMs,
		onReport: (report: Extract<FromPicture, { type: 'report' }>['report']) => post({ type: 'report', report, handled }),
		onFell: (dueId: string) => post({ type: 'fell', dueId }),
		onRefresh: () => post({ type: 'refreshes' }),
	};
	const engine = new PictureEngine(parts, seen);
	started.resolve(engine);
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
			const { port, ...encoded } = message;
			return engine.startEncoding(new Renditions(encoded, port, failed));
		}
		case 'beWatched':
			return beWatched(engine, message.urls);
		case 'stopEncoding':
			return void engine.stopEncoding();
	}
}

/** Those that are watched already go on as they are. */
function beWatched(engine: PictureEngine, urls: { [V in View]?: string }): void {
	for (const view of VIEW_NAMES) {
		const url = urls[view];
		if (watched[view]?.url === url) continue;
		watched[view]?.encoder.close();
		watched[view] = url === undefined ? undefined : { url, encoder: new ViewEncoder(view, url, engine.fps) };
	}
	engine.beWatched(Object.fromEntries(VIEW_NAMES.map((view) => [view, watched[view]?.encoder])));
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
