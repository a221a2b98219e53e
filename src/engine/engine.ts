/**
 * The engine of an event, as the page owns it: sound context, workers, sources, uplink. It follows the show
 * state it is given and reports how things go; it decides nothing about the show.
 */
import type { EngineReport } from '../core/show/messages.ts';
import { packHistory, unpackHistory } from '../core/sound/loudness.ts';
import { mixPlan } from '../core/sound/mix-plan.ts';
import { takeReadings } from '../core/sound/readings.ts';
import { type Yuv } from '../core/picture/colour.ts';
import type { PictureFault } from '../core/picture/health.ts';
import { holdingCard, planDelivery } from '../core/show/delivery/delivery.ts';
import type { Source } from '../core/show/sources/source.ts';
import type { ChannelTrack } from '../core/show/delivery/tracks.ts';
import { isOnAir, isSourceShown, type Picture, type ShowState } from '../core/show/state.ts';
import kernelsUrl from '../core/picture/kernels/build/kernels.wasm?url';
import type { FromPicture, FromUplink, MonitorSubject, PicturePlan, ToPicture, ToUplink } from './messages.ts';
import mixWorkletUrl from './mix.worklet.ts?worker&url';
import type { Group } from '../core/show/mix/mix.ts';
import type { Motion } from '../core/sound/clap.ts';
import type { Listened } from '../core/sound/mixer.ts';
import { Headphones } from './headphones.ts';
import type { FromMix, MixOptions, ToMix } from './mix.worklet.ts';
import { makeSharedMemory, makeTrackMemory, MAX_CHANNELS, SAMPLE_RATE, type TrackMemory } from './shared.ts';
import { isDrawn, openSource, type OpenSource, type SourceCondition } from './source.ts';

const RETRY_MS = 2000;
/** A camera that brings no new frame for this long is lost, whatever the system says of it. */
const SILENT_MS = 1000;
/** A device that stands still for this long is opened anew; some wake up from that. */
const STUCK_MS = 5000;
/** A desk that comes back to a broadcast waits this long for its pictures; until then viewers are held. */
const RESUME_WITHIN_MS = 4000;

/** A sound that does not run so long after it was started is held back; before that it may just be slow. */
const HELD_AFTER_MS = 1000;

/** Parts that can have a trouble of their own. */
export type EnginePart = 'engine' | 'uplink' | 'machine';

export interface EngineEvents {
	/** Conditions of sources by id, whenever one changes. */
	conditions(conditions: ReadonlyMap<string, SourceCondition>): void;
	/** About twice a second. */
	report(report: EngineReport): void;
	/** True while the browser holds sound, and with it the clock, back until the person has pressed something. */
	held(isHeld: boolean): void;
	/** What stops the program, in words; empty when nothing does any more. */
	trouble(part: EnginePart, sentence: string): void;
}

/** What the person at the desk hears in the headphones. */
export type Hearing = { to: 'nothing' | 'mix' } | { to: 'channel'; channelId: string } | { to: 'group'; group: Group };

/** What came in at some channels, one side of each, from a time on the engine's clock on. */
export interface Captured {
	startMs: number;
	sounds: Float32Array<ArrayBuffer>[];
}

/** A source being kept open. */
interface Kept {
	source: Source;
	open: OpenSource | null;
	opening: boolean;
	closed: boolean;
	/** Its sound's inputs, apart. */
	splitter: ChannelSplitterNode | null;
	retry: ReturnType<typeof setTimeout> | undefined;
}

