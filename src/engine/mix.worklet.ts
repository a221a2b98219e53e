/**
 * The stream mix and the engine's clock. Carries samples between Web Audio and the mixer of core/sound, writes the mix
 * into shared memory, and counts: what falls due, falls due by this count. Allocates nothing once it runs.
 */
import type { MixPlan } from '../core/sound/mix-plan.ts';
import { Mixer } from '../core/sound/mixer.ts';
import { AAC_FRAME, Control, MAX_CHANNELS, QUANTUM, RING_SAMPLES, SAMPLE_RATE, type SharedMemory } from './shared.ts';

export interface MixOptions {
	memory: SharedMemory;
	fps: number;
}

export type ToMix = { type: 'plan'; plan: MixPlan } | { type: 'restartLoudness' };

class MixProcessor extends AudioWorkletProcessor {
	#memory: SharedMemory;
	#samplesPerFrame: number;
	#mixer: Mixer;
	#startFrame = -1;
	#samples = 0;
	#nextFrame = 0;

	constructor(options: AudioWorkletNodeOptions) {
		super();
		const { memory, fps } = options.processorOptions as MixOptions;
		this.#memory = memory;
		this.#mixer = new Mixer(MAX_CHANNELS, memory.readings);
		this.#samplesPerFrame = SAMPLE_RATE / fps;
		this.port.onmessage = ({ data }: MessageEvent<ToMix>) => {
			if (data.type === 'plan') this.#mixer.set(data.plan);
			else this.#mixer.loudness.restart();
		};
	}

	process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
		if (this.#startFrame < 0) {
			this.#startFrame = currentFrame;
			this.port.postMessage({ startFrame: currentFrame });
		}
		const mixer = this.#mixer;
		// While sources come and go the browser leaves single quanta out. They are silent, but they count: else this
		// clock would fall behind that of everything else in the audio graph.
		if (this.#samples < currentFrame - this.#startFrame) {
			mixer.left.fill(0);
			mixer.right.fill(0);
			while (this.#samples < currentFrame - this.#startFrame) this.#write();
		}
		mixer.run(inputs);
		outputs[0]?.[0]?.set(mixer.left);
		outputs[0]?.[1]?.set(mixer.right);
		this.#write();
		return true;
	}

	#write(): void {
		const { left, right } = this.#mixer;
		const { ring } = this.#memory;
		let at = (this.#samples % RING_SAMPLES) * 2;
		for (let i = 0; i < QUANTUM; i++) {
			ring[at++] = left[i]!;
			ring[at++] = right[i]!;
		}
		this.#count();
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
