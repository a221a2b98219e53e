/**
 * The engine of an event, as the page owns it: sound context, workers, sources, uplink. It follows the show state it is
 * given and reports how things go; it decides nothing about the show.
 */
import { wrap, type Remote } from 'comlink';
import { dequal } from 'dequal';
import type { Yuv } from '../core/picture/colour.ts';
import relaxedKernelsUrl from '../core/picture/kernels/build/kernels-relaxed.wasm?url&no-inline';
import plainKernelsUrl from '../core/picture/kernels/build/kernels.wasm?url&no-inline';
import { holdingCard } from '../core/show/delivery/delivery.ts';
import { withFields } from '../core/show/event/fields.ts';
import type { Machine } from '../core/machine/machine.ts';
import { Gathering } from '../core/show/guests/gathering.ts';
import type { EngineReport } from '../core/show/messages.ts';
import type { Source } from '../core/show/sources/source.ts';
import { reduceAll } from '../core/show/reduce.ts';
import { isFollowDue } from '../core/show/runsheet/go.ts';
import { following, nextCue } from '../core/show/runsheet/order.ts';
import { isOnAir, isSourceShown, type Picture, type ShowState } from '../core/show/state.ts';
import type { Motion } from '../core/sound/clap.ts';
import soundKernelsUrl from '../core/sound/kernels/build/sound.wasm?url&no-inline';
import { packHistory, unpackHistory } from '../core/sound/loudness.ts';
import { drainReadings } from '../core/sound/readings.ts';
import type { AboutGuest, IceServer, Signal } from '../core/guests/messages.ts';
import { CameraLines } from './camera-lines.ts';
import { EngineClock } from './engine-clock.ts';
import { GuestDesk } from './guests/guest-desk.ts';
import type { GuestMedia } from './guests/media.ts';
import { Returns, type TalkTo } from './guests/returns.ts';
import { Talkback } from './guests/talkback.ts';
import { Headphones } from './headphones.ts';
import { testMachine } from './machine/machine-test.ts';
import type {
	Armed,
	FromPicture,
	MonitorSubject,
	PicturePlan,
	PictureQuestions,
	ToPicture,
	ViewUrls,
} from './messages.ts';
import { comingStep, onStream } from '../core/show/words/standing.ts';
import { MixRouter, type Captured, type Hearing } from './mix-router.ts';
import type { FromMix, MixOptions } from './mix.worklet.ts';
import mixWorkletUrl from './mix.worklet.ts?worker&url';
import type { Hardware } from './picture/encode.ts';
import { plain } from './plain.ts';
import { Sender } from './sender.ts';
import { FIRST_RETURN, MAX_CHANNELS, MOST_RETURNS, SAMPLE_RATE } from './shared.ts';
import { SourceKeeper } from './source-keeper.ts';
import { OPEN_KINDS } from './sources/open-kinds.ts';
import { sizeOf, type OpenPicture, type SeatMedia, type SourceCondition } from './sources/open-source.ts';
import { engineFailure, type EnginePart, type Trouble } from './trouble.ts';

/** A desk that comes back to a broadcast waits this long for its pictures; until then viewers are held. */
const RESUME_WITHIN_MS = 4000;
/** A sound that does not run so long after it was started is held back; before that it may just be slow. */
const HELD_AFTER_MS = 1000;

/** Steps of guests' connections that wait for the engine to have started. */
const MOST_EARLY = 1000;

/** Builds of the picture kernels, the best first. */
const KERNEL_URLS = [relaxedKernelsUrl, plainKernelsUrl];