export class Engine {
	#events: EngineEvents;
	#picture: Picture;
	#memory = makeSharedMemory();
	#audio: AudioContext;
	#mix: AudioWorkletNode | null = null;
	#pictureWorker: Worker;
	#uplinkWorker: Worker;
	#startFrame = Promise.withResolvers<number>();
	#kept = new Map<string, Kept>();
	#conditions = new Map<string, SourceCondition>();
	#state: ShowState | null = null;
	/** The plan that the picture worker has. */
	#told: PicturePlan | null = null;
	/** Channels that are connected: which of a source's inputs go to which of the mixer's. */
	#patched = new Map<
		string,
		{ splitter: ChannelSplitterNode; from: string; merger: ChannelMergerNode; input: number }
	>();
	#toldMix = '';
	/** Timed fades that the mixer knows of. */
	#fades: number | null = null;
	/** Sounds that are recorded apart, with their places among all tracks. */
	#soundTracks: (ChannelTrack & { index: number })[] = [];
	#trackMemory: TrackMemory = { rings: [], indices: [] };
	/** What the mixer was told of them last. */
	#recorded: { memory: TrackMemory | null; inputs: string } = { memory: null, inputs: '' };
	#sending = false;
	/** Until when a desk that comes back to a broadcast waits for its pictures, by performance.now(). */
	#resumeBy: number | null = null;
	/** The pictures that the picture worker was told to wait for last. */
	#expected = '';
	#uplinkBytes = 0;
	/** Step of what is given up on a busy machine; see relief.ts. */
	relief = 0;
	#phase: 'new' | 'running' | 'closed' = 'new';
	#monitorCount = 0;
	#shares = new Map<string, MediaStream>();
	#picks = new Map<number, (colour: Yuv | null) => void>();
	#watches = new Map<number, (motion: Motion[]) => void>();
	#captures = new Map<number, (captured: Captured) => void>();
	/** Names what is asked of workers. */
	#questions = 0;
	#hearing: Hearing = { to: 'nothing' };
	#headphones: Headphones | null = null;
	/** What this machine plays, for stand-ins that hear it. */
	#inRoom: GainNode;

