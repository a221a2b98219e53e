/**
 * The stream mix and the engine's clock. Carries samples between Web Audio and the mixer of core/sound, writes the mix
 * into shared memory, and counts: what falls due, falls due by this count. Allocates nothing once it runs.
 */
import { Capture } from '../core/sound/capture.ts';
import type { MixPlan } from '../core/sound/mix-plan.ts';
import { SoundMemory, type SoundKernels } from '../core/sound/memory.ts';
import { Mixer, type Listened, type MixMinus } from '../core/sound/mixer.ts';
import {
	AAC_FRAME,
	Control,
	FIRST_RETURN,
	MAX_CHANNELS,
	QUANTUM,
	RING_SAMPLES,
	SAMPLE_RATE,
	TRACK_RING_SAMPLES,
	type SharedMemory,
} from './shared.ts';

export interface MixOptions {
	memory: SharedMemory;
	fps: number;
	/** sound.wasm, compiled. */
	kernels: WebAssembly.Module;
}

export type ToMix =
	| { type: 'plan'; plan: MixPlan }
	| { type: 'restartLoudness' }
	| { type: 'listen'; listened: Listened }
	/** Make mixes without these inputs each, for the outputs from FIRST_RETURN on. */
	| { type: 'leaveOut'; parts: number[][] }
	/** Write these inputs, −1 for none, to the rings of isolated tracks. */
	| { type: 'record'; rings: Float32Array<SharedArrayBuffer>[][]; inputs: number[] }
	/**
	 * Capture these inputs; `captured` answers when there are enough samples.
	 * @property tone one side, played to the headphones from the first of these samples on
	 */
	| { type: 'capture'; id: number; inputs: number[]; samples: number; tone: Float32Array | null };

export type FromMix =
	| { type: 'started'; startFrame: number }
	/** @property startSample of the first of them, on the engine's clock */
	| { type: 'captured'; id: number; startSample: number; sounds: Float32Array<ArrayBuffer>[] };

const NOTHING: Float32Array[][] = [];

function fill(output: Float32Array[] | undefined, left: Float32Array, right: Float32Array): void {
	output?.[0]?.set(left);
	output?.[1]?.set(right);
}

class MixProcessor extends AudioWorkletProcessor {
	#memory: SharedMemory;
	#samplesPerFrame: number;
	#mixer: Mixer;
	#startFrame = -1;
	#samples = 0;
	#nextFrame = 0;
	#tracks: { rings: Float32Array[][]; inputs: number[] } = { rings: [], inputs: [] };
	#returns: readonly MixMinus[] = [];
	#captures: { id: number; sounds: Capture; startSample: number; tone: Float32Array | null }[] = [];

	constructor(options: AudioWorkletNodeOptions) {
		super();
		const { memory, fps, kernels } = options.processorOptions as MixOptions;
		this.#memory = memory;
		const { exports } = new WebAssembly.Instance(kernels);
		const own = new SoundMemory(exports as unknown as SoundKernels);
		this.#mixer = new Mixer(own, MAX_CHANNELS, memory.readings, memory.history);
		this.#samplesPerFrame = SAMPLE_RATE / fps;
		this.port.onmessage = ({ data }: MessageEvent<ToMix>) => {
			if (data.type === 'plan') this.#mixer.set(data.plan);
			else if (data.type === 'restartLoudness') this.#mixer.loudness.restart();
			else if (data.type === 'listen') this.#mixer.listen(data.listened);
			else if (data.type === 'leaveOut') this.#returns = this.#mixer.leaveOut(data.parts);
			else if (data.type === 'record') this.#tracks = data;
			else {
				const { id, inputs, samples, tone } = data;
				this.#captures.push({ id, sounds: new Capture(inputs, samples), startSample: this.#samples, tone });
			}
		};
	}

	process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
		if (this.#startFrame < 0) {
			this.#startFrame = currentFrame;
			this.#say({ type: 'started', startFrame: currentFrame });
		}
		const mixer = this.#mixer;
		// While sources come and go the browser leaves single quanta out. They are silent, but they count: else this
		// clock would fall behind that of everything else in the audio graph.
		if (this.#samples < currentFrame - this.#startFrame) {
			mixer.left.fill(0);
			mixer.right.fill(0);
			while (this.#samples < currentFrame - this.#startFrame) {
				this.#writeTracks(NOTHING);
				this.#write();
			}
		}
		mixer.run(inputs);
		this.#playTones(mixer.heardLeft, mixer.heardRight);
		this.#keep(inputs);
		this.#writeTracks(inputs);
		// The first output drives the graph and is for the green room, the second is for headphones.
		fill(outputs[0], mixer.left, mixer.right);
		fill(outputs[1], mixer.heardLeft, mixer.heardRight);
		for (let i = 0; i < this.#returns.length; i++) {
			const { left, right } = this.#returns[i]!;
			fill(outputs[FIRST_RETURN + i], left, right);
		}
		this.#write();
		return true;
	}

	#say(message: FromMix): void {
		this.port.postMessage(message);
	}

	#playTones(left: Float32Array, right: Float32Array): void {
		for (let i = 0; i < this.#captures.length; i++) {
			const { tone, startSample } = this.#captures[i]!;
			if (!tone) continue;
			const at = this.#samples - startSample;
			for (let k = 0; k < QUANTUM && at + k < tone.length; k++) {
				left[k]! += tone[at + k]!;
				right[k]! += tone[at + k]!;
			}
		}
	}

	#keep(inputs: Float32Array[][]): void {
		for (let i = this.#captures.length - 1; i >= 0; i--) {
			const { id, sounds, startSample } = this.#captures[i]!;
			sounds.add(inputs);
			if (!sounds.full) continue;
			this.#captures.splice(i, 1);
			this.#say({ type: 'captured', id, startSample, sounds: sounds.sounds });
		}
	}

	#writeTracks(inputs: Float32Array[][]): void {
		const { rings, inputs: from } = this.#tracks;
		const at = this.#samples % TRACK_RING_SAMPLES;
		for (let track = 0; track < rings.length; track++) {
			const sides = rings[track]!;
			const input = inputs[from[track]!];
			for (let side = 0; side < sides.length; side++) {
				const sound = input?.[side] ?? input?.[0];
				if (sound) sides[side]!.set(sound, at);
				else sides[side]!.fill(0, at, at + QUANTUM);
			}
		}
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
