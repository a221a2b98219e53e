/**
 * The sound of a clip as the mixer's graph plays it: reads a ring of samples at the place that belongs to the moment, so
 * that picture and sound share one clock. Allocates nothing while it runs.
 */

/** Samples that are kept of each side, 2.7 s: a power of two. */
export const CLIP_RING_SAMPLES = 131_072;
/** A sound that stops or begins in its middle is faded so long: 5 ms. */
const FADE_SAMPLES = 240;

/** Where a clip's sound is: at an engine's sample, a sample of its own timeline. */
export interface ClipAnchor {
	playing: boolean;
	/** On the engine's clock. */
	sample: number;
	/** On the clip's timeline. */
	position: number;
	/** Another one each time the anchor is set. */
	version: number;
}

/** What is in the ring: samples of the clip's timeline from the first one on, without the last one. */
export interface ClipFilled {
	from: number;
	to: number;
}

export class ClipVoice {
	readonly #left: Float32Array;
	readonly #right: Float32Array;
	#anchor: ClipAnchor = { playing: false, sample: 0, position: 0, version: -1 };
	#gain = 0;

	/** @param rings a sample of the timeline lies at its number, modulo the length of the ring */
	constructor([left, right]: readonly [Float32Array, Float32Array]) {
		this.#left = left;
		this.#right = right;
	}

	/**
	 * Makes the next samples.
	 * @param sample the first one's number on the engine's clock
	 * @param wanted where the clip should be; an anchor that ends another one's sound waits for its fade
	 */
	run(
		sample: number,
		wanted: Readonly<ClipAnchor>,
		filled: Readonly<ClipFilled>,
		left: Float32Array,
		right: Float32Array,
	): void {
		for (let i = 0; i < left.length; i++) {
			if (wanted.version !== this.#anchor.version && this.#gain === 0) this.#adopt(sample + i, wanted);
			const { playing, sample: from, position } = this.#anchor;
			const ends = wanted.version !== this.#anchor.version || !playing;
			const at = position + sample + i - from;
			const begun = playing && at >= position;
			if (begun || this.#gain > 0) this.#gain = Math.min(1, Math.max(0, this.#gain + (ends ? -1 : 1) / FADE_SAMPLES));
			const there = this.#gain > 0 && at >= filled.from && at < filled.to && at >= 0;
			const place = there ? at % CLIP_RING_SAMPLES : 0;
			left[i] = there ? this.#gain * this.#left[place]! : 0;
			right[i] = there ? this.#gain * this.#right[place]! : 0;
		}
	}

	/** The beginning of a clip is heard as it is; where a sound is entered later on, it is faded in. */
	#adopt(sample: number, { playing, sample: from, position, version }: Readonly<ClipAnchor>): void {
		const { sample: before } = this.#anchor;
		this.#anchor.playing = playing;
		this.#anchor.sample = playing ? from : before;
		this.#anchor.position = playing ? position : this.#anchor.position;
		this.#anchor.version = version;
		this.#gain = playing && position === 0 && sample <= from ? 1 : 0;
	}
}