	/**
	 * @param picture size and pace, fixed for the engine's life
	 * @param history packed, how loud the broadcast was before this engine came to it
	 */
	constructor(picture: Picture, events: EngineEvents, history: readonly number[] = []) {
		this.#picture = picture;
		unpackHistory(history, this.#memory.history);
		this.#events = events;
		this.#audio = new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
		this.#inRoom = new GainNode(this.#audio);
		this.#pictureWorker = new Worker(new URL('./picture.worker.ts', import.meta.url), {
			type: 'module',
			name: 'picture',
		});
		this.#uplinkWorker = new Worker(new URL('./uplink.worker.ts', import.meta.url), { type: 'module', name: 'uplink' });
		this.#pictureWorker.onmessage = ({ data }: MessageEvent<FromPicture>) => this.#takePicture(data);
		this.#uplinkWorker.onmessage = ({ data }: MessageEvent<FromUplink>) => this.#takeUplink(data);
		for (const worker of [this.#pictureWorker, this.#uplinkWorker])
			worker.onerror = ({ message }) =>
				events.trouble('engine', `A part of the engine stopped (${message}). Reload the desk.`);
	}

	/** Uplink address, with the page's name in it; set before going on air. */
	uplinkUrl = '';

	/** Starts clock and workers. @throws with a sentence when this browser cannot. */
	async start(): Promise<void> {
		if (!crossOriginIsolated)
			throw new Error(
				'This page is not isolated, so the engine has no shared memory. Open Bivvo at the address it printed.',
			);
		if (typeof VideoEncoder === 'undefined' || typeof MediaStreamTrackProcessor === 'undefined')
			throw new Error('This browser cannot encode the program. Use a current Chromium, Chrome or Edge.');
		this.#phase = 'running';
		this.#toPicture({ type: 'start', memory: this.#memory, picture: this.#picture, kernelsUrl });
		navigator.mediaDevices?.addEventListener('devicechange', this.#reopenLost);
		// Sources, picture and uplink take long to start: they do not wait for the sound.
		if (this.#state) this.follow(this.#state);
		// Without a device of its own the clock is exact and no sound leaks into the room.
		await Promise.all([this.#audio.setSinkId?.({ type: 'none' }), this.#audio.audioWorklet.addModule(mixWorkletUrl)]);
		// Another page may have taken over meanwhile.
		if (this.#isClosed) return;
		const processorOptions: MixOptions = { memory: this.#memory, fps: this.#picture.fps };
		this.#mix = new AudioWorkletNode(this.#audio, 'bivvo-mix', {
			numberOfInputs: MAX_CHANNELS,
			numberOfOutputs: 2,
			outputChannelCount: [2, 2],
			processorOptions,
		});
		this.#mix.port.onmessage = ({ data }: MessageEvent<FromMix>) => this.#takeMix(data);
		this.#mix.connect(this.#audio.destination, 0);
		if (this.#state) this.#mixChannels(this.#state);
		const tellHeld = () => this.#isClosed || this.#events.held(this.#audio.state === 'suspended');
		this.#audio.onstatechange = tellHeld;
		setTimeout(tellHeld, HELD_AFTER_MS);
	}

	get #isClosed(): boolean {
		return this.#phase === 'closed';
	}

	/** Call from a press or a key: browsers may hold sound back until then. */
	async wake(): Promise<void> {
		if (this.#audio.state === 'suspended') await this.#audio.resume();
	}

	/** What the mix has to tell since the last call; see core/sound/readings. */
	takeReadings(into: Float32Array): void {
		takeReadings(this.#memory.readings, into);
	}

	/** Packed, how loud the evening has been so far. */
	get loudnessHistory(): number[] {
		return packHistory(this.#memory.history);
	}

	/** The mixer's input of a channel, or null while its source brings no sound. */
	inputOf(channelId: string): number | null {
		return this.#patched.get(channelId)?.input ?? null;
	}

	/** Brings everything in line with the show. Safe to call with the same state again. */
	follow(state: ShowState): void {
		this.#state = state;
		if (this.#phase === 'new' || this.#isClosed) return;
		this.#keepSources(state.setup.sources);
		this.#tellPlan(planOf(state));
		this.#mixChannels(state);
		this.#resumeBy ??= isOnAir(state) ? performance.now() + RESUME_WITHIN_MS : 0;
		this.#expectPictures(state);
		if (isOnAir(state) !== this.#sending) this.#setSending(state);
	}

	/** Viewers are held until the pictures they shall see are there, or cannot be had. */
	#expectPictures(state: ShowState): void {
		const withinMs = this.#resumeBy! - performance.now();
		if (withinMs <= 0) return;
		const isOpening = (id: string) => this.#conditions.get(id)?.state === 'opening';
		const sourceIds = state.setup.sources.map(({ id }) => id).filter((id) => isOpening(id) && isSourceShown(state, id));
		if (String(sourceIds) === this.#expected) return;
		this.#expected = String(sourceIds);
		this.#toPicture({ type: 'expect', sourceIds, withinMs });
	}

	#keepSources(sources: readonly Source[]): void {
		for (const [id, kept] of this.#kept) {
			const now = sources.find((source) => source.id === id);
			// What the engine draws follows its origin by itself.
			if (now && (isDrawn(now) || JSON.stringify(now.origin) === JSON.stringify(kept.source.origin))) {
				kept.source = now;
				continue;
			}
			this.#drop(kept);
		}
		for (const source of sources) {
			if (this.#kept.has(source.id)) continue;
			const kept: Kept = { source, open: null, opening: false, closed: false, splitter: null, retry: undefined };
			this.#kept.set(source.id, kept);
			this.#setCondition(source.id, 'opening', '');
			if (isDrawn(source)) this.#setCondition(source.id, 'live', '', this.#picture);
			else void this.#open(kept);
		}
	}

	/** A fader that moves is no news for the picture. What is the same in two states is one object. */
	#tellPlan(plan: PicturePlan): void {
		const before = this.#told;
		if (before && Object.entries(plan).every(([name, value]) => before[name as keyof PicturePlan] === value)) return;
		this.#told = plan;
		this.#toPicture({ type: 'plan', plan: plain(plan) });
	}

	/** Gives a source the stream a person has shared for it, now or when the source is added. */
	offerShare(sourceId: string, stream: MediaStream): void {
		this.#shares.set(sourceId, stream);
		const kept = this.#kept.get(sourceId);
		if (kept && !kept.open) void this.#open(kept);
	}

	/** The colour of a source's picture at a place in parts of it, before any correction; null without a picture. */
	pickColour(sourceId: string, x: number, y: number): Promise<Yuv | null> {
		const id = this.#questions++;
		this.#toPicture({ type: 'pick', sourceId, x, y, id });
		return new Promise((resolve) => this.#picks.set(id, resolve));
	}

	/**
	 * Keeps what comes in at channels for so many seconds, before anything is done to it.
	 * @throws with a sentence when one of them has no sound
	 */
	async captureSounds(channelIds: readonly string[], seconds: number): Promise<Captured> {
		const inputs = channelIds.map((id) => this.inputOf(id));
		if (!inputs.every((input) => input !== null)) throw new Error('One of these channels has no sound now.');
		const id = this.#questions++;
		this.#toMix({ type: 'capture', id, inputs, samples: seconds * SAMPLE_RATE });
		return new Promise((resolve) => this.#captures.set(id, resolve));
	}

	/** How much a source's picture changes from frame to frame, for so many seconds from now on. */
	watchMotion(sourceId: string, seconds: number): Promise<Motion[]> {
		const id = this.#questions++;
		this.#toPicture({ type: 'watch', sourceId, frames: Math.round(seconds * this.#picture.fps), id });
		return new Promise((resolve) => this.#watches.set(id, resolve));
	}

	/** What the headphones hear; they are played only while there is something. */
	hear(hearing: Hearing): void {
		this.#hearing = hearing;
		if (this.#state) this.#tellHearing(this.#state);
	}

	/** The headphones, or null before the engine has started. Call from a press. */
	get headphones(): Headphones | null {
		if (this.#mix && !this.#headphones) {
			this.#headphones = new Headphones(this.#audio, this.#mix, 1);
			this.#headphones.played.connect(this.#inRoom);
		}
		return this.#headphones;
	}

	#tellHearing(state: ShowState): void {
		const hearing = this.#hearing;
		const listened = ((): Listened => {
			if (hearing.to === 'channel') {
				const input = this.inputOf(hearing.channelId);
				return input === null ? { to: 'nothing' } : { to: 'channel', input };
			}
			if (hearing.to !== 'group') return hearing;
			const ids = state.setup.channels.filter(({ group }) => group === hearing.group).map(({ id }) => id);
			return { to: 'group', inputs: ids.map((id) => this.inputOf(id)).filter((input) => input !== null) };
		})();
		this.#toMix({ type: 'listen', listened });
	}

	#takeMix(message: FromMix): void {
		if (message.type === 'started') return this.#startFrame.resolve(message.startFrame);
		const { id, startSample, sounds } = message;
		this.#captures.get(id)?.({ startMs: (1000 * startSample) / SAMPLE_RATE, sounds });
		this.#captures.delete(id);
	}

	async #open(kept: Kept): Promise<void> {
		if (kept.opening || kept.open || kept.closed || isDrawn(kept.source)) return;
		kept.opening = true;
		clearTimeout(kept.retry);
		const { source } = kept;
		try {
			const clock = { control: this.#memory.control, fps: this.#picture.fps, startFrame: this.#startFrame.promise };
			const { eventId } = this.#state!;
			const open = await openSource(source, {
				audio: this.#audio,
				eventId,
				shares: this.#shares,
				clock,
				inRoom: this.#inRoom,
			});
			if (kept.closed) return open.close();
			kept.open = open;
			open.onLost = (reason) => this.#lose(kept, reason);
			this.#connect(kept, open);
			if (!open.picture) this.#setCondition(source.id, 'live', '');
		} catch (error) {
			this.#setCondition(source.id, 'lost', (error as Error).message);
			this.#openLater(kept);
		} finally {
			kept.opening = false;
		}
	}

	#connect(kept: Kept, open: OpenSource): void {
		const { id: sourceId } = kept.source;
		if (open.picture && 'frames' in open.picture) {
			const { frames } = open.picture;
			this.#pictureWorker.postMessage({ type: 'stream', sourceId, frames } satisfies ToPicture, [frames]);
		} else if (open.picture && 'image' in open.picture) {
			const { image } = open.picture;
			const size = { width: image.width, height: image.height };
			this.#pictureWorker.postMessage({ type: 'still', sourceId, image } satisfies ToPicture, [image]);
			// Only now: who waits for the picture must find it there.
			this.#setCondition(sourceId, 'live', '', size);
		} else if (open.picture && 'animation' in open.picture) {
			const { animation: bytes } = open.picture;
			const { name } = kept.source;
			this.#pictureWorker.postMessage({ type: 'animation', sourceId, name, bytes } satisfies ToPicture, [bytes]);
		} else if (open.picture) {
			const { port } = open.picture;
			this.#pictureWorker.postMessage({ type: 'port', sourceId, port } satisfies ToPicture, [port]);
		}
		if (open.sound) {
			kept.splitter = new ChannelSplitterNode(this.#audio, { numberOfOutputs: open.inputs ?? 2 });
			open.sound.connect(kept.splitter);
			if (this.#state) this.#mixChannels(this.#state);
		}
	}

	#disconnect(kept: Kept): void {
		if (kept.open?.picture) this.#toPicture({ type: 'removeSource', sourceId: kept.source.id });
		kept.open?.sound?.disconnect();
		kept.open?.close();
		kept.open = null;
		kept.splitter?.disconnect();
		kept.splitter = null;
		if (this.#state) this.#mixChannels(this.#state);
	}

	#lose(kept: Kept, reason: string): void {
		if (kept.closed || !kept.open) return;
		kept.open.onLost = null;
		this.#disconnect(kept);
		this.#setCondition(kept.source.id, 'lost', reason);
		this.#openLater(kept);
	}

	/** What a person has to share again does not come back by itself. */
	#openLater(kept: Kept): void {
		if (kept.source.origin.from !== 'share') kept.retry = setTimeout(() => void this.#open(kept), RETRY_MS);
	}

	#drop(kept: Kept): void {
		kept.closed = true;
		clearTimeout(kept.retry);
		this.#disconnect(kept);
		this.#kept.delete(kept.source.id);
		this.#shares.delete(kept.source.id);
		this.#conditions.delete(kept.source.id);
		this.#events.conditions(this.#conditions);
	}

	#reopenLost = (): void => {
		for (const kept of this.#kept.values()) if (!kept.open) void this.#open(kept);
	};

	#setCondition(
		sourceId: string,
		state: SourceCondition['state'],
		reason: string,
		size?: { width: number; height: number },
	): void {
		const old = this.#conditions.get(sourceId);
		const { width, height } = size ?? old ?? { width: 0, height: 0 };
		if (old?.state === state && old.reason === reason && old.width === width && old.height === height) return;
		const since = old?.state === state && (old.reason === '') === (reason === '') ? old.since : Date.now();
		this.#conditions.set(sourceId, { state, since, reason, width, height });
		this.#events.conditions(this.#conditions);
		if (this.#resumeBy !== null) this.#expectPictures(this.#state!);
	}

	/** Brings each channel's inputs to the mixer and tells it what to do with them. */
	#mixChannels(state: ShowState): void {
		if (!this.#mix) return;
		for (const [id, patched] of this.#patched) {
			const channel = state.setup.channels.find((each) => each.id === id);
			const splitter = channel && this.#kept.get(channel.sourceId)?.splitter;
			if (splitter === patched.splitter && String(channel!.inputs) === patched.from) continue;
			patched.merger.disconnect();
			this.#patched.delete(id);
		}
		for (const { id, sourceId, inputs } of state.setup.channels) {
			const splitter = this.#kept.get(sourceId)?.splitter;
			if (!splitter || this.#patched.has(id)) continue;
			const used = new Set([...this.#patched.values()].map(({ input }) => input));
			const input = Array.from({ length: MAX_CHANNELS }, (_, i) => i).find((i) => !used.has(i));
			if (input === undefined) continue;
			const merger = new ChannelMergerNode(this.#audio, { numberOfInputs: inputs.length });
			// Of a source with one input alone, that is both sides.
			inputs.forEach((from, side) => splitter.connect(merger, Math.min(from, splitter.numberOfOutputs - 1), side));
			merger.connect(this.#mix, 0, input);
			this.#patched.set(id, { splitter, from: String(inputs), merger, input });
		}
		this.#recordTracks();
		const { count } = state.live.fade;
		const fading = this.#fades !== null && count !== this.#fades;
		this.#fades = count;
		const plan = mixPlan(state, (id) => this.inputOf(id), MAX_CHANNELS, fading);
		const told = JSON.stringify(plan);
		if (told === this.#toldMix) return;
		this.#toldMix = told;
		if (this.#hearing.to !== 'nothing') this.#tellHearing(state);
		this.#toMix({ type: 'plan', plan: plain(plan) });
	}

	#toMix(message: ToMix): void {
		this.#mix?.port.postMessage(message);
	}

	#setSending(state: ShowState): void {
		this.#sending = isOnAir(state);
		if (!this.#sending) {
			this.#toPicture({ type: 'stopEncoding' });
			this.#soundTracks = [];
			this.#uplinkWorker.postMessage({ type: 'stop' } satisfies ToUplink);
			return;
		}
		// How loud the evening is counts from here on. An engine that comes back to a broadcast has no mixer yet, so that
		// this does not reach it.
		this.#toMix({ type: 'restartLoudness' });
		const { port1, port2 } = new MessageChannel();
		const session = crypto.randomUUID();
		const url = `${this.uplinkUrl}&session=${session}`;
		this.#soundTracks = tracksOf(state).flatMap(({ track, index }) =>
			track.kind === 'channel' ? [{ ...track, index }] : [],
		);
		const memory = this.#memory;
		const tracks = (this.#trackMemory = makeTrackMemory(this.#soundTracks));
		this.#recordTracks();
		this.#uplinkWorker.postMessage({ type: 'start', memory, tracks, url, port: port2 } satisfies ToUplink, [port2]);
		this.#sendPictures(state, port1);
	}

	#sendPictures(state: ShowState, port: MessagePort): void {
		// A broadcast that was begun by a former version has none.
		const kept = state.live.broadcast!.renditions;
		const renditions = plain(kept.length > 0 ? kept : planDelivery(state).renditions);
		const tracks = tracksOf(state).flatMap(({ track, index }) => (track.kind === 'source' ? [{ track, index }] : []));
		this.#pictureWorker.postMessage({ type: 'encode', renditions, tracks, port } satisfies ToPicture, [port]);
	}

	/** Tells the mixer where the sounds that are recorded apart come in now. */
	#recordTracks(): void {
		if (!this.#mix) return;
		const inputs = this.#soundTracks.map(({ id }) => this.inputOf(id) ?? -1);
		const told = String(inputs);
		if (this.#trackMemory === this.#recorded.memory && told === this.#recorded.inputs) return;
		this.#recorded = { memory: this.#trackMemory, inputs: told };
		this.#toMix({ type: 'record', rings: this.#trackMemory.rings, inputs });
	}

	#takePicture(message: FromPicture): void {
		if (message.type === 'failed') return this.#events.trouble('engine', message.reason);
		if (message.type === 'picked') {
			this.#picks.get(message.id)?.(message.colour);
			this.#picks.delete(message.id);
			return;
		}
		if (message.type === 'watched') {
			this.#watches.get(message.id)?.(message.motion);
			this.#watches.delete(message.id);
			return;
		}
		if (message.type === 'animationRead') {
			const { sourceId, size, problem } = message;
			if (this.#kept.has(sourceId)) this.#setCondition(sourceId, problem ? 'lost' : 'live', problem, size);
			return;
		}
		if (message.type !== 'report') return;
		for (const { sourceId, size, silentMs, problem, fault, uncertain } of message.pictures) {
			const kept = this.#kept.get(sourceId);
			if (!kept?.open) continue;
			const { name } = kept.source;
			if (problem) this.#setCondition(sourceId, 'lost', `${name} ${problem}.`, size ?? undefined);
			// A shared window may well stand still.
			else if (size && (silentMs < SILENT_MS || kept.source.kind === 'screen'))
				this.#setCondition(
					sourceId,
					'live',
					uncertain ? lostPage(name) : faultWords(name, kept.source.kind, fault),
					size,
				);
			else if (size) {
				const reason = `${name} sends no new pictures. Check its cable and its power.`;
				if (silentMs > STUCK_MS && kept.source.origin.from === 'device') this.#lose(kept, reason);
				else this.#setCondition(sourceId, 'lost', reason);
			}
		}
		const { due, encoded, frameMs, relief } = message;
		this.relief = relief;
		this.#events.report({ due, encoded, frameMs, relief, uplinkQueueBytes: this.#uplinkBytes });
		this.#events.trouble('machine', busyWords(relief, (frameMs * this.#picture.fps) / 1000));
	}

	#takeUplink(message: FromUplink): void {
		if (message.type === 'queue') this.#uplinkBytes = message.bytes;
		else if (message.type === 'state' && message.state === 'lost')
			this.#events.trouble(
				'uplink',
				`The desk has lost the server${message.reason ? ` (${message.reason})` : ''}. It tries again by itself.`,
			);
		else this.#events.trouble('uplink', '');
	}

	#toPicture(message: ToPicture): void {
		this.#pictureWorker.postMessage(message);
	}

	/** Gives a canvas to the engine, which draws the subject on it until the monitor is removed. */
	addMonitor(element: HTMLCanvasElement, subject: MonitorSubject): Monitor {
		const id = `monitor-${this.#monitorCount++}`;
		const canvas = element.transferControlToOffscreen();
		this.#pictureWorker.postMessage({ type: 'monitor', id, canvas, subject } satisfies ToPicture, [canvas]);
		return {
			resize: (size) => this.#toPicture({ type: 'monitorSize', id, size }),
			point: (to) => this.#toPicture({ type: 'monitorSubject', id, subject: to }),
			remove: () => this.#toPicture({ type: 'removeMonitor', id }),
		};
	}

	/** Ends everything; the engine is of no more use. */
	async close(): Promise<void> {
		// What comes late must not open anything again.
		this.#phase = 'closed';
		navigator.mediaDevices?.removeEventListener('devicechange', this.#reopenLost);
		for (const kept of [...this.#kept.values()]) this.#drop(kept);
		this.#headphones?.close();
		this.#pictureWorker.terminate();
		this.#uplinkWorker.terminate();
		await this.#audio.close();
	}
}

function lostPage(name: string): string {
	return `It is not certain where the page of ${name} has gone, so all of it is patched. Scroll back, or place the patch again.`;
}

function faultWords(name: string, kind: Source['kind'], fault: PictureFault): string {
	if (kind !== 'camera' || !fault) return '';
	if (fault === 'black') return `${name} is black. Is its lens covered, or its light off?`;
	return `${name} stands still. Check the camera and its cable, or take another scene.`;
}

/** What was given up for the viewers' sake. */
function busyWords(relief: number, load: number): string {
	if (relief === 0) return '';
	const what = [
		'the wall is refreshed less often',
		'the wall and the large pictures are refreshed less often',
		'viewers get every other picture, and the desk fewer',
	][relief - 1]!;
	const busy =
		load > 0.5 ? `is busy (${Math.min(100, Math.round(100 * load))} % of the time for each picture)` : 'was too busy';
	const advice = relief < 3 ? 'Viewers come first.' : 'Close other programs, or choose a smaller picture next time.';
	return `This machine ${busy}, so ${what}. ${advice}`;
}

/** A monitor on the desk. */
export interface Monitor {
	/** Size in device pixels. */
	resize(size: { width: number; height: number }): void;
	point(subject: MonitorSubject): void;
	remove(): void;
}

function planOf(state: ShowState): PicturePlan {
	const { title, startsAt, sources, people, background, scenes, overlays, patches, transition } = state.setup;
	const { drafts, program, next, take, lever, black, shown } = state.live;
	const made = { title, startsAt, sources, people, background, scenes, overlays, patches, transition };
	return { ...made, drafts, program, next, take, lever, black, shown, holding: holdingCard(state.setup) };
}

/** What is recorded apart, with its place among all. */
function tracksOf(state: ShowState) {
	return plain(state.live.broadcast!.tracks).map((track, index) => ({ track, index }));
}

/** A copy without proxies, fit for a message. */
function plain<T>(value: T): T {
	return JSON.parse(JSON.stringify(value)) as T;
}
