/**
 * A clip as the picture engine shows it: follows its transport, keeps the frames that come next, and says to the sound
 * where it is. Picture and sound are placed by the same frame's number, so they cannot drift apart.
 */
import type { Compositor } from '../../core/picture/compositor.ts';
import type { PictureInfo } from '../../core/picture/draw-list.ts';
import type { LumaSample } from '../../core/picture/health.ts';
import type { Planes } from '../../core/picture/planes.ts';
import { AT_START, roundMs, type Clip, type Transport } from '../../core/show/clips/clip.ts';
import { setAnchor, type ClipMemory } from '../sources/clip-memory.ts';
import type { FromClip, ToClip } from '../sources/clip-messages.ts';
import { SAMPLE_RATE } from '../shared.ts';
import type { FramePictureInput, Treatment } from './picture-input.ts';
import { ShownFrame } from './shown-frame.ts';

/** A clip stands on its first frame for so long when it is started, while its sound gets under way. */
const START_FRAMES = 2;
/** Time stamps of files are rounded: a frame that is due within this time is due. */
const ROUNDING_MS = 1.5;
/** A transport that was moved no longer ago than this was moved just now; an older one goes on where it should be. */
const JUST_NOW_MS = 1500;
/** What an engine finds that has just started was moved before it. */
const FOUND_MS = 300;

/** The part of a message port that an input needs. */
export interface ClipPort {
	postMessage(message: ToClip): void;
	onmessage: ((event: MessageEvent<FromClip>) => void) | null;
	close(): void;
}

type ClipPart = Pick<Clip, 'items' | 'repeats' | 'shuffled' | 'ends'>;

/** A frame that was decoded, and where on the timeline it begins. */
interface Waiting {
	frame: VideoFrame;
	positionMs: number;
}

export class ClipInput implements FramePictureInput {
	readonly #shown: ShownFrame;
	readonly #port: ClipPort;
	readonly #memory: ClipMemory;
	readonly #fps: number;
	#clip: ClipPart = { items: [], repeats: false, shuffled: false, ends: 'stand' };
	#transport: Transport | null = null;
	#waiting: Waiting[] = [];
	/** The last request to the clip worker, and what has come of it. */
	#run = { number: 0, positionMs: 0, seed: 0, ahead: false, isReady: false };
	/** Where it is: it stands, it waits to be ready, or it plays from a frame on. */
	#place: { is: 'stands' | 'starts'; positionMs: number } | { is: 'plays'; positionMs: number; from: number };
	#isWanted = false;
	/** True behind its end, of one that ends in black. */
	#isBlack = false;
	/** Called with the first frame. */
	onFirst: () => void = () => {};

	constructor(compositor: Compositor, port: ClipPort, memory: ClipMemory, fps: number) {
		this.#shown = new ShownFrame(compositor);
		this.#port = port;
		this.#memory = memory;
		this.#fps = fps;
		this.#place = { is: 'stands', positionMs: 0 };
		port.onmessage = ({ data }) => this.#handleMessage(data);
		this.#prepare(0, 0);
	}

	#handleMessage(message: FromClip): void {
		if (message.run !== this.#run.number) {
			if (message.type === 'frame') message.frame.close();
			return;
		}
		if (message.type === 'ready') {
			this.#run.isReady = true;
			return;
		}
		const isFirst = this.#shown.frame === null;
		this.#waiting.push({ frame: message.frame, positionMs: message.positionMs });
		// What is seen first is seen at once, also by those who look at it without playing it.
		if (this.#place.is !== 'plays') this.#showUntil(this.#place.positionMs);
		if (isFirst) this.onFirst();
	}