export interface EngineEvents {
	/** Conditions of sources by id, whenever one changes. */
	conditions(conditions: ReadonlyMap<string, SourceCondition>): void;
	/** About twice a second. @param blackMs for how long viewers have seen nothing but black */
	report(report: EngineReport, blackMs: number): void;
	/** Something was done by itself, with the frame it was due at. @param dueId of its entry under `live.due` */
	fell(dueId: string): void;
	/** A step of making a connection with a guest, to be told to their page. */
	guestSignal(guestId: string, connection: string, signal: Signal): void;
	/** What comes from guests has changed. */
	guests(): void;
	/** The monitors change with the screen's next frame: what is drawn now changes with the same one. */
	refreshes(): void;
	/** True while the browser holds sound, and with it the clock, back until the person has pressed something. */
	held(isHeld: boolean): void;
	/** What stops the program, or slows it down; null when nothing does any more. */
	trouble(part: EnginePart, trouble: Trouble | null): void;
}

export interface EngineOptions {
	eventId: string;
	/** Size and frame rate, fixed for the engine's life. */
	picture: Picture;
	/** Uplink address, with the page's name in it. */
	uplinkUrl: string;
	/** The socket on which a camera of the network comes. */
	cameraUrl: (cameraId: string) => string;
	/** What encodes video, as a test of this machine has found; asked for when a broadcast begins. */
	hardware?: () => Hardware;
	/** Packed, how loud the broadcast was before this engine came to it. */
	history?: readonly number[];
}

/** A monitor on the desk. */
export interface Monitor {
	/** Size in device pixels. */
	resize(size: { width: number; height: number }): void;
	/** Tells whether anybody can see it; nothing is drawn for nobody. */
	see(seen: boolean): void;
	point(subject: MonitorSubject): void;
	remove(): void;
}

export class Engine {
	#events: EngineEvents;
	#picture: Picture;
	#clock: EngineClock;
	#audio: AudioContext;
	#mixNode: AudioWorkletNode | null = null;
	#mix: MixRouter | null = null;
	#pictureWorker: Worker;
	#questions: Remote<PictureQuestions>;
	#questionsPort: MessagePort;
	#sources: SourceKeeper<ChannelSplitterNode>;
	#sender: Sender;
	#state: ShowState | null = null;
	/** The plan that the picture worker has, and what it does by itself. */
	#postedPlan: PicturePlan | null = null;
	#postedArmed: Armed | null = null;
	/** How often it has said that something was done by itself. */
	#heard = 0;
	/** Messages that the picture worker has been sent, besides the first. */
	#sent = -1;
	#clockOffsetMs = NaN;
	/** Where the views go that are watched from afar. */
	#viewUrls: ViewUrls = {};
	/** Until when a desk that comes back to a broadcast waits for its pictures, by performance.now(). */
	#resumeBy: number | null = null;
	/** The pictures that the picture worker was told to wait for last. */
	#expected = '';
	/** Step of what is given up on a busy machine; see relief.ts. */
	relief = 0;
	#phase: 'new' | 'running' | 'closed' = 'new';
	#closed = Promise.withResolvers<never>();
	#monitorCount = 0;
	#shares = new Map<string, MediaStream>();
	readonly #seats = new Map<string, SeatMedia>();
	readonly #cameras: CameraLines;
	readonly #guests: GuestDesk;
	#returns: Returns | null = null;
	/** What guests sent before there was sound to send back. */
	#early: (() => void)[] = [];
	#talkback: Talkback | null = null;
	#hearing: Hearing = { to: 'nothing' };
	#headphones: Headphones | null = null;
	/** What this machine plays, for stand-ins that hear it. */
	#inRoom: GainNode;

