/**
 * The picture engine. Waits for the sound's clock, makes the frame that has fallen due, encodes it while on air,
 * and keeps the desk's monitors fresh. Nothing here hangs on the page's timers or animation frames.
 */
import { adjustTables, BLACK } from '../core/picture/colour.ts';
import { Compositor } from '../core/picture/compositor.ts';
import {
	layerStepsOn,
	picturesOf,
	sceneSteps,
	stepsAbove,
	untouchedPicture,
	type DrawList,
	type DrawStep,
	type GraphicOf,
	type Stage,
} from '../core/picture/draw-list.ts';
import { PictureHealth } from '../core/picture/health.ts';
import { FrameMemory, type KernelExports, type Planes } from '../core/picture/planes.ts';
import { WHOLE } from '../core/show/basics.ts';
import { isShown } from '../core/show/overlays/overlay.ts';
import { plainScene, wholeLayer, type Scene } from '../core/show/scenes/scene.ts';
import type { Picture } from '../core/show/state.ts';
import { MotionMeter } from '../core/picture/motion.ts';
import type { Motion } from '../core/sound/clap.ts';
import { loadFonts } from './drawing.ts';
import { Gallery } from './gallery.ts';
import type { FromPicture, MonitorSubject, PicturePlan, ToPicture } from './messages.ts';
import { Monitors, type Monitor } from './monitors.ts';
import type { Size } from '../core/picture/geometry.ts';
import { Renditions } from './renditions.ts';
import { Program } from './program.ts';
import { colourAt } from './pick.ts';
import { nextTurn, Pace } from './pace.ts';
import { LADDER, Relief } from './relief.ts';
import { Control, counterAfter, type SharedMemory } from './shared.ts';
import { SourceSlot } from './slot.ts';