	/**
	 * Takes what the show says of it.
	 * @param isWanted it is in the program or in Next
	 * @param frame number of the frame that is made next
	 * @param now milliseconds since 1970 when that falls due
	 */
	follow(clip: ClipPart, transport: Transport | undefined, isWanted: boolean, frame: number, now: number): void {
		this.#clip = clip;
		this.#isWanted = isWanted;
		const before = this.#transport;
		const after = (this.#transport = transport ?? { ...AT_START });
		if (before?.count !== after.count) this.#move(after, before !== null, frame, now);
		else if (this.#isNeeded !== this.#run.ahead && this.#place.is !== 'plays')
			this.#prepare(this.#place.positionMs, this.#run.seed);
	}

	#move({ playing, positionMs, since, seed }: Transport, isNews: boolean, frame: number, now: number): void {
		const gone = playing ? now - since : 0;
		const place = positionMs + (gone > (isNews ? JUST_NOW_MS : FOUND_MS) ? gone : 0);
		const isInOrder = !this.#clip.shuffled || this.#run.seed === seed;
		const isThere = this.#run.positionMs === place && isInOrder && this.#place.is !== 'plays';
		this.#place = { is: playing ? 'starts' : 'stands', positionMs: place };
		if (!playing) setAnchor(this.#memory, false, this.#sampleOf(frame), 0);
		// A reel that begins in another order begins with another file.
		if (!isThere || this.#isNeeded !== this.#run.ahead) this.#prepare(place, seed);
		else if (playing && !this.#run.isReady) this.#port.postMessage({ type: 'hurry' });
	}

	get #isNeeded(): boolean {
		return this.#isWanted || this.#place.is !== 'stands';
	}

	#prepare(positionMs: number, seed: number): void {
		const number = this.#run.number + 1;
		const ahead = this.#isNeeded;
		this.#run = { number, positionMs, seed, ahead, isReady: false };
		for (const { frame } of this.#waiting.splice(0)) frame.close();
		const hurry = this.#place.is === 'starts';
		this.#port.postMessage({ type: 'prepare', run: number, positionMs, seed, ahead, hurry });
	}

	/**
	 * Shows what belongs to a frame of the program.
	 * @param newest the last frame that has fallen due: where frames are made late, the sound is further on already
	 */
	chooseFrame(frame: number, newest: number): void {
		if (this.#place.is === 'starts' && this.#run.isReady) {
			const from = newest + START_FRAMES;
			const { positionMs } = this.#place;
			this.#place = { is: 'plays', positionMs, from };
			setAnchor(this.#memory, true, this.#sampleOf(from), Math.round((positionMs * SAMPLE_RATE) / 1000));
		}
		this.#isBlack = this.#clip.ends === 'black' && this.isOverAt(frame);
		if (this.#place.is !== 'plays') return;
		const positionMs = this.#positionAt(frame);
		this.#showUntil(positionMs);
		this.#port.postMessage({ type: 'reached', positionMs });
	}

	#showUntil(positionMs: number): void {
		while (this.#waiting.length > 0 && this.#waiting[0]!.positionMs <= positionMs + ROUNDING_MS)
			this.#shown.show(this.#waiting.shift()!.frame);
	}

	#positionAt(frame: number): number {
		const place = this.#place;
		if (place.is !== 'plays') return place.positionMs;
		return place.positionMs + (Math.max(0, frame - place.from) * 1000) / this.#fps;
	}

	#sampleOf(frame: number): number {
		return Math.round((frame * SAMPLE_RATE) / this.#fps);
	}

	/** True when its last frame has been shown for as long as it lasts, by the time a frame falls due. */
	isOverAt(frame: number): boolean {
		if (this.#place.is !== 'plays' || this.#clip.repeats) return false;
		return this.#positionAt(frame) >= roundMs(this.#clip) - ROUNDING_MS;
	}

	get frame(): VideoFrame | null {
		return this.#shown.frame;
	}

	get info(): PictureInfo | null {
		return this.#shown.info;
	}

	get untouched(): VideoFrame | null {
		return this.#isBlack ? null : this.#shown.untouched;
	}

	get sample(): LumaSample | null {
		return this.#shown.sample;
	}

	readonly uncertain = false;

	treat(treatment: Treatment | null): void {
		this.#shown.treat(treatment);
	}

	/** Nothing where it ended in black, which is what is painted then. */
	planesAt(): Promise<Planes | null> | null {
		return this.#isBlack ? null : this.#shown.planesAt();
	}

	close(): Promise<void> {
		this.#port.onmessage = null;
		this.#port.close();
		for (const { frame } of this.#waiting.splice(0)) frame.close();
		return this.#shown.close();
	}
}
