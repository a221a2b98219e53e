/** Keeps what comes in at some inputs for a few seconds, before anything is done to it: for measuring delays. */
import { BLOCK } from './strip.ts';

export class Capture {
	/** One array of samples for each input asked for. */
	readonly sounds: Float32Array<ArrayBuffer>[];
	readonly #inputs: readonly number[];
	#filled = 0;

	/**
	 * @param inputs of the mixer
	 * @param samples how many are kept; a whole number of blocks
	 */
	constructor(inputs: readonly number[], samples: number) {
		this.#inputs = inputs;
		this.sounds = inputs.map(() => new Float32Array(Math.ceil(samples / BLOCK) * BLOCK));
	}

	get full(): boolean {
		return this.#filled >= (this.sounds[0]?.length ?? 0);
	}

	/** Appends the next block; allocates nothing. */
	add(inputs: readonly (readonly Float32Array[])[]): void {
		if (this.full) return;
		for (let i = 0; i < this.sounds.length; i++) {
			const sound = inputs[this.#inputs[i]!]?.[0];
			if (sound) this.sounds[i]!.set(sound, this.#filled);
		}
		this.#filled += BLOCK;
	}
}
