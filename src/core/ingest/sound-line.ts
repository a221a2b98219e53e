/**
 * A line of sound that comes in pieces and is played without gaps where there are none, with fades where there are. Runs in
 * the sound worklet and allocates nothing while it plays.
 */

/** Samples that are kept of each side, 1.4 s at 48 kHz: a power of two. */
export const LINE_SAMPLES = 65_536;
/** Where a sound breaks off or begins in its middle it is faded so long: 5 ms. */
const FADE_SAMPLES = 240;
/** Pieces are joined without looking when their times agree to this: 10 ms. */
const JOINED_SAMPLES = 480;
/** So much is waiting when it begins to be played: 20 ms. */
const CUSHION_SAMPLES = 960;
/** More than this beyond the cushion for a while is played away: 60 ms. */
const MOST_SPARE_SAMPLES = 2880;
/** How long that is so before it is done: 3 s. */
const SPARE_FOR_SAMPLES = 144_000;

export class SoundLine {
	readonly #sides = [new Float32Array(LINE_SAMPLES), new Float32Array(LINE_SAMPLES)] as const;
	/** Samples written and read since the beginning. */
	#written = 0;
	#read = 0;
	#playing = false;
	#gain = 0;
	/** The last samples that were played, which a sound that breaks off is faded out from. */
	#last: [number, number] = [0, 0];
	/** Time of the sample to be written next, in samples of the camera's clock; null before the first. */
	#expected: number | null = null;
	/** The least that has been waiting, and since when that is counted. */
	#least = Infinity;
	#countedFrom = 0;

	/** Samples that wait to be played. */
	get waiting(): number {
		return this.#written - this.#read;
	}

	/** @param at time of the first sample on the camera's clock, in samples */
	push(at: number, left: Float32Array, right: Float32Array): void {
		const gap = this.#expected === null ? 0 : at - this.#expected;
		// What is missing is silence; what is there twice, or came from elsewhere, begins anew.
		if (Math.abs(gap) > JOINED_SAMPLES && gap > 0 && gap < LINE_SAMPLES / 4) {
			this.#fadeTail();
			for (let i = 0; i < gap; i++) this.#write(0, 0);
		}
		const isJoined = Math.abs(gap) <= JOINED_SAMPLES;
		this.#expected = isJoined && this.#expected !== null ? this.#expected + left.length : at + left.length;
		for (let i = 0; i < left.length; i++) {
			const gain = isJoined ? 1 : Math.min(1, i / FADE_SAMPLES);
			this.#write(gain * left[i]!, gain * right[i]!);
		}
	}

	#write(left: number, right: number): void {
		// Nobody plays it: the oldest goes.
		if (this.waiting >= LINE_SAMPLES) this.#read++;
		const place = this.#written % LINE_SAMPLES;
		this.#sides[0][place] = left;
		this.#sides[1][place] = right;
		this.#written++;
	}

	/** What was written last ends in silence. */
	#fadeTail(): void {
		const count = Math.min(FADE_SAMPLES, this.waiting);
		for (let i = 0; i < count; i++) {
			const place = (this.#written - 1 - i) % LINE_SAMPLES;
			this.#sides[0][place]! *= i / count;
			this.#sides[1][place]! *= i / count;
		}
	}

	/** Makes the next samples. */
	play(left: Float32Array, right: Float32Array): void {
		if (!this.#playing && this.waiting >= CUSHION_SAMPLES + left.length) this.#begin();
		this.#playAway(left.length);
		for (let i = 0; i < left.length; i++) {
			if (this.#playing && this.waiting === 0) this.#playing = false;
			if (this.#playing) {
				const place = this.#read++ % LINE_SAMPLES;
				this.#gain = Math.min(1, this.#gain + 1 / FADE_SAMPLES);
				this.#last[0] = this.#sides[0][place]!;
				this.#last[1] = this.#sides[1][place]!;
			} else this.#gain = Math.max(0, this.#gain - 1 / FADE_SAMPLES);
			left[i] = this.#gain * this.#last[0];
			right[i] = this.#gain * this.#last[1];
		}
	}

	#begin(): void {
		this.#playing = true;
		this.#gain = 0;
		this.#least = Infinity;
		this.#countedFrom = this.#read;
	}

	/** A clock that runs faster than this one fills the line: after a while the spare is left out, faded over. */
	#playAway(next: number): void {
		if (!this.#playing) return;
		this.#least = Math.min(this.#least, this.waiting - next);
		if (this.#read - this.#countedFrom < SPARE_FOR_SAMPLES) return;
		if (this.#least > CUSHION_SAMPLES + MOST_SPARE_SAMPLES) {
			const spare = Math.floor(this.#least - CUSHION_SAMPLES);
			for (let i = 0; i < FADE_SAMPLES; i++) {
				const [from, to] = [(this.#read + i) % LINE_SAMPLES, (this.#read + spare + i) % LINE_SAMPLES];
				const gain = i / FADE_SAMPLES;
				for (const side of this.#sides) side[to] = (1 - gain) * side[from]! + gain * side[to]!;
			}
			this.#read += spare;
		}
		this.#least = Infinity;
		this.#countedFrom = this.#read;
	}
}
