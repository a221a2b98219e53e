/**
 * Reads a clip from one place on its timeline on: decodes pictures and sound of one file after the other, no further
 * ahead than is needed, and joins them without a seam.
 */
import {
	ALL_FORMATS,
	Input,
	UrlSource,
	VideoSampleSink,
	type InputAudioTrack,
	type InputVideoTrack,
	type VideoSample,
} from 'mediabunny';
import { itemAt, itemLengthMs, itemNumber, type Clip, type ClipItem, type Placed } from '../../core/show/clips/clip.ts';
import { linearGain } from '../../core/sound/ramp.ts';
import { CLIP_RING_SAMPLES } from '../../core/sound/clip-voice.ts';
import { SAMPLE_RATE } from '../shared.ts';
import { setFilled, type ClipMemory } from './clip-memory.ts';
import { moveGate, useGate } from './decode-gate.ts';
import { samplesOf } from './decoded-sound.ts';
import { sourceFault } from './fault.ts';

/** Pictures are decoded so far ahead of what is shown, and sound likewise. */
const PICTURES_AHEAD_MS = 500;
const SOUND_AHEAD_MS = 1000;
/** What of both is there before a clip is ready to be played. */
const PICTURES_READY_MS = 200;
const SOUND_READY_MS = 250;
const SAMPLES_A_MS = SAMPLE_RATE / 1000;

/** A file of the library that is open, with what it has. */
interface OpenFile {
	input: Input;
	picture: InputVideoTrack | null;
	sound: InputAudioTrack | null;
}

export interface ClipReaderParts {
	clip: Pick<Clip, 'items' | 'repeats' | 'shuffled'>;
	urlOf(item: ClipItem): string;
	memory: ClipMemory;
	onFrame(run: number, frame: VideoFrame, positionMs: number): void;
	onReady(run: number): void;
	onFault(error: unknown): void;
}

/** What somebody has asked for. */
interface Asked {
	number: number;
	positionMs: number;
	seed: number;
	/** All that comes from there on, not the first frame alone. */
	ahead: boolean;
	/** Somebody waits for it. */
	hurry: boolean;
}

/** Where a clip is read from, and how far it has come. */
interface Run extends Asked {
	isOver: boolean;
	/** What has been sent of the first picture and the first sound; both make it ready. */
	hasPicture: boolean;
	hasSound: boolean;
	/** Where the last picture that was sent begins. When it is about to be shown, decoding is in a hurry again. */
	toMs: number;
}

export class ClipReader {
	readonly #parts: ClipReaderParts;
	readonly #clip: Clip;
	#files = new Map<string, Promise<OpenFile>>();
	#run: Run | null = null;
	/** How far the clip has been shown, milliseconds on its timeline; whoever waits for that is woken. */
	#reachedMs = 0;
	#waiting: (() => void)[] = [];

	constructor(parts: ClipReaderParts) {
		this.#parts = parts;
		this.#clip = { ...parts.clip, ends: 'stand', leadOutMs: 0 };
	}

	/**
	 * Opens the first file, to see that it can be played.
	 * @returns size of its picture, null for sound alone
	 * @throws {SourceFault} when it cannot be read or decoded
	 */
	async open(): Promise<{ width: number; height: number } | null> {
		const first = this.#clip.items[0]!;
		const { picture } = await this.#fileOf(first);
		return picture && { width: await picture.getDisplayWidth(), height: await picture.getDisplayHeight() };
	}

	/** Reads from another place on; what was read before is of no more use. */
	prepare(asked: Asked): void {
		this.#end();
		this.#reachedMs = asked.positionMs;
		const run: Run = { ...asked, isOver: false, hasPicture: false, hasSound: false, toMs: asked.positionMs };
		this.#run = run;
		const failed = (error: unknown) => run.isOver || this.#parts.onFault(error);
		this.#readPictures(run).catch(failed);
		this.#readSound(run).catch(failed);
	}

	#wake(): void {
		moveGate();
		for (const resolve of this.#waiting.splice(0)) resolve();
	}

