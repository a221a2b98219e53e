/**
 * What is sent while nothing comes from the engine: a short loop of the holding card, encoded beforehand with the
 * program's own settings, and silence, on the same line of time.
 */
import { silentAacFrame } from './silence.ts';
import type { AudioConfig, MediaPacket } from './uplink.ts';

/** One picture of the loop; the first one is a key frame. */
export interface LoopPicture {
	key: boolean;
	data: Uint8Array;
}

/** The loop of one rendition. */
export interface Loop {
	pictures: readonly LoopPicture[];
	/** Frame rate of the loop: one frame for this many of the fastest rendition's. */
	every: number;
}

const AAC_SAMPLES = 1024;

/** A loop that begins with a key frame and has another picture after it: two key frames in a row may be taken for one. */
export function isPlayable(loop: readonly LoopPicture[]): boolean {
	return loop.length >= 2 && loop[0]!.key;
}

/** Plays loops and silence from the last times that were sent on. Times in microseconds on the broadcast's line. */
export class HoldingLine {
	#loops: ReadonlyMap<number, Loop>;
	#silence: Uint8Array;
	#startUs: { video: number; audio: number };
	#sent = { video: 0, audio: 0 };
	/** Which picture of each loop is next. */
	readonly #next = new Map<number, number>();
	/** Renditions whose loop begins again with its next picture. */
	readonly #anew = new Set<number>();
	#frameUs: number;
	#soundUs: number;

	/**
	 * @param loops by rendition; each is playable
	 * @param fps of the fastest of them
	 * @param last times of the newest picture and sound that were sent
	 */
	constructor(
		loops: ReadonlyMap<number, Loop>,
		fps: number,
		audio: AudioConfig,
		last: { video: number; audio: number },
	) {
		this.#loops = loops;
		this.#frameUs = 1e6 / fps;
		this.#soundUs = (AAC_SAMPLES * 1e6) / audio.sampleRate;
		this.#silence = silentAacFrame(audio.channels);
		this.#startUs = { ...last };
	}

	/** Lets a rendition's loop begin again, for whoever has come just now and can begin with a key frame only. */
	beginAnew(rendition: number): void {
		this.#anew.add(rendition);
	}

	#pictureOf(rendition: number, { pictures }: Loop): LoopPicture {
		const usual = this.#next.get(rendition) ?? 0;
		// After a key frame another picture comes first.
		const at = this.#anew.has(rendition) && usual !== 1 ? 0 : usual;
		if (at === 0) this.#anew.delete(rendition);
		this.#next.set(rendition, (at + 1) % pictures.length);
		return pictures[at]!;
	}

	/** The packets that follow up to a time, in order. */
	until(timeUs: number): MediaPacket[] {
		const packets: MediaPacket[] = [];
		for (;;) {
			const videoUs = Math.round(this.#startUs.video + (this.#sent.video + 1) * this.#frameUs);
			const audioUs = Math.round(this.#startUs.audio + (this.#sent.audio + 1) * this.#soundUs);
			if (Math.min(videoUs, audioUs) > timeUs) return packets;
			if (audioUs < videoUs) {
				packets.push({ kind: 'audio', rendition: 0, timeUs: audioUs, key: true, data: this.#silence });
				this.#sent.audio++;
				continue;
			}
			for (const [rendition, loop] of this.#loops) {
				if (this.#sent.video % loop.every !== 0) continue;
				const { key, data } = this.#pictureOf(rendition, loop);
				packets.push({ kind: 'video', rendition, timeUs: videoUs, key, data });
			}
			this.#sent.video++;
		}
	}
}
