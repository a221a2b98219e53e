/** Carries one side of a sound to the page, in pieces, each with the number of the first sample on the context's clock. */
const PIECE = 2048;

/** A piece of a sound. */
export interface Piece {
	from: number;
	samples: Float32Array<ArrayBuffer>;
}

class ListenProcessor extends AudioWorkletProcessor {
	#samples = new Float32Array(PIECE);
	#filled = 0;

	process([input]: Float32Array[][]): boolean {
		const samples = input?.[0];
		if (!samples) {
			// What comes after a gap does not follow on what was before.
			this.#filled = 0;
			return true;
		}
		this.#samples.set(samples, this.#filled);
		this.#filled += samples.length;
		if (this.#filled < PIECE) return true;
		const piece: Piece = { from: currentFrame + samples.length - PIECE, samples: this.#samples };
		this.port.postMessage(piece, [piece.samples.buffer]);
		this.#samples = new Float32Array(PIECE);
		this.#filled = 0;
		return true;
	}
}

registerProcessor('bivvo-listen', ListenProcessor);