	/** Somebody waits for what was asked for last. */
	hurry(): void {
		if (this.#run) this.#run.hurry = true;
		this.#wake();
	}

	reached(positionMs: number): void {
		this.#reachedMs = positionMs;
		this.#wake();
	}

	#end(): void {
		if (this.#run) this.#run.isOver = true;
		this.#wake();
	}

	close(): void {
		this.#end();
		for (const file of this.#files.values()) void file.then(({ input }) => input.dispose()).catch(() => {});
		this.#files.clear();
	}

	/** @throws {SourceFault} */
	#fileOf(item: ClipItem): Promise<OpenFile> {
		const known = this.#files.get(item.mediaId);
		if (known) return known;
		const opened = openFile(item.name, this.#parts.urlOf(item));
		this.#files.set(item.mediaId, opened);
		return opened;
	}

	/** The files from a place on the timeline on. The next one is opened before it is needed. */
	async *#filesFrom(run: Run): AsyncGenerator<{ placed: Placed; file: OpenFile }> {
		let placed = itemAt(this.#clip, run.positionMs, run.seed);
		while (placed && !run.isOver) {
			const file = await this.#fileOf(placed.item);
			const next = itemNumber(this.#clip, placed.number + 1, run.seed);
			if (next) this.#fileOf(next.item).catch(() => {});
			yield { placed, file };
			placed = next;
		}
	}

	async #readPictures(run: Run): Promise<void> {
		for await (const { placed, file } of this.#filesFrom(run)) {
			const { item, startMs } = placed;
			const fromMs = item.inMs + Math.max(0, run.positionMs - startMs);
			if (!file.picture) {
				this.#noteReady(run, 'hasPicture');
				if (!run.ahead) return;
				// The file behind it may have one; a reel that repeats would be gone through without an end.
				await this.#until(run, () => startMs + itemLengthMs(item) <= this.#reachedMs + PICTURES_AHEAD_MS);
				continue;
			}
			// A place on the timeline is one in the file, so much later.
			const later = item.inMs - startMs;
			useGate({
				admits: (ms) => !run.hasPicture || (run.ahead && ms - later <= this.#reachedMs + PICTURES_AHEAD_MS),
				isPaced: () => (run.hasPicture ? run.toMs - this.#reachedMs >= PICTURES_READY_MS : !run.hurry),
				isOver: () => run.isOver,
			});
			const sink = new VideoSampleSink(file.picture);
			for await (const sample of sink.samples(fromMs / 1000, item.outMs / 1000)) {
				const positionMs = Math.max(run.positionMs, startMs + sample.timestamp * 1000 - item.inMs);
				if (run.isOver) {
					sample.close();
					return;
				}
				this.#parts.onFrame(run.number, frameOf(sample), positionMs);
				run.toMs = positionMs;
				if (!run.ahead) return this.#noteReady(run, 'hasPicture');
				if (positionMs - run.positionMs >= PICTURES_READY_MS) this.#noteReady(run, 'hasPicture');
				await this.#until(run, () => positionMs <= this.#reachedMs + PICTURES_AHEAD_MS);
				if (run.isOver) return;
			}
		}
		// A place behind the last picture has none of its own.
		this.#noteReady(run, 'hasPicture');
	}

	async #readSound(run: Run): Promise<void> {
		const from = Math.round(run.positionMs * SAMPLES_A_MS);
		const ring = new RingWriter(this.#parts.memory, from);
		if (!run.ahead) return this.#noteReady(run, 'hasSound');
		const write = async (left: Float32Array, right: Float32Array, gain: number) => {
			ring.write(left, right, gain);
			if (ring.to - from >= SOUND_READY_MS * SAMPLES_A_MS) this.#noteReady(run, 'hasSound');
			await this.#until(run, () => ring.to / SAMPLES_A_MS <= this.#reachedMs + SOUND_AHEAD_MS);
		};
		for await (const { placed, file } of this.#filesFrom(run)) {
			const { item, startMs } = placed;
			const inFileMs = item.inMs + Math.max(0, run.positionMs - startMs);
			const endsAt = Math.round((startMs + itemLengthMs(item)) * SAMPLES_A_MS);
			const gain = linearGain(item.gainDb);
			if (file.sound)
				for await (const [left, right] of samplesOf(file.sound, inFileMs / 1000, item.outMs / 1000)) {
					const room = endsAt - ring.to;
					if (run.isOver || room <= 0) break;
					await write(left.subarray(0, room), right.subarray(0, room), gain);
				}
			// A file whose sound is shorter than its picture, or that has none, is silent to its end.
			while (!run.isOver && ring.to < endsAt) {
				const silence = new Float32Array(Math.min(SAMPLE_RATE / 10, endsAt - ring.to));
				await write(silence, silence, 0);
			}
			if (run.isOver) return;
		}
		this.#noteReady(run, 'hasSound');
	}

	#noteReady(run: Run, what: 'hasPicture' | 'hasSound'): void {
		if (run[what] || run.isOver) return;
		run[what] = true;
		if (run.hasPicture && run.hasSound) this.#parts.onReady(run.number);
	}

	/** Waits until the clip has come far enough, or is read from another place. */
	async #until(run: Run, isFar: () => boolean): Promise<void> {
		while (!run.isOver && !isFar()) await new Promise<void>((resolve) => this.#waiting.push(resolve));
	}
}

/** Writes the sound of a timeline into the ring that the worklet reads. */
class RingWriter {
	readonly #memory: ClipMemory;
	readonly #from: number;
	/** The sample that comes next. */
	to: number;

	constructor(memory: ClipMemory, from: number) {
		this.#memory = memory;
		this.#from = this.to = from;
		setFilled(memory, from, from);
	}

	write(left: Float32Array, right: Float32Array, gain: number): void {
		const { rings } = this.#memory;
		for (const [side, samples] of [left, right].entries())
			for (let i = 0; i < samples.length; i++) rings[side]![(this.to + i) % CLIP_RING_SAMPLES] = gain * samples[i]!;
		this.to += left.length;
		setFilled(this.#memory, Math.max(this.#from, this.to - CLIP_RING_SAMPLES), this.to);
	}
}

/** A codec by the name that says most: that of WebCodecs, or what the file calls it. */
export async function codecOf(track: InputVideoTrack | InputAudioTrack): Promise<string> {
	const inFile = await track.getInternalCodecId();
	const known = (await track.getCodecParameterString()) ?? (await track.getCodec());
	return known ?? (typeof inFile === 'string' ? inFile : '?');
}

/** @throws {SourceFault} when the file is gone, or this browser cannot decode it */
async function openFile(name: string, url: string): Promise<OpenFile> {
	const input = new Input({ source: new UrlSource(url), formats: ALL_FORMATS });
	try {
		const [picture, sound] = [await input.getPrimaryVideoTrack(), await input.getPrimaryAudioTrack()];
		for (const track of [picture, sound]) {
			if (!track || (await track.canDecode())) continue;
			throw sourceFault('codec', { fileName: name, codec: await codecOf(track) });
		}
		if (!picture && !sound) throw sourceFault('nothingToPlay', { fileName: name });
		return { input, picture, sound };
	} catch (error) {
		input.dispose();
		throw error;
	}
}

/** A decoded picture as the picture worker takes it; what it would show wrongly is redrawn by the browser. */
function frameOf(sample: VideoSample): VideoFrame {
	try {
		const { format, rotation, colorSpace, displayWidth, displayHeight, codedWidth, codedHeight } = sample;
		const isPlain = format === 'I420' || format === 'NV12' || format === 'I420A';
		const isUpright = rotation === 0 && displayWidth === codedWidth && displayHeight === codedHeight;
		const isOurColour = !colorSpace.fullRange && (colorSpace.matrix === 'bt709' || !colorSpace.matrix);
		if (isPlain && isUpright && isOurColour) return sample.toVideoFrame();
		const canvas = new OffscreenCanvas(Math.max(2, displayWidth & ~1), Math.max(2, displayHeight & ~1));
		sample.draw(canvas.getContext('2d')!, 0, 0, canvas.width, canvas.height);
		return new VideoFrame(canvas, { timestamp: Math.round(sample.timestamp * 1e6), alpha: 'discard' });
	} finally {
		sample.close();
	}
}
