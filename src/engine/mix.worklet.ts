/**
 * The stream mix and the engine's clock. Carries samples between Web Audio and the functions of core/sound,
 * writes the mix into shared memory, and counts: what falls due, falls due by this count.
 * Allocates nothing once it runs.
 */
import { addToMix, finishMix, GainRamp } from '../core/sound/mix.ts';
import { AAC_FRAME, Control, MAX_CHANNELS, QUANTUM, RING_SAMPLES, SAMPLE_RATE, type SharedMemory } from './shared.ts';

export interface MixOptions {
	memory: SharedMemory;
	fps: number;
}

/** Gains by input, linear, and that of the whole mix. */
export interface MixMessage {
	gains: { input: number; gain: number }[];
	master: number;
}

class MixProcessor extends AudioWorkletProcessor {
	#memory: SharedMemory;
	#samplesPerFrame: number;
	#gains = Array.from({ length: MAX_CHANNELS }, () => new GainRamp(0));
	#master = new GainRamp(1);
	#left = new Float32Array(QUANTUM);
	#right = new Float32Array(QUANTUM);
	#startFrame = -1;
	#samples = 0;
	#nextFrame = 0;

	constructor(options: AudioWorkletNodeOptions) {
		super();
		const { memory, fps } = options.processorOptions as MixOptions;
		this.#memory = memory;
		this.#samplesPerFrame = SAMPLE_RATE / fps;
		this.port.onmessage = ({ data }: MessageEvent<MixMessage>) => {
			for (const { input, gain } of data.gains) this.#gains[input]?.aim(gain);
			this.#master.aim(data.master);
		};
	}

	process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
		if (this.#startFrame < 0) {
			this.#startFrame = currentFrame;
			this.port.postMessage({ startFrame: currentFrame });
		}
		const { levels } = this.#memory;
		this.#left.fill(0);
		this.#right.fill(0);
		// While sources come and go the browser leaves single quanta out. They are silent, but they count: else this
		// clock would fall behind that of everything else in the audio graph.
		while (this.#samples < currentFrame - this.#startFrame) {
			this.#write();
			this.#count();
		}
		for (let i = 0; i < inputs.length; i++) {
			const input = inputs[i]!;
			const left = input[0];
			if (left) addToMix(this.#left, this.#right, left, input[1] ?? left, this.#gains[i]!, levels, 2 * i);
		}
		finishMix(this.#left, this.#right, this.#master, levels, 2 * MAX_CHANNELS);
		outputs[0]?.[0]?.set(this.#left);
		outputs[0]?.[1]?.set(this.#right);
		this.#write();
		this.#count();
		return true;
	}

	#write(): void {
		const { ring } = this.#memory;
		let at = (this.#samples % RING_SAMPLES) * 2;
		for (let i = 0; i < QUANTUM; i++) {
			ring[at++] = this.#left[i]!;
			ring[at++] = this.#right[i]!;
		}
	}

	#count(): void {
		const { control } = this.#memory;
		this.#samples += QUANTUM;
		if (this.#samples % AAC_FRAME === 0) {
			Atomics.add(control, Control.blocks, 1);
			Atomics.notify(control, Control.blocks);
		}
		if (this.#samples < this.#nextFrame) return;
		this.#nextFrame += this.#samplesPerFrame;
		Atomics.add(control, Control.tick, 1);
		Atomics.notify(control, Control.tick);
	}
}

registerProcessor('bivvo-mix', MixProcessor);
