/**
 * The picture engine: makes the frame of the program that has fallen due, encodes it while on air, and keeps the
 * desk's monitors fresh. It knows nothing of workers, canvases and clocks: the worker that wires it does.
 */
import { adjustTables, BLACK, type Yuv } from '../../core/picture/colour.ts';
import type { Compositor } from '../../core/picture/compositor.ts';
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
} from '../../core/picture/draw-list.ts';
import { fitted, type Size } from '../../core/picture/geometry.ts';
import { PictureHealth, sampleLuma } from '../../core/picture/health.ts';
import { MotionMeter } from '../../core/picture/motion.ts';
import type { Planes } from '../../core/picture/planes.ts';
import { StampClock } from '../../core/stamp-clock.ts';
import { WHOLE } from '../../core/show/basics.ts';
import { isShown } from '../../core/show/overlays/overlay.ts';
import { plainScene, wholeLayer, type Scene } from '../../core/show/scenes/scene.ts';
import type { KindName } from '../../core/show/sources/kinds.ts';
import type { Source } from '../../core/show/sources/source.ts';
import type { Picture } from '../../core/show/state.ts';
import type { Motion } from '../../core/sound/clap.ts';
import type { ClipMemory } from '../sources/clip-memory.ts';
import type { Armed, MonitorSubject, PicturePlan, PictureReport } from '../messages.ts';
import { AnimationInput } from './animation-input.ts';
import { ArmedStep } from './armed-step.ts';
import { ClipInput, type ClipPort } from './clip-input.ts';
import { ClipsOnPlan } from './clips-on-plan.ts';
import { DrawnInput, StillInput, type DrawnKind } from './drawn-input.ts';
import { Graphics, type OverlayDrawings } from './graphics.ts';
import type { Drawing } from './lazy-drawing.ts';
import { LiveInput } from './live-input.ts';
import { MadeOf } from './made-of.ts';
import { Monitors, type Monitor } from './monitors.ts';
import { Pace } from './pace.ts';
import { colourAt } from './pick.ts';
import {
	CLOSE_MS,
	hasFrames,
	isLive,
	type FramePictureInput,
	type LivePictureInput,
	type PictureInput,
	type Treatment,
} from './picture-input.ts';
import { Program } from './program.ts';
import { Relief, type Part } from './relief.ts';
import type { Renditions } from './renditions.ts';
import { Sampling, type Sample } from './sampling.ts';
import { WallSheet, type WatchedEncoders, type WatchedView } from './watched-views.ts';

/** Often enough that a fault is named within two seconds. */
const REPORT_MS = 500;
/** The desk's pictures change so often a second at most. */
const REFRESH_HZ = 10;
/** Live pictures are looked at so often at least, whoever shows them. */
const LOOK_MS = 250;
/** A page is given this time to end a broadcast that is over; one that thinks otherwise by then goes on. */
const REST_MS = 2000;
/** What nobody has asked for yet is drawn so often at most. */
const AHEAD_MS = 100;

/** Time stamp and length of a frame, microseconds on the engine's clock. */
export interface Timing {
	timestamp: number;
	duration: number;
}

/** What the engine is given by the worker, or by a test. */
export interface PictureEngineParts {
	compositor: Compositor;
	picture: Picture;
	drawings: OverlayDrawings;
	/** Kinds of sources that the engine draws itself. */
	drawnKinds: { readonly [K in KindName]?: DrawnKind<never> };
	/** Makes a frame that can be encoded. */
	frameFrom(planes: Planes, timing: Timing): VideoFrame;
	/** Takes a camera's frame as it came, at another time. */
	frameAt(frame: VideoFrame, timing: Timing): VideoFrame;
	/** Milliseconds of a clock without steps, and milliseconds since 1970. */
	now(): number;
	wallClock(): number;
	onReport(report: PictureReport): void;
	/** What was armed has been done, with the frame it was due at. */
	onFell(dueId: string): void;
	/** Monitors are about to change: what else moves on the page changes with the same frame of the screen. */
	onRefresh(): void;
	/** Something failed that the engine goes on without. */
	onProblem(problem: unknown): void;
}

/** What frames are encoded by. */
export type Output = Pick<Renditions, 'encoders' | 'tracks' | 'encoded' | 'hold' | 'end'>;