const COLOUR: VideoColorSpaceInit = { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', fullRange: false };
/** Frames further behind than this are given up: it is better to be on time again than to show old ones. */
const MAX_BEHIND = 15;
/** Often enough that a fault is named within two seconds. */
const REPORT_MS = 500;
/** Clocks are redrawn when their text has changed; this is how often that is looked at. */
const CLOCK_MS = 100;

const slots = new Map<string, SourceSlot>();
const health = new Map<string, PictureHealth>();
const problems = new Map<string, string>();
const monitors = new Monitors();
const relief = new Relief();
const pace = new Pace();
let compositor: Compositor;
let gallery: Gallery;
let program: Program;
let picture: Picture;
let plan: PicturePlan | null = null;
/** Files may be read before there is somewhere to put them. */
const ready = Promise.withResolvers<void>();
let renditions: Renditions | null = null;
/** A source whose motion somebody has asked for. */
let watch: { sourceId: string; left: number; id: number; meter: MotionMeter; motion: Motion[] } | null = null;
/** The frame to be made next. */
let frameNumber = 0;
const counts = { due: 0, leftOut: 0, workMs: 0, frames: 0, reportedAt: 0, tickedAt: 0 };

const say = (message: FromPicture) => postMessage(message);

const stage: Stage = {
	get picture() {
		return picture;
	},
	get background() {
		return plan?.background ?? null;
	},
	pictureOf(id) {
		const drawn = gallery.info(id);
		if (drawn) return drawn;
		const size = slots.get(id)?.size;
		return size ? { ...size, alpha: false } : null;
	},
	framing(sourceId, framingId) {
		const source = plan?.sources.find(({ id }) => id === sourceId);
		return source?.framings.find(({ id }) => id === framingId)?.crop ?? WHOLE;
	},
};
const graphicOf: GraphicOf = (overlayId, age) => gallery.graphic(overlayId, age);

onmessage = ({ data }: MessageEvent<ToPicture>) => {
	switch (data.type) {
		case 'start':
			return void start(data).catch((error: unknown) => say({ type: 'failed', reason: (error as Error).message }));
		case 'plan':
			plan = data.plan;
			if (gallery) follow(plan);
			return;
		case 'expect':
			return pace.expect(data.sourceIds, performance.now() + data.withinMs);
		case 'stream':
			return void drink(data.sourceId, data.frames);
		case 'port': {
			const slot = slotOf(data.sourceId);
			data.port.onmessage = ({ data: frame }: MessageEvent<VideoFrame>) => {
				if (slots.get(data.sourceId) === slot) put(slot, frame);
				else frame.close();
			};
			return;
		}
		case 'still':
			return void ready.promise.then(() => addStill(data.sourceId, data.image));
		case 'animation':
			return void ready.promise.then(() => play(data));
		case 'pick':
			return void pick(data);
		case 'watch':
			watch = { sourceId: data.sourceId, left: data.frames, id: data.id, meter: new MotionMeter(), motion: [] };
			return;
		case 'removeSource': {
			const slot = slots.get(data.sourceId);
			slots.delete(data.sourceId);
			health.delete(data.sourceId);
			gallery?.removeStill(data.sourceId);
			return void ready.promise.then(() => slot?.close(compositor));
		}
		case 'monitor':
			return monitors.add(data.id, data.canvas, data.subject);
		case 'monitorSize':
			return monitors.resize(data.id, data.size);
		case 'monitorSubject':
			return monitors.point(data.id, data.subject);
		case 'removeMonitor':
			return monitors.remove(data.id);
		case 'encode':
			counts.due = counts.leftOut = 0;
			renditions = new Renditions(data.renditions, data.tracks, picture.fps, data.port, (reason) =>
				say({ type: 'failed', reason }),
			);
			return;
		case 'stopEncoding': {
			const ending = renditions;
			renditions = null;
			return void ending?.end();
		}
	}
};

async function start(init: Extract<ToPicture, { type: 'start' }>): Promise<void> {
	picture = init.picture;
	program = new Program(picture);
	// All at once, though most is never touched: growing would take the memory away from a frame that is just being
	// copied into it.
	const memory = new WebAssembly.Memory({ initial: 16384, maximum: 16384 });
	const [source] = await Promise.all([
		WebAssembly.instantiateStreaming(fetch(init.kernelsUrl), { env: { memory } }),
		loadFonts(),
	]);
	compositor = new Compositor(source.instance.exports as unknown as KernelExports, new FrameMemory(memory), picture);
	gallery = new Gallery(compositor, picture);
	// What fell due before there was a compositor is nobody's picture.
	frameNumber = Atomics.load(init.memory.control, Control.tick);
	if (plan) follow(plan);
	ready.resolve();
	say({ type: 'started' });
	await run(init.memory);
}

/** Draws what the plan has new, treats sources as it says, and lets the program follow it. */
function follow(newest: PicturePlan): void {
	gallery.follow(newest, Date.now());
	for (const source of newest.sources) {
		const slot = slots.get(source.id);
		if (slot) slot.treatment = treatmentOf(source.id);
	}
	for (const transition of [newest.transition, ...newest.scenes.map((scene) => scene.transition)])
		if (transition?.kind === 'wipe') compositor.prepareWipe(transition.direction);
	program.follow(newest, frameNumber, Date.now());
}

function treatmentOf(sourceId: string): SourceSlot['treatment'] {
	const source = plan?.sources.find(({ id }) => id === sourceId);
	const adjust = source ? adjustTables(source.adjust) : null;
	const patches = plan?.patches.filter((patch) => patch.on && patch.sourceId === sourceId) ?? [];
	if (!adjust && patches.length === 0) return null;
	return { name: JSON.stringify([source?.adjust, patches]), adjust, patches };
}

function slotOf(sourceId: string): SourceSlot {
	const treatment = treatmentOf(sourceId);
	const slot = slots.get(sourceId) ?? new SourceSlot(treatment?.patches);
	slot.treatment = treatment;
	slots.set(sourceId, slot);
	return slot;
}

function addStill(sourceId: string, image: ImageBitmap): void {
	// Even sides, as the planes want them.
	const [width, height] = [Math.max(2, image.width & ~1), Math.max(2, image.height & ~1)];
	const context = new OffscreenCanvas(width, height).getContext('2d')!;
	context.drawImage(image, 0, 0);
	image.close();
	const rgba = context.getImageData(0, 0, width, height).data;
	gallery.addStill(sourceId, { width, height, rgba, at: { x: 0, y: 0, width, height } });
}

async function play({ sourceId, name, bytes }: Extract<ToPicture, { type: 'animation' }>): Promise<void> {
	let size = { width: 0, height: 0 };
	let problem = '';
	try {
		size = await gallery.addAnimation(sourceId, name, bytes);
	} catch (error) {
		problem = (error as Error).message;
	}
	say({ type: 'animationRead', sourceId, size, problem });
}

async function pick({ sourceId, x, y, id }: Extract<ToPicture, { type: 'pick' }>): Promise<void> {
	const frame = slots.get(sourceId)?.frame;
	const colour = frame ? await colourAt(frame, x, y).catch(() => null) : null;
	say({ type: 'picked', id, colour });
}

/** Takes a camera's frames as they come; only the newest is kept. */
async function drink(sourceId: string, frames: ReadableStream<VideoFrame>): Promise<void> {
	const slot = slotOf(sourceId);
	const reader = frames.getReader();
	for (;;) {
		const { value: frame, done } = await reader.read();
		if (done) return;
		if (slots.get(sourceId) !== slot) {
			frame.close();
			return void reader.cancel();
		}
		put(slot, frame);
	}
}

/** A first picture is told at once: the desk says that the source is there. */
function put(slot: SourceSlot, frame: VideoFrame): void {
	if (!slot.frame) counts.reportedAt = 0;
	slot.put(frame);
}

async function run({ control }: SharedMemory): Promise<never> {
	let seen = frameNumber;
	for (;;) {
		seen = await counterAfter(control, Control.tick, seen);
		const givenUp = Math.max(0, seen - MAX_BEHIND - frameNumber);
		if (renditions) {
			counts.due += givenUp;
			counts.leftOut += givenUp;
		}
		frameNumber = Math.max(frameNumber, seen - MAX_BEHIND);
		while (frameNumber < seen) {
			await nextTurn();
			const startedAt = performance.now();
			const isMade = !pace.waits(startedAt, (id) => slots.get(id)?.frame != null);
			if (isMade) await makeFrame(startedAt, Atomics.load(control, Control.tick) - frameNumber);
			frameNumber++;
			const now = performance.now();
			if (isMade) {
				counts.workMs += now - startedAt;
				counts.frames++;
			}
			if (now - counts.reportedAt > REPORT_MS) report(now);
		}
	}
}

/** @param behind frames that have fallen due and are not made yet, this one among them */
async function makeFrame(now: number, behind: number): Promise<void> {
	const spare = pace.spare(behind, now);
	const isTick = now - counts.tickedAt > CLOCK_MS;
	if (isTick) {
		counts.tickedAt = now;
		gallery.tick(Date.now());
	}
	gallery.showAt((frameNumber * 1000) / picture.fps);
	if (watch) await look(watch);
	const list = program.list(frameNumber, stage, graphicOf);
	const due = monitors.due(now);
	const onAir = spare.forProgram ? due.program : null;
	const untouched = untouchedPicture(list, stage);
	const slot = untouched === null ? undefined : slots.get(untouched);
	const asIs = slot?.encodable ? slot.frame : null;
	const sent = frameNumber % LADDER[relief.level]!.encodesEvery === 0 ? renditions : null;
	if (renditions) counts.due++;
	const needed = sent !== null && (!asIs || sent.encoders.some(({ form }) => !isWhole(form)));
	const planes = needed || onAir ? await paint(list) : null;
	if (sent) encode(sent, asIs, planes);
	if (sent) await encodeTracks(sent);
	if (onAir) monitors.draw(onAir, planes!, compositor, now);
	// One after another, so that no frame has to wait for all of them.
	if (!spare.forOthers || (isTick && gallery.drawAhead())) return;
	if (sent) hold(sent);
	if (due.other) await drawMonitor(due.other, now);
}

function encode(sent: Renditions, asIs: VideoFrame | null, planes: Planes | null): void {
	const timing = timingOf(frameNumber);
	for (const encoder of sent.encoders) {
		if (!encoder.takes(frameNumber)) continue;
		const frame =
			asIs && isWhole(encoder.form)
				? new VideoFrame(asIs, timing)
				: frameFrom(scaledFor(encoder.form, planes!), timing);
		if (!encoder.encode(frame, frameNumber)) counts.leftOut++;
	}
}

function hold(sent: Renditions): void {
	const { holding } = plan ?? {};
	const card = holding && gallery.planes(holding.id);
	if (card) sent.hold(gallery.stamp(holding.id)!, (form, at) => frameFrom(scaledFor(form, card), at));
}

/** Sources that are recorded apart, as they are shown; a busy machine records every other picture. */
async function encodeTracks({ tracks }: Renditions): Promise<void> {
	if (relief.level > 0 && frameNumber % 2 === 1) return;
	const timing = timingOf(frameNumber);
	for (const track of tracks) {
		const slot = slots.get(track.sourceId);
		const asIs = slot?.encodable ? slot.frame : null;
		const planes = asIs ? null : await load(track.sourceId);
		if (asIs) track.encode(new VideoFrame(asIs, timing), frameNumber);
		else if (planes) track.encode(frameFrom(planes, timing), frameNumber);
	}
}

function timingOf(number: number): { timestamp: number; duration: number } {
	return { timestamp: Math.round((number * 1e6) / picture.fps), duration: Math.round(1e6 / picture.fps) };
}

/** True for a rendition of the program's own size. */
function isWhole({ width, height }: Size): boolean {
	return width === picture.width && height === picture.height;
}

function scaledFor({ width, height }: Size, planes: Planes): Planes {
	if (isWhole({ width, height })) return planes;
	return compositor.smaller({ width, height }).fit(planes, { x: 0, y: 0, width, height });
}

/** Scenes and sources are painted at the monitor's own size; what has graphics of the program's size on it is not. */
async function drawMonitor(monitor: Monitor, now: number): Promise<void> {
	const { subject } = monitor;
	const { size } = monitor;
	const { pictureOf, framing, background } = stage;
	const small: Stage = { picture: size, pictureOf, framing, background };
	if ('sceneId' in subject && subject.opacityOf) {
		const layer = sceneOf(subject)?.layers.find(({ id }) => id === subject.opacityOf);
		const planes = layer && (gallery.planes(layer.sourceId) ?? (await load(layer.sourceId)));
		if (planes) {
			const on = compositor.smaller(size);
			const opacity = on.composeOpacity(
				(ground) => layerStepsOn(ground, layer, small),
				() => planes,
			);
			return monitors.draw(monitor, opacity, compositor, now);
		}
	}
	const full = listOf(subject, stage);
	const alike = Math.abs(size.width / size.height - picture.width / picture.height) < 0.1;
	const planes =
		full.above.length === 0 && alike
			? await paint(listOf(subject, small), compositor.smaller(size), small)
			: await paint(full);
	monitors.draw(monitor, planes, compositor, now);
}

async function look(watching: NonNullable<typeof watch>): Promise<void> {
	const planes = await load(watching.sourceId);
	const { meter, motion, id } = watching;
	const energy = planes ? meter.look(compositor.memory.bytes, planes) : 0;
	motion.push({ atMs: (frameNumber * 1000) / picture.fps, energy });
	if (--watching.left > 0) return;
	watch = null;
	say({ type: 'watched', id, motion });
}

function listOf(subject: MonitorSubject, stage: Stage): DrawList {
	const nothing = { above: [], black: 0 };
	if ('sourceId' in subject) {
		const scene = plainScene('source', 'source', [wholeLayer('source', subject.sourceId)]);
		return { base: { steps: sceneSteps({ ...scene, background: { is: 'none' } }, stage) }, ...nothing };
	}
	if ('sceneId' in subject) {
		return { base: { steps: sceneSteps(sceneOf(subject), stage) }, ...nothing };
	}
	const { next } = program;
	const now = Date.now();
	const shown = (plan?.overlays ?? []).flatMap((overlay) => {
		const showing = plan!.shown[overlay.id];
		if (!isShown(overlay, showing, now)) return [];
		return [{ overlay, presence: 1, age: Math.round(((now - showing!.at) * picture.fps) / 1000) }];
	});
	const above = next ? stepsAbove(shown, next.id, graphicOf, plan?.patches ?? [], stage) : [];
	return { base: { steps: sceneSteps(next, stage) }, above, black: 0 };
}

function sceneOf({ sceneId, changed }: Extract<MonitorSubject, { sceneId: string }>): Scene | null {
	const draft = changed ? plan?.drafts.find(({ id }) => id === sceneId) : undefined;
	return draft ?? program.scene(sceneId);
}

/** Loads what a list needs and paints it; black takes the place of what cannot be loaded. */
async function paint(list: DrawList, on = compositor, of: Stage = stage): Promise<Planes> {
	const loaded = new Map<string, Planes>();
	for (const id of picturesOf(list)) {
		const planes = gallery.planes(id) ?? (await load(id));
		if (planes) loaded.set(id, planes);
	}
	const possible = (steps: DrawStep[]): DrawStep[] =>
		steps.map((step) =>
			step.step !== 'blit' || loaded.has(step.pictureId)
				? step
				: { step: 'fill', colour: BLACK, to: step.to, opacity: step.opacity, mask: step.mask },
		);
	const { base, above, black } = list;
	const paintable =
		'steps' in base
			? { steps: possible(base.steps) }
			: { from: possible(base.from), to: possible(base.to), joined: base.joined };
	return on.compose({ base: paintable, above: possible(above), black }, (id) => loaded.get(id)!, of);
}

async function load(sourceId: string): Promise<Planes | null> {
	const slot = slots.get(sourceId);
	if (!slot) return null;
	try {
		const there = await slot.load(compositor);
		problems.delete(sourceId);
		if (slot.sample) healthOf(sourceId).look(slot.sample, performance.now());
		return there ? slot.planes : null;
	} catch (error) {
		problems.set(sourceId, (error as Error).message);
		return null;
	}
}

function frameFrom(planes: Planes, timing: { timestamp: number; duration: number }): VideoFrame {
	const { memory } = compositor;
	return new VideoFrame(memory.bytes.subarray(planes.y, planes.y + planes.bytes), {
		format: 'I420',
		codedWidth: planes.width,
		codedHeight: planes.height,
		colorSpace: COLOUR,
		...timing,
	});
}

function report(now: number): void {
	const frameMs = counts.workMs / Math.max(1, counts.frames);
	relief.look((frameMs * picture.fps) / 1000, counts.leftOut, now);
	monitors.relief = relief.level;
	say({
		type: 'report',
		due: counts.due,
		encoded: renditions?.encoded ?? 0,
		frameMs,
		relief: relief.level,
		pictures: [...slots].map(([sourceId, slot]) => ({
			sourceId,
			size: slot.size,
			silentMs: slot.arrivedAt === 0 ? 0 : Math.round(now - slot.arrivedAt),
			problem: problems.get(sourceId) ?? '',
			fault: health.get(sourceId)?.fault(now) ?? null,
			uncertain: slot.uncertain,
		})),
	});
	counts.workMs = counts.frames = counts.leftOut = 0;
	counts.reportedAt = now;
}

function healthOf(sourceId: string): PictureHealth {
	const known = health.get(sourceId) ?? new PictureHealth();
	health.set(sourceId, known);
	return known;
}
