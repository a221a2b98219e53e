/** Gives out the sound of the chapel, all inputs of the console at once, as a device with many inputs does. */
import type { ConsoleFault } from './faults.ts';
import { Room, type RoomInput } from './room.ts';

export interface ConsoleOptions {
	inputs: readonly RoomInput[];
}

export type ToConsole =
	{ type: 'sound'; sound: number; samples: Float32Array } | ({ type: 'break' } & ConsoleFault) | { type: 'close' };

/** Said when a fault is in what is given out. */
export interface FromConsole {
	does: ConsoleFault;
}

class ConsoleProcessor extends AudioWorkletProcessor {
	readonly #room: Room;
	#isClosed = false;
	#toAnswer: ConsoleFault[] = [];

	constructor(options: AudioWorkletNodeOptions) {
		super();
		this.#room = new Room((options.processorOptions as ConsoleOptions).inputs);
		this.port.onmessage = ({ data }: MessageEvent<ToConsole>) => {
			if (data.type === 'sound') this.#room.put(data.sound, data.samples);
			else if (data.type === 'break') {
				const { input, fault } = data;
				this.#room.break({ input, fault });
				this.#toAnswer.push({ input, fault });
			} else this.#isClosed = true;
		};
	}

	process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
		this.#room.run(currentFrame, inputs[0]?.[0], outputs[0]!);
		const hearsDesk = (inputs[0]?.length ?? 0) > 0;
		while (this.#toAnswer[0] && (hearsDesk || this.#toAnswer[0].fault !== 'hearsDesk'))
			this.port.postMessage({ does: this.#toAnswer.shift()! } satisfies FromConsole);
		return !this.#isClosed;
	}
}

registerProcessor('bivvo-stand-in-console', ConsoleProcessor);
