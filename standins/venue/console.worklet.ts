/** Gives out the sound of the chapel, all inputs of the console at once, as a device with many inputs does. */
import type { ConsoleAnswer, ConsoleFault } from './faults.ts';
import { Room, type RoomInput } from './room.ts';

export interface ConsoleOptions {
	inputs: readonly RoomInput[];
}

export type ToConsole =
	{ type: 'sound'; sound: number; samples: Float32Array } | ({ type: 'break' } & ConsoleFault) | { type: 'close' };

class ConsoleProcessor extends AudioWorkletProcessor {
	readonly #room: Room;
	#isClosed = false;
	/** Not answered yet, the newest of each input. */
	#unanswered: ConsoleFault[] = [];

	constructor(options: AudioWorkletNodeOptions) {
		super();
		this.#room = new Room((options.processorOptions as ConsoleOptions).inputs);
		this.port.onmessage = ({ data }: MessageEvent<ToConsole>) => {
			if (data.type === 'sound') this.#room.put(data.sound, data.samples);
			else if (data.type === 'break') {
				const { input, fault } = data;
				this.#room.break({ input, fault });
				this.#unanswered = [...this.#unanswered.filter((each) => each.input !== input), { input, fault }];
			} else this.#isClosed = true;
		};
	}

	process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
		this.#room.run(currentFrame, inputs[0]?.[0], outputs[0]!);
		if (this.#unanswered.length > 0) this.#answer((inputs[0]?.length ?? 0) > 0);
		return !this.#isClosed;
	}

	/** @param hearsDesk true when the desk's sound arrives here: connections take effect later than messages */
	#answer(hearsDesk: boolean): void {
		const isApplied = ({ fault }: ConsoleFault) => fault !== 'hearsDesk' || hearsDesk;
		for (const applied of this.#unanswered.filter(isApplied))
			this.port.postMessage({ applied } satisfies ConsoleAnswer);
		this.#unanswered = this.#unanswered.filter((each) => !isApplied(each));
	}
}

registerProcessor('bivvo-stand-in-console', ConsoleProcessor);