	constructor(
		{ eventId, picture, uplinkUrl, cameraUrl, hardware = () => 'untested', history = [] }: EngineOptions,
		events: EngineEvents,
	) {
		this.#picture = picture;
		this.#events = events;
		this.#clock = new EngineClock(picture.fps);
		unpackHistory(history, this.#clock.memory.history);
		this.#closed.promise.catch(() => {});
		this.#audio = new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
		this.#inRoom = new GainNode(this.#audio);
		this.#pictureWorker = new Worker(new URL('./picture/picture.worker.ts', import.meta.url), {
			type: 'module',
			name: 'picture',
		});
		this.#pictureWorker.onmessage = ({ data }: MessageEvent<FromPicture>) => this.#handlePicture(data);
		const { port1, port2 } = new MessageChannel();
		this.#questions = wrap<PictureQuestions>(port1);
		this.#questionsPort = port2;
		const uplinkWorker = new Worker(new URL('./uplink.worker.ts', import.meta.url), { type: 'module', name: 'uplink' });
		for (const worker of [this.#pictureWorker, uplinkWorker])
			worker.onerror = ({ message }) => events.trouble('engine', { code: 'partStopped', about: { problem: message } });
		this.#sender = new Sender(
			{
				memory: this.#clock.memory,
				uplinkUrl,
				fps: picture.fps,
				hardware,
				toPicture: (message, transfer) => this.#toPicture(message, transfer),
				onSounds: ({ tracks, memory }) => this.#mix?.record(tracks, memory),
				onTrouble: (trouble) => events.trouble('uplink', trouble),
			},
			uplinkWorker,
		);
		this.#cameras = new CameraLines(cameraUrl, (sourceId) => this.#sources.renew(sourceId));
		this.#sources = new SourceKeeper({
			kinds: OPEN_KINDS,
			context: {
				audio: this.#audio,
				eventId,
				picture,
				shares: this.#shares,
				seats: this.#seats,
				cameras: this.#cameras.all,
				inRoom: this.#inRoom,
				clock: this.#clock.forSources,
			},
			showPicture: (source, opened) => this.#showPicture(source, opened),
			hidePicture: (sourceId) => this.#toPicture({ type: 'removeSource', sourceId }),
			split: (sound, inputs) => {
				const splitter = new ChannelSplitterNode(this.#audio, { numberOfOutputs: inputs });
				sound.connect(splitter);
				return splitter;
			},
			onSound: () => this.#state && this.#mix?.follow(this.#state),
			onConditions: (conditions) => {
				events.conditions(conditions);
				if (this.#resumeBy !== null && this.#state) this.#expectPictures(this.#state);
			},
			now: () => Date.now(),
		});
		this.#guests = new GuestDesk({
			send: events.guestSignal,
			returnFor: (guestId) => this.#returns!.trackFor(guestId),
			earGone: (id) => this.#returns?.forget(id),
			changed: () => this.#followGuests(),
			// What cannot be connected is tried again by the guest's page; what goes on without it is told as trouble.
			onProblem: () => {},
		});
	}

	/** Starts clock and workers. @throws {EngineFailure} when this browser cannot */
	async start(): Promise<void> {
		if (!crossOriginIsolated) throw engineFailure('notIsolated', {});
		if (typeof VideoEncoder === 'undefined' || typeof MediaStreamTrackProcessor === 'undefined')
			throw engineFailure('noEncoder', {});
		this.#phase = 'running';
		const { memory } = this.#clock;
		const questions = this.#questionsPort;
		this.#toPicture({ type: 'start', memory, picture: this.#picture, kernelUrls: KERNEL_URLS, questions }, [questions]);
		navigator.mediaDevices?.addEventListener('devicechange', this.#reopen);
		// Sources, picture and uplink take long to start: they do not wait for the sound.
		if (this.#state) this.follow(this.#state);
		// Without a device of its own the clock is exact and no sound leaks into the room.
		const [kernels] = await Promise.all([
			WebAssembly.compileStreaming(fetch(soundKernelsUrl)),
			this.#audio.setSinkId?.({ type: 'none' }),
			this.#audio.audioWorklet.addModule(mixWorkletUrl),
		]);
		// Another page may have taken over meanwhile.
		if (this.#isClosed) return;
		this.#startMix(kernels);
		const tellHeld = () => this.#isClosed || this.#events.held(this.#audio.state === 'suspended');
		this.#audio.onstatechange = tellHeld;
		setTimeout(tellHeld, HELD_AFTER_MS);
	}

	#startMix(kernels: WebAssembly.Module): void {
		const processorOptions: MixOptions = { memory: this.#clock.memory, fps: this.#picture.fps, kernels };
		const node = new AudioWorkletNode(this.#audio, 'bivvo-mix', {
			numberOfInputs: MAX_CHANNELS,
			numberOfOutputs: FIRST_RETURN + MOST_RETURNS,
			outputChannelCount: Array.from({ length: FIRST_RETURN + MOST_RETURNS }, () => 2),
			processorOptions,
		});
		this.#mixNode = node;
		const mix = (this.#mix = new MixRouter(this.#audio, node, (id) => this.#sources.splitterOf(id)));
		node.port.onmessage = ({ data }: MessageEvent<FromMix>) => {
			if (data.type === 'started') this.#clock.start(data.startFrame);
			else mix.handleCaptured(data);
		};
		node.connect(this.#audio.destination, 0);
		this.#returns = new Returns({
			audio: this.#audio,
			mix: node,
			returnOf: (guestId) => mix.returnOf(guestId),
			voiceOf: (guestId) => this.#guests.mediaOf(guestId).voice,
		});
		this.#talkback = new Talkback(this.#audio, this.#returns.talk);
		const { tracks, memory } = this.#sender.sounds;
		mix.record(tracks, memory);
		if (!this.#state) return;
		mix.follow(this.#state);
		mix.hear(this.#hearing, this.#state);
		this.#followGuests();
		for (const receive of this.#early.splice(0)) receive();
	}

	get #isClosed(): boolean {
		return this.#phase === 'closed';
	}

	/** Call from a press or a key: browsers may hold sound back until then. */
	async wake(): Promise<void> {
		if (this.#audio.state === 'suspended') await this.#audio.resume();
	}

	/** Brings everything in line with the show. Safe to call with the same state again. */
	follow(state: ShowState): void {
		this.#state = state;
		if (this.#phase !== 'running') return;
		this.#cameras.follow(state.setup.sources);
		this.#sources.follow(state.setup.sources);
		this.#postPlan(planOf(state));
		this.#arm(state);
		this.#mix?.follow(state);
		this.#guests.follow(state.live.guests);
		this.#followGuests();
		this.#resumeBy ??= isOnAir(state) ? performance.now() + RESUME_WITHIN_MS : 0;
		this.#expectPictures(state);
		// An engine that comes back to a broadcast has no mixer yet: how loud the evening was goes on for it.
		if (this.#sender.follow(state)) this.#mix?.restartLoudness();
	}

	/** Viewers are held until the pictures they shall see are there, or cannot be had. */
	#expectPictures(state: ShowState): void {
		const withinMs = this.#resumeBy! - performance.now();
		if (withinMs <= 0) return;
		const isOpening = (id: string) => this.#sources.conditions.get(id)?.state === 'opening';
		const sourceIds = state.setup.sources.map(({ id }) => id).filter((id) => isOpening(id) && isSourceShown(state, id));
		if (String(sourceIds) === this.#expected) return;
		this.#expected = String(sourceIds);
		this.#toPicture({ type: 'expect', sourceIds, withinMs });
	}

	/** Makes these views for those who watch from afar. @param urls where each goes */
	beWatched(urls: ViewUrls): void {
		if (dequal(urls, this.#viewUrls)) return;
		this.#viewUrls = urls;
		this.#toPicture({ type: 'beWatched', urls });
	}

	/** Tells the picture worker the server's time: what happens at a time happens at the same one everywhere. */
	setClock(offsetMs: number): void {
		if (offsetMs === this.#clockOffsetMs) return;
		this.#clockOffsetMs = offsetMs;
		this.#toPicture({ type: 'clock', offsetMs });
	}

	/** Lets the picture worker do the run sheet's next step by itself, to the frame. */
	#arm(state: ShowState): void {
		const armed = armedOf(state);
		const before = this.#postedArmed;
		const { plan, ...about } = armed ?? { plan: null };
		const { plan: planBefore, ...aboutBefore } = before ?? { plan: null };
		if (dequal(about, aboutBefore) && isSamePlan(plan, planBefore)) return;
		this.#postedArmed = armed;
		this.#toPicture({ type: 'arm', armed: armed && plain(armed), heard: this.#heard });
	}

	/** A fader that moves is no news for the picture. What is the same in two states is one object. */
	#postPlan(plan: PicturePlan): void {
		if (isSamePlan(plan, this.#postedPlan)) return;
		this.#postedPlan = plan;
		this.#toPicture({ type: 'plan', plan: plain(plan), heard: this.#heard });
	}

	/** A step of making a connection with a guest. It waits until there is sound to send back. */
	receiveGuest(guestId: string, connection: string, signal: Signal, iceServers: readonly IceServer[]): void {
		if (this.#isClosed) return;
		const receive = () => {
			this.#guests.iceServers = iceServers;
			this.#guests.receive(guestId, connection, signal);
		};
		if (this.#returns) receive();
		else if (this.#early.length < MOST_EARLY) this.#early.push(receive);
	}

	/** What guests say of themselves. */
	followAboutGuests(about: ReadonlyMap<string, AboutGuest>): void {
		this.#guests.followAbout(about);
	}

	/** What comes from a guest. */
	guestMedia(guestId: string): GuestMedia {
		return this.#guests.mediaOf(guestId);
	}

	/**
	 * Lets the crew's microphone be heard by guests, off air, or not any more.
	 * @throws {SourceFault} when it cannot be opened
	 */
	async talk(to: TalkTo): Promise<void> {
		if (to !== null) await this.#talkback?.open();
		if (this.#state) this.#returns?.follow(this.#state.live.guests, to);
	}

	/** Brings what guests send to their seats, and what they hear back to them. */
	#followGuests(): void {
		if (this.#isClosed || !this.#state) return;
		const wanted = this.#guests.seats;
		for (const { id, kind } of this.#state.setup.sources) {
			if (kind !== 'seat' || dequal(flat(wanted.get(id)), flat(this.#seats.get(id)))) continue;
			const media = wanted.get(id);
			if (media) this.#seats.set(id, media);
			else this.#seats.delete(id);
			this.#sources.renew(id);
		}
		this.#returns?.follow(this.#state.live.guests);
		this.#events.guests();
	}

	#reopen = (): void => this.#sources.reopen();

	/** Gives a source the stream a person has shared for it, now or when the source is added. */
	offerShare(sourceId: string, stream: MediaStream): void {
		this.#shares.set(sourceId, stream);
		this.#sources.reopen();
	}

	#showPicture({ id: sourceId, name }: Source, picture: OpenPicture): number {
		if ('frames' in picture) {
			const { frames } = picture;
			this.#toPicture({ type: 'stream', sourceId, frames }, [frames]);
		} else if ('image' in picture) {
			const { image } = picture;
			this.#toPicture({ type: 'still', sourceId, image }, [image]);
		} else if ('animation' in picture) {
			const { animation: bytes } = picture;
			this.#toPicture({ type: 'animation', sourceId, name, bytes }, [bytes]);
		} else if ('clip' in picture) {
			const { clip: port, memory } = picture;
			this.#toPicture({ type: 'clip', sourceId, port, memory }, [port]);
		} else {
			const { port } = picture;
			this.#toPicture({ type: 'port', sourceId, port }, [port]);
		}
		return this.#sent;
	}

	#handlePicture(message: FromPicture): void {
		switch (message.type) {
			case 'started':
				return;
			case 'failed':
				return this.#events.trouble('engine', message.trouble);
			case 'fell':
				// What was posted meanwhile came too late: the same plan is news now.
				this.#heard++;
				this.#postedPlan = this.#postedArmed = null;
				return this.#events.fell(message.dueId);
			case 'refreshes':
				return this.#events.refreshes();
			case 'animationRead':
				return this.#sources.handleAnimation(message.sourceId, message.size, message.problem);
			case 'report': {
				const { due, encoded, frameMs, relief, blackMs, pictures } = message.report;
				this.#sources.handlePictures(pictures, message.handled);
				this.relief = relief;
				this.#events.report({ due, encoded, frameMs, relief, uplinkQueueBytes: this.#sender.queueBytes }, blackMs);
				const load = (frameMs * this.#picture.fps) / 1000;
				// Off air nobody misses anything, and every desk is busy while it opens.
				const isTold = relief > 0 && this.#state !== null && isOnAir(this.#state);
				this.#events.trouble('machine', isTold ? { code: 'busy', about: { relief, load } } : null);
			}
		}
	}

	#toPicture(message: ToPicture, transfer: Transferable[] = []): void {
		this.#sent++;
		this.#pictureWorker.postMessage(message, transfer);
	}

	/** An answer, or a failure when the engine is closed before it comes. */
	#whileOpen<T>(answer: Promise<T>): Promise<T> {
		return Promise.race([answer, this.#closed.promise]);
	}

	/** The colour of a source's picture at a place in parts of it, before any correction; null without a picture. */
	pickColour(sourceId: string, x: number, y: number): Promise<Yuv | null> {
		return this.#whileOpen(this.#questions.pick(sourceId, x, y));
	}

	/** Frames of a live source in a second; null while that is not known. */
	frameRateOf(sourceId: string): number | null {
		return this.#sources.frameRateOf(sourceId);
	}

	/** How much a source's picture changes from frame to frame, for so many seconds from now on. */
	watchMotion(sourceId: string, seconds: number): Promise<Motion[]> {
		return this.#whileOpen(this.#questions.watch(sourceId, Math.round(seconds * this.#picture.fps)));
	}

	/**
	 * Finds out what this machine can do, in about MACHINE_TEST_S seconds, with the show's own heaviest scenes. It takes all
	 * of the machine meanwhile: not for an event that is on air.
	 */
	testMachine(show: ShowState, signal: AbortSignal): Promise<Machine> {
		const { conditions } = this.#sources;
		return this.#whileOpen(
			testMachine(show, {
				kernelUrls: KERNEL_URLS,
				plan: plain(planOf(show)),
				sample: (sourceIds, frames) => this.#questions.sample(sourceIds, frames),
				sizeOf: (sourceId) => sizeOf(conditions.get(sourceId)),
				signal,
				now: () => Date.now(),
			}),
		);
	}

	/**
	 * Keeps what comes in at channels for so many seconds, before anything is done to it.
	 * @param tone at 48 kHz, played to the headphones from the first sample on that is kept
	 * @throws {EngineFailure} when one of them has no sound
	 */
	async captureSounds(
		channelIds: readonly string[],
		seconds: number,
		tone: Float32Array<ArrayBuffer> | null = null,
	): Promise<Captured> {
		if (!this.#mix) throw engineFailure('channelSilent', {});
		return this.#mix.capture(channelIds, seconds, tone);
	}

	/** What the mix reads since the last call; see core/sound/readings. */
	drainReadings(into: Float32Array): void {
		drainReadings(this.#clock.memory.readings, into);
	}

	/** Packed, how loud the evening has been so far. */
	get loudnessHistory(): number[] {
		return packHistory(this.#clock.memory.history);
	}

	/** The mixer's input of a channel, or null while its source brings no sound. */
	inputOf(channelId: string): number | null {
		return this.#mix?.inputOf(channelId) ?? null;
	}

	/** What the headphones hear; they are played only while there is something. */
	hear(hearing: Hearing): void {
		const { headphones } = this;
		const greenRoom = this.#returns?.greenRoom;
		if (headphones && greenRoom) {
			if (hearing.to === 'greenRoom') greenRoom.connect(headphones.played);
			else greenRoom.disconnect();
		}
		this.#hearing = hearing;
		this.#mix?.hear(hearing, this.#state);
	}

	/** The headphones, or null before the engine has started. Call from a press. */
	get headphones(): Headphones | null {
		if (this.#mixNode && !this.#headphones) {
			this.#headphones = new Headphones(this.#audio, this.#mixNode, 1);
			this.#headphones.played.connect(this.#inRoom);
		}
		return this.#headphones;
	}

	/** Gives a canvas to the engine, which draws the subject on it until the monitor is removed. */
	addMonitor(element: HTMLCanvasElement, subject: MonitorSubject): Monitor {
		const id = `monitor-${this.#monitorCount++}`;
		const canvas = element.transferControlToOffscreen();
		this.#toPicture({ type: 'monitor', id, canvas, subject }, [canvas]);
		return {
			resize: (size) => this.#toPicture({ type: 'monitorSize', id, size }),
			see: (seen) => this.#toPicture({ type: 'monitorSeen', id, seen }),
			point: (to) => this.#toPicture({ type: 'monitorSubject', id, subject: to }),
			remove: () => this.#toPicture({ type: 'removeMonitor', id }),
		};
	}

	/** Ends everything; the engine is of no more use. */
	async close(): Promise<void> {
		// What comes late must not open anything again.
		this.#phase = 'closed';
		this.#closed.reject(engineFailure('closed', {}));
		navigator.mediaDevices?.removeEventListener('devicechange', this.#reopen);
		this.#sources.close();
		this.#cameras.close();
		this.#mix?.close();
		this.#guests.close();
		this.#returns?.close();
		this.#talkback?.close();
		this.#headphones?.close();
		this.#pictureWorker.terminate();
		this.#sender.close();
		await this.#audio.close();
	}
}

/** Tells tracks apart by their names: two objects may stand for one. */
function flat(media: SeatMedia | undefined): (string | undefined)[] {
	return [media?.picture?.id, media?.sound?.id];
}

/** What is the same in two states is one object; drafts are gathered beside the scenes. */
const gathering = { scenes: new Gathering(), drafts: new Gathering() };

function planOf(state: ShowState): PicturePlan {
	const { guests } = state.live;
	const { title, startsAt, timeZone, look, background, scenes, patches, transition } = state.setup;
	const { sources, people, overlays } = withFields(state.setup);
	const { drafts, program, next, take, lever, black, shown, transports, guestScene, hall } = state.live;
	const made = { title, startsAt, timeZone, sources, people, look, background, scenes, overlays, patches, transition };
	const coming = nextCue(state)?.sceneId ?? null;
	return {
		...made,
		scenes: gathering.scenes.of({ scenes, sources, guests }),
		coming,
		drafts: gathering.drafts.of({ scenes: drafts, sources, guests }),
		program,
		next,
		take,
		lever,
		black,
		shown,
		transports,
		holding: holdingCard({ sources, delivery: state.setup.delivery }),
		forGuests: guestScene,
		hall: hall.behind,
		line: onStream(state),
		comingLine: comingStep(state)?.step ?? null,
		languages: state.setup.words.look.stream.fit.languages,
	};
}

/** What is the same in two states is one object. */
function isSamePlan(plan: PicturePlan | null, other: PicturePlan | null): boolean {
	if (plan === null || other === null) return plan === other;
	return Object.entries(plan).every(([name, value]) => other[name as keyof PicturePlan] === value);
}

/** The run sheet's next step that comes by itself, and the plan as it is then. */
function armedOf(state: ShowState): Armed | null {
	const entry = state.live.due.find(({ id }) => isFollowDue(id));
	const next = following(state);
	if (!entry || !next) return null;
	const then = reduceAll(state, [{ type: 'fallDue', dueId: entry.id }], entry.at);
	const ends = isOnAir(state) && !isOnAir(then);
	return { dueId: entry.id, at: entry.at, clipId: next.clipId, ends, plan: planOf(then) };
}