/** A source whose motion somebody has asked for. */
interface Watch {
	sourceId: string;
	left: number;
	meter: MotionMeter;
	motion: Motion[];
	resolve: (motion: Motion[]) => void;
}

export class PictureEngine {
	readonly monitors: Monitors;
	/** Frames of the program for each that changes something on the page. */
	readonly #refreshEvery: number;
	readonly #parts: PictureEngineParts;
	readonly #picture: Picture;
	readonly #compositor: Compositor;
	readonly #graphics: Graphics;
	readonly #program: Program;
	readonly #pace = new Pace();
	readonly #ticks = new StampClock();
	readonly #relief = new Relief();
	readonly #inputs = new Map<string, PictureInput>();
	/** Of live pictures, by source. */
	readonly #health = new Map<string, PictureHealth>();
	readonly #programHealth = new PictureHealth();
	#programLookedAt = -Infinity;
	/** The program's picture as it was painted last, and what of. */
	#painted: { planes: Planes; version: number } | null = null;
	readonly #programMadeOf = new MadeOf();
	readonly #problems = new Map<string, string>();
	#plan: PicturePlan | null = null;
	readonly #clips: ClipsOnPlan;
	readonly #armed = new ArmedStep();
	/** When the frame that was made last fell due, milliseconds of `parts.now()`. */
	#due = { frame: 0, at: NaN };
	#watched: WatchedEncoders = {};
	#wall: WallSheet | null = null;
	#output: Output | null = null;
	/** Nothing is encoded before this frame: the broadcast is over, which its page is about to hear. */
	#restsUntil = 0;
	#watch: Watch | null = null;
	#sampling: Sampling | null = null;
	/** The frame to be made next. */
	#frameNumber: number;
	#counts = {
		...{ due: 0, leftOut: 0, workMs: 0, frames: 0, reportedAt: 0, tickedAt: 0 },
		/** Frames that fell due while encoding, since the last report. */
		fell: 0,
		spentMs: { others: 0, program: 0, tracks: 0 } as Record<Part, number>,
	};
	readonly #stage: Stage;
	readonly #graphicOf: GraphicOf;

	/** @param firstFrame number of the first frame that is made */
	constructor(parts: PictureEngineParts, firstFrame: number) {
		this.#parts = parts;
		const { picture, compositor } = parts;
		this.#picture = picture;
		this.#compositor = compositor;
		this.#frameNumber = firstFrame;
		this.monitors = new Monitors(this.#relief);
		this.#refreshEvery = Math.max(1, Math.round(picture.fps / REFRESH_HZ));
		this.#graphics = new Graphics(compositor, picture, parts.drawings);
		this.#program = new Program(picture);
		this.#clips = new ClipsOnPlan(picture.fps);
		this.#graphicOf = (overlayId, age) => this.#graphics.graphic(overlayId, age);
		const background = () => this.#plan?.background ?? null;
		this.#stage = {
			picture,
			get background() {
				return background();
			},
			pictureOf: (id) => this.#inputs.get(id)?.info ?? this.#graphics.info(id),
			framing: (sourceId, framingId) => this.#framing(sourceId, framingId),
		};
	}

	#framing(sourceId: string, framingId: string | null) {
		const source = this.#sourceOf(sourceId);
		return source?.framings.find(({ id }) => id === framingId)?.crop ?? WHOLE;
	}

	#sourceOf(sourceId: string): Source | undefined {
		return this.#plan?.sources.find(({ id }) => id === sourceId);
	}

	/**
	 * Draws what the plan has new, treats sources as it says, and lets the program follow it.
	 * @param heard how often its page had been told by then that something was done by itself
	 */
	follow(plan: PicturePlan, heard?: number): void {
		if (this.#armed.isUpToDate(heard)) this.#followPlan(plan);
	}

	/**
	 * Does something by itself when its time comes, in place of what was armed before.
	 * @param heard as for `follow`: what has been done is not armed again
	 */
	arm(armed: Armed | null, heard?: number): void {
		this.#armed.arm(armed, heard);
	}

	#followPlan(plan: PicturePlan): void {
		this.#plan = plan;
		const now = this.#wallClockAt(this.#frameNumber);
		this.#followDrawn(plan, now);
		this.#clips.follow(plan, this.#inputs, this.#frameNumber, now);
		this.#graphics.follow(plan);
		for (const [id, input] of this.#inputs) if (!(input instanceof DrawnInput)) input.treat(this.#treatmentOf(id));
		for (const transition of [plan.transition, ...plan.scenes.map((scene) => scene.transition)])
			if (transition?.kind === 'wipe') this.#compositor.prepareWipe(transition.direction);
		this.#program.follow(plan, this.#frameNumber, now);
	}

	#followDrawn(plan: PicturePlan, now: number): void {
		const { title, startsAt, timeZone, people, look } = plan;
		const wanted = new Set<string>();
		for (const source of [...plan.sources, plan.holding]) {
			const kind = this.#parts.drawnKinds[source.kind] as DrawnKind | undefined;
			const known = this.#inputs.get(source.id);
			// Who sits in a seat is seen in place of what is drawn there.
			if (!kind || kind.draws?.(source) === false || isLive(known)) continue;
			wanted.add(source.id);
			const input = known instanceof DrawnInput ? known : new DrawnInput(this.#compositor, kind, this.#picture);
			this.#inputs.set(source.id, input);
			input.treat(this.#treatmentOf(source.id));
			input.follow(source, { title, startsAt, timeZone, people, look }, now);
		}
		for (const [id, input] of this.#inputs) if (input instanceof DrawnInput && !wanted.has(id)) this.#drop(id);
	}

	/** When a frame falls due, milliseconds since 1970. */
	#wallClockAt(frame: number): number {
		const { now, wallClock } = this.#parts;
		if (Number.isNaN(this.#due.at)) return wallClock();
		return this.#due.at + ((frame - this.#due.frame) * 1000) / this.#picture.fps + wallClock() - now();
	}

	#fallDue(): void {
		const frame = this.#frameNumber;
		const armed = this.#armed.takeDue(frame, this.#wallClockAt(frame), this.#inputs);
		if (!armed) return;
		if (armed.ends) this.#restsUntil = frame + (REST_MS * this.#picture.fps) / 1000;
		this.#followPlan(armed.plan);
		this.#parts.onFell(armed.dueId);
	}

	#treatmentOf(sourceId: string): Treatment | null {
		const source = this.#sourceOf(sourceId);
		const adjust = source ? adjustTables(source.adjust) : null;
		const patches = this.#plan?.patches.filter((patch) => patch.on && patch.sourceId === sourceId) ?? [];
		if (!adjust && patches.length === 0) return null;
		return { name: JSON.stringify([source?.adjust, patches]), adjust, patches };
	}

	/** Nothing is made before these sources have a picture, or so long. */
	expect(sourceIds: readonly string[], withinMs: number): void {
		this.#pace.expect(sourceIds, this.#parts.now() + withinMs);
	}

	/** The input of a source whose frames come from outside; patches that it has already were placed on earlier frames. */
	addLive(sourceId: string): LivePictureInput {
		const treatment = this.#treatmentOf(sourceId);
		return this.#add(sourceId, new LiveInput(this.#compositor, this.#parts.now(), treatment?.patches));
	}

	addStill(sourceId: string, still: Drawing): void {
		this.#add(sourceId, new StillInput(this.#compositor, still));
	}

	/** @throws {Error} with a sentence when the file cannot be read */
	async addAnimation(sourceId: string, name: string, bytes: ArrayBuffer): Promise<Size> {
		const input = new AnimationInput(this.#compositor, name, bytes, this.#parts.onProblem);
		return this.#add(sourceId, input).read();
	}

	/** A clip, whose frames its worker sends when they are asked for. */
	addClip(sourceId: string, port: ClipPort, memory: ClipMemory): void {
		const input = this.#add(sourceId, new ClipInput(this.#compositor, port, memory, this.#picture.fps));
		input.onFirst = () => (this.#counts.reportedAt = 0);
		this.#followClips();
	}

	#followClips(): void {
		const frame = this.#frameNumber;
		if (this.#plan) this.#clips.follow(this.#plan, this.#inputs, frame, this.#wallClockAt(frame));
	}

	#add<I extends PictureInput>(sourceId: string, input: I): I {
		this.#drop(sourceId);
		input.treat(this.#treatmentOf(sourceId));
		this.#inputs.set(sourceId, input);
		return input;
	}

	/** True while an input is the one that its source is shown by. */
	uses(sourceId: string, input: PictureInput): boolean {
		return this.#inputs.get(sourceId) === input;
	}

	/** A source's frame has come; the first one is reported at once. */
	put(input: LivePictureInput, frame: VideoFrame): void {
		if (!input.frame) this.#counts.reportedAt = 0;
		input.put(frame, this.#parts.now());
	}

	/** What a source brought is gone; where something is drawn in its place, that is seen again. */
	remove(sourceId: string): void {
		this.#drop(sourceId);
		if (this.#plan) this.#followDrawn(this.#plan, this.#wallClockAt(this.#frameNumber));
	}

	#drop(sourceId: string): void {
		const input = this.#inputs.get(sourceId);
		this.#inputs.delete(sourceId);
		this.#health.delete(sourceId);
		this.#problems.delete(sourceId);
		input?.close().catch(this.#parts.onProblem);
	}

	/** The colour of a live picture at a place in parts of it, before any correction; null where there is none. */
	async pick(sourceId: string, x: number, y: number): Promise<Yuv | null> {
		const input = this.#inputs.get(sourceId);
		const frame = hasFrames(input) ? input.frame : null;
		return frame ? colourAt(frame, x, y).catch(() => null) : null;
	}

	/** How much a source's picture changes from frame to frame, for so many frames from now on. */
	watch(sourceId: string, frames: number): Promise<Motion[]> {
		return new Promise((resolve) => {
			this.#watch = { sourceId, left: frames, meter: new MotionMeter(), motion: [], resolve };
		});
	}

	/** Copies of what sources show, for so many frames from now on; those that show nothing are left out. */
	sample(sourceIds: readonly string[], frames: number): Promise<Sample[]> {
		this.#sampling = new Sampling(sourceIds, frames);
		return this.#sampling.samples;
	}

	/** Encodes from the next frame on. */
	startEncoding(output: Output): void {
		this.#counts.due = this.#counts.leftOut = 0;
		this.#restsUntil = 0;
		this.#output = output;
	}

	/** Makes these views for those who watch from afar, in place of those before. */
	beWatched(watched: WatchedEncoders): void {
		this.#watched = watched;
		if (!watched.wall && this.#wall) this.#compositor.memory.releasePlanes(this.#wall.planes);
		this.#wall = watched.wall ? (this.#wall ?? new WallSheet(this.#compositor.memory)) : null;
	}

	#sendView(view: WatchedView, planes: Planes, order?: number): void {
		const number = this.#frameNumber;
		const { width, height } = view.form;
		const isItsSize = planes.width === width && planes.height === height;
		const small = isItsSize ? planes : this.#compositor.smaller(view.form).fit(planes, fitted(planes, view.form));
		view.encode(this.#parts.frameFrom(small, this.#timingOf(number)), this.#wallClockAt(number), order);
	}

	/** Views besides that of the program, as there is time for them. */
	async #sendOtherViews(): Promise<void> {
		const number = this.#frameNumber;
		const { next, forGuests, hall, wall } = this.#watched;
		const chosen = this.#plan?.forGuests ?? null;
		const behind = this.#plan?.hall;
		const subjects: [WatchedView | undefined, MonitorSubject][] = [
			[next, { bus: 'next' }],
			[chosen === null ? undefined : forGuests, { sceneId: chosen! }],
			[behind?.is === 'program' ? hall : undefined, { bus: 'program' }],
			[behind?.is === 'scene' ? hall : undefined, { sceneId: behind?.is === 'scene' ? behind.sceneId : '' }],
		];
		for (const [view, subject] of subjects)
			if (view?.takes(number)) this.#sendView(view, await this.#plannedFor(subject, view.form).paint());
		const sheet = this.#wall;
		if (!wall || !sheet) return;
		const turn = sheet.turn(this.#plan?.scenes.map(({ id }) => id) ?? []);
		if (turn) {
			const planes = await this.#plannedFor({ sceneId: turn.sceneId }, turn.cell).paint();
			const isItsSize = planes.width === turn.cell.width && planes.height === turn.cell.height;
			// Its memory is somebody else's once nobody watches it any more.
			if (this.#wall !== sheet) return;
			const small = this.#compositor.smaller(turn.cell);
			sheet.put(isItsSize ? planes : small.fit(planes, fitted(planes, turn.cell)), turn.cell);
		}
		if (wall.takes(number)) this.#sendView(wall, sheet.planes, sheet.order);
	}

	/** Encodes no more; lets out what is inside the encoders. */
	async stopEncoding(): Promise<void> {
		const ending = this.#output;
		this.#output = null;
		await ending?.end();
	}

	get fps(): number {
		return this.#picture.fps;
	}

	/** Number of the frame that is made next. */
	get frameNumber(): number {
		return this.#frameNumber;
	}

	/**
	 * Makes the frame that is next, if one has fallen due. What fails in one frame does not keep the next one from
	 * being made.
	 * @param seen frames that have fallen due so far
	 * @returns false when nothing was due
	 */
	async advance(seen: number): Promise<boolean> {
		const startedAt = this.#parts.now();
		const frameMs = 1000 / this.#picture.fps;
		const seenAt = this.#ticks.onTime(seen * frameMs, startedAt);
		const next = this.#pace.next(this.#frameNumber, seen, startedAt);
		if (this.#output) {
			this.#counts.due += next - this.#frameNumber;
			this.#counts.leftOut += next - this.#frameNumber;
			this.#counts.fell += next - this.#frameNumber;
		}
		this.#frameNumber = next;
		if (next >= seen) return false;
		const isMade = !this.#pace.waits(startedAt, (id) => this.#inputs.get(id)?.info != null);
		const behind = seen - next;
		// A clock that has stood still tells too early a time, for some seconds.
		const dueAt = Math.max(seenAt - (behind - 1) * frameMs, startedAt - behind * frameMs);
		this.#due = { frame: next, at: dueAt };
		if (this.#clips.waitsNoMoreAt(next)) this.#followClips();
		this.#fallDue();
		this.#choosePictures(dueAt, seen - 1);
		if (isMade) await this.#makeFrame(startedAt, behind).catch((problem: unknown) => this.#parts.onProblem(problem));
		this.#frameNumber++;
		const now = this.#parts.now();
		if (isMade) {
			this.#counts.workMs += now - startedAt;
			this.#counts.frames++;
		}
		if (now - this.#counts.reportedAt > REPORT_MS) this.#report(now);
		return true;
	}

	/**
	 * Lets live sources show what they showed when the frame fell due, however late it is made: what came since then
	 * belongs to the frames after it, as the sound of that time does.
	 */
	#choosePictures(dueAt: number, newest: number): void {
		for (const input of this.#inputs.values()) {
			if (isLive(input)) input.chooseAt(dueAt - CLOSE_MS);
			else if (input instanceof ClipInput) input.chooseFrame(this.#frameNumber, newest);
		}
	}

	/** @param behind frames that have fallen due and are not made yet, this one among them */
	async #makeFrame(now: number, behind: number): Promise<void> {
		const number = this.#frameNumber;
		const spare = this.#pace.spare(behind, now);
		const isTick = now - this.#counts.tickedAt > AHEAD_MS;
		if (isTick) this.#counts.tickedAt = now;
		this.#tick(this.#wallClockAt(number));
		if (this.#watch) await this.#lookAtMotion(this.#watch);
		await this.#takeSamples();
		const list = this.#program.list(number, this.#stage, this.#graphicOf);
		const due = (number + 1) % this.#refreshEvery === 0 ? this.monitors.due(now) : { program: null, others: [] };
		const onAir = spare.forProgram ? due.program : null;
		if (onAir || due.others.length > 0) this.#parts.onRefresh();
		const rests = number < this.#restsUntil;
		const isEncoded = !rests && number % this.#relief.encodesEvery === 0;
		const output = isEncoded ? this.#output : null;
		if (this.#output && !rests) {
			this.#counts.due++;
			this.#counts.fell++;
		}
		const live = this.#untouchedInput(list);
		// A clone of its own: while something is painted its source may be removed, and this one be closed.
		const asItCame = (output && live?.untouched?.clone()) ?? null;
		try {
			const needed = output !== null && (!asItCame || output.encoders.some(({ form }) => !this.#isWhole(form)));
			const watched = spare.forProgram && this.#watched.program?.takes(number) ? this.#watched.program : null;
			const planes = needed || onAir || watched ? await this.#paintProgram(list) : null;
			if (output) this.#encode(output, asItCame, planes);
			if (output && output.tracks.length > 0) await this.#spend('tracks', () => this.#encodeTracks(output));
			if (watched) this.#sendView(watched, planes!);
			if (onAir) await this.#spend('program', () => this.monitors.draw(onAir, planes!, this.#compositor, now));
			await this.#lookAtProgram(planes, live, now);
			if (number % 2 === 0) await this.#lookAtNext(now);
		} finally {
			asItCame?.close();
		}
		if (!spare.forOthers || (isTick && this.#drawAhead())) return;
		if (output) this.#hold(output);
		for (const other of due.others) await this.#spend('others', () => this.#drawMonitor(other, now));
		await this.#spend('others', () => this.#sendOtherViews());
	}

	/** The live input that the program shows just as its frames come, if that is all it shows. */
	#untouchedInput(list: DrawList): FramePictureInput | null {
		const id = untouchedPicture(list, this.#stage);
		const input = id === null ? undefined : this.#inputs.get(id);
		return hasFrames(input) ? input : null;
	}

	/** Clocks show the time at which the frame falls due. */
	#tick(wallClock: number): void {
		for (const input of this.#inputs.values()) if (input instanceof DrawnInput && input.ticks) input.tick(wallClock);
	}

	/** Draws one picture that nobody has asked for yet. False when there is none. */
	#drawAhead(): boolean {
		const drawn = [...this.#inputs.values()].flatMap((input) => (input instanceof DrawnInput ? [input.drawing] : []));
		const due = [...drawn, ...this.#graphics.due].find(({ isDue }) => isDue);
		return due !== undefined && due.shown !== undefined;
	}

	#encode(output: Output, asItCame: VideoFrame | null, planes: Planes | null): void {
		const number = this.#frameNumber;
		const timing = this.#timingOf(number);
		for (const encoder of output.encoders) {
			if (!encoder.takes(number)) continue;
			const frame =
				asItCame && this.#isWhole(encoder.form)
					? this.#parts.frameAt(asItCame, timing)
					: this.#parts.frameFrom(this.#scaledFor(encoder.form, planes!), timing);
			if (!encoder.encode(frame, number)) this.#counts.leftOut++;
		}
	}

	#hold(output: Output): void {
		const held = this.#inputs.get(this.#plan?.holding.id ?? '');
		if (!(held instanceof DrawnInput) || held.stamp === null) return;
		const card = held.planesAt()!;
		output.hold(held.stamp, (form, timing) => this.#parts.frameFrom(this.#scaledFor(form, card), timing));
	}

	/** Sources that are recorded apart, as they are shown; a busy machine records every other picture. */
	async #encodeTracks({ tracks }: Output): Promise<void> {
		const number = this.#frameNumber;
		if (number % this.#relief.tracksEvery !== 0) return;
		const timing = this.#timingOf(number);
		for (const track of tracks) {
			const input = this.#inputs.get(track.sourceId);
			const asItCame = hasFrames(input) ? input.untouched : null;
			const planes = asItCame ? null : await this.#planesOf(track.sourceId);
			if (asItCame) track.encode(this.#parts.frameAt(asItCame, timing), number);
			else if (planes) track.encode(this.#parts.frameFrom(planes, timing), number);
		}
	}

	#timingOf(number: number): Timing {
		const { fps } = this.#picture;
		return { timestamp: Math.round((number * 1e6) / fps), duration: Math.round(1e6 / fps) };
	}

	/** True for a rendition of the program's own size. */
	#isWhole({ width, height }: Size): boolean {
		return width === this.#picture.width && height === this.#picture.height;
	}

	#scaledFor({ width, height }: Size, planes: Planes): Planes {
		if (this.#isWhole({ width, height })) return planes;
		return this.#compositor.smaller({ width, height }).fit(planes, { x: 0, y: 0, width, height });
	}

	/** Now and then a look whether viewers see anything. */
	async #lookAtProgram(planes: Planes | null, live: FramePictureInput | null, now: number): Promise<void> {
		if (!this.#output || now - this.#programLookedAt < REPORT_MS) return;
		this.#programLookedAt = now;
		const seen = planes ?? (live && (await live.planesAt(this.#timeMs)));
		if (seen) this.#programHealth.observe(sampleLuma(this.#compositor.memory.bytes, seen), now);
	}

	async #drawMonitor(monitor: Monitor, now: number): Promise<void> {
		const { subject, size } = monitor;
		if ('sceneId' in subject && subject.opacityOf) {
			const layer = this.#sceneOf(subject)?.layers.find(({ id }) => id === subject.opacityOf);
			const planes = layer && (await this.#planesOf(layer.sourceId));
			if (planes) {
				const on = this.#compositor.smaller(size);
				const opacity = on.composeOpacity(
					(ground) => layerStepsOn(ground, layer, this.#smallStage(size)),
					() => planes,
				);
				return this.monitors.draw(monitor, opacity, this.#compositor, now);
			}
		}
		const planned = this.#plannedFor(subject, size);
		const loaded = await planned.load();
		if (this.monitors.shows(monitor, planned.list, [...loaded.values()], now)) return;
		this.monitors.draw(monitor, planned.compose(loaded), this.#compositor, now);
	}

	#smallStage(size: Size): Stage {
		const { pictureOf, framing, background } = this.#stage;
		return { picture: size, pictureOf, framing, background };
	}

	/**
	 * How something is painted for a small picture: at that picture's own size, or at the program's where graphics of the
	 * program's size are on it.
	 */
	#plannedFor(subject: MonitorSubject, size: Size) {
		const { width, height } = this.#picture;
		const full = this.#listOf(subject, this.#stage);
		const alike = Math.abs(size.width / size.height - width / height) < 0.1;
		const isSmall = full.above.length === 0 && alike;
		const small = this.#smallStage(size);
		const list = isSmall ? this.#listOf(subject, small) : full;
		const load = () => this.#load(list);
		const compose = (loaded: Map<string, Planes>) =>
			isSmall ? this.#compose(list, loaded, this.#compositor.smaller(size), small) : this.#compose(list, loaded);
		return { list, load, compose, paint: async () => compose(await load()) };
	}

	/** A camera that nobody watches may fail as well: with every other frame one of them is looked at. */
	async #lookAtNext(now: number): Promise<void> {
		for (const [sourceId, input] of this.#inputs) {
			if (!isLive(input) || this.#healthOf(sourceId).observedAt > now - LOOK_MS) continue;
			await this.#planesOf(sourceId);
			return;
		}
	}

	async #lookAtMotion(watching: Watch): Promise<void> {
		const planes = await this.#planesOf(watching.sourceId);
		const { meter, motion, resolve } = watching;
		const energy = planes ? meter.observe(this.#compositor.memory.bytes, planes) : 0;
		motion.push({ atMs: this.#timeMs, energy });
		if (--watching.left > 0) return;
		this.#watch = null;
		resolve(motion);
	}

	async #takeSamples(): Promise<void> {
		const { memory } = this.#compositor;
		if (
			await this.#sampling?.take(
				(sourceId) => this.#planesOf(sourceId),
				() => memory.bytes,
			)
		)
			this.#sampling = null;
	}

	get #timeMs(): number {
		return (this.#frameNumber * 1000) / this.#picture.fps;
	}

	#listOf(subject: MonitorSubject, stage: Stage): DrawList {
		const nothing = { above: [], black: 0 };
		if ('sourceId' in subject) {
			const scene = plainScene('source', 'source', [wholeLayer('source', subject.sourceId)]);
			return { base: { steps: sceneSteps({ ...scene, background: { is: 'none' } }, stage) }, ...nothing };
		}
		if ('sceneId' in subject) return { base: { steps: sceneSteps(this.#sceneOf(subject), stage) }, ...nothing };
		const { next } = this.#program;
		const now = this.#parts.wallClock();
		const shown = (this.#plan?.overlays ?? []).flatMap((overlay) => {
			const showing = this.#plan!.shown[overlay.id];
			if (!isShown(overlay, showing, now)) return [];
			return [{ overlay, presence: 1, age: Math.round(((now - showing!.at) * this.#picture.fps) / 1000) }];
		});
		const above = next ? stepsAbove(shown, next.id, this.#graphicOf, this.#plan?.patches ?? [], stage) : [];
		return { base: { steps: sceneSteps(next, stage) }, above, black: 0 };
	}

	#sceneOf({ sceneId, changed }: Extract<MonitorSubject, { sceneId: string }>): Scene | null {
		const draft = changed ? this.#plan?.drafts.find(({ id }) => id === sceneId) : undefined;
		return draft ?? this.#program.scene(sceneId);
	}

	/** A picture that is the same as the last one is not painted again. */
	async #paintProgram(list: DrawList): Promise<Planes> {
		const loaded = await this.#load(list);
		const isSame = this.#programMadeOf.isSame(list, [...loaded.values()]);
		const { planes: last, version } = this.#painted ?? {};
		// A monitor may have been painted in its place.
		if (isSame && last && last.version === version) return last;
		const planes = this.#compose(list, loaded);
		this.#painted = { planes, version: planes.version };
		return planes;
	}

	/** Loads what a list needs, as far as it can be loaded. */
	async #load(list: DrawList): Promise<Map<string, Planes>> {
		const loaded = new Map<string, Planes>();
		for (const id of picturesOf(list)) {
			const planes = this.#graphics.planes(id) ?? (await this.#planesOf(id));
			if (planes) loaded.set(id, planes);
		}
		return loaded;
	}

	/** Paints a list; black takes the place of what could not be loaded. */
	#compose(list: DrawList, loaded: Map<string, Planes>, on = this.#compositor, of: Stage = this.#stage): Planes {
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

	async #planesOf(sourceId: string): Promise<Planes | null> {
		const input = this.#inputs.get(sourceId);
		if (!input) return null;
		try {
			const planes = await input.planesAt(this.#timeMs);
			this.#problems.delete(sourceId);
			if (isLive(input) && input.sample) this.#healthOf(sourceId).observe(input.sample, this.#parts.now());
			return planes;
		} catch (error) {
			this.#problems.set(sourceId, (error as Error).message);
			return null;
		}
	}

	#healthOf(sourceId: string): PictureHealth {
		const known = this.#health.get(sourceId) ?? new PictureHealth();
		this.#health.set(sourceId, known);
		return known;
	}

	#report(now: number): void {
		const counts = this.#counts;
		const frameMs = counts.workMs / Math.max(1, counts.frames);
		this.#relieve(now);
		this.#parts.onReport({
			due: counts.due,
			encoded: this.#output?.encoded ?? 0,
			frameMs,
			relief: this.#relief.level,
			blackMs: this.#output ? this.#programHealth.blackMs(now) : 0,
			pictures: [...this.#inputs].flatMap(([sourceId, input]) =>
				hasFrames(input)
					? [
							{
								sourceId,
								size: input.info,
								silentMs: isLive(input) ? Math.round(now - input.quietSince) : 0,
								arrived: isLive(input) ? input.arrived : null,
								problem: this.#problems.get(sourceId) ?? '',
								fault: this.#health.get(sourceId)?.fault(now) ?? null,
								uncertain: input.uncertain,
							},
						]
					: [],
			),
		});
		counts.workMs = counts.frames = counts.leftOut = counts.fell = 0;
		counts.spentMs = { others: 0, program: 0, tracks: 0 };
		counts.reportedAt = now;
	}

	#relieve(now: number): void {
		const { workMs, spentMs, frames, fell, leftOut } = this.#counts;
		const partOf = (ms: number) => (ms * this.#picture.fps) / 1000 / Math.max(1, frames);
		const { others, program, tracks } = spentMs;
		const spent = { others: partOf(others), program: partOf(program), tracks: partOf(tracks) };
		this.#relief.observe({ load: partOf(workMs), spent, due: fell, leftOut }, now);
	}

	/** Does a part of the work that can be given up, and notes how long it took. */
	async #spend(part: Part, work: () => void | Promise<void>): Promise<void> {
		const before = this.#parts.now();
		await work();
		this.#counts.spentMs[part] += this.#parts.now() - before;
	}
}
