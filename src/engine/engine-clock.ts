/** The engine's clock: the sound worklet counts samples, and everything in the engine is timed by that count. */
import { makeSharedMemory, type SharedMemory } from './shared.ts';

export class EngineClock {
	readonly memory: SharedMemory = makeSharedMemory();
	/** Frames of the program in a second. */
	readonly fps: number;
	readonly #startFrame = Promise.withResolvers<number>();

	constructor(fps: number) {
		this.fps = fps;
	}

	/** The AudioContext's sample at which the count began. */
	get startFrame(): Promise<number> {
		return this.#startFrame.promise;
	}

	start(frame: number): void {
		this.#startFrame.resolve(frame);
	}

	/** The clock as sources get it. */
	get forSources() {
		return { control: this.memory.control, fps: this.fps, startFrame: this.startFrame };
	}
}
