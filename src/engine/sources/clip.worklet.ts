/** Plays the sound of one clip into the mix, in step with its picture. */
import { ClipVoice, type ClipAnchor, type ClipFilled } from '../../core/sound/clip-voice.ts';
import { readAnchor, readFilled, type ClipMemory } from './clip-memory.ts';

export interface ClipNodeOptions {
	memory: ClipMemory;
	/** The AudioContext's sample at which the engine's clock began. */
	startFrame: number;
}

class ClipProcessor extends AudioWorkletProcessor {
	readonly #memory: ClipMemory;
	readonly #startFrame: number;
	readonly #voice: ClipVoice;
	readonly #anchor: ClipAnchor = { playing: false, sample: 0, position: 0, version: 0 };
	readonly #filled: ClipFilled = { from: 0, to: 0 };
	#closed = false;

	constructor(options: AudioWorkletNodeOptions) {
		super();
		const { memory, startFrame } = options.processorOptions as ClipNodeOptions;
		this.#memory = memory;
		this.#startFrame = startFrame;
		this.#voice = new ClipVoice(memory.rings);
		this.port.onmessage = () => (this.#closed = true);
	}

	process(_: Float32Array[][], outputs: Float32Array[][]): boolean {
		readAnchor(this.#memory, this.#anchor);
		readFilled(this.#memory, this.#filled);
		const [left, right] = outputs[0]!;
		this.#voice.run(currentFrame - this.#startFrame, this.#anchor, this.#filled, left!, right!);
		return !this.#closed;
	}
}

registerProcessor('bivvo-clip', ClipProcessor);
