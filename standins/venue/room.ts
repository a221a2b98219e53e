/** The sound of the demo's chapel as its console gives it out: loops, what the air carries, and faults. 48 kHz. */
import type { ConsoleFault } from './faults.ts';

export const RATE = 48_000;
/** Sounds go round after so many samples, by the clock of who asks: 20 s. */
export const LOOP = 20 * RATE;
/** How far each sound is from the microphones that hear the room, in seconds; the talkback is not in the room. */
const TO_AIR_S = [0.021, 0.024, 0.013, 0.015, 0.018, 0.027, 0.035, 0.035];
/** The two microphones of the room stand a metre apart. */
const APART_S = 0.003;
const AIR_GAIN = 0.3;
const LATE = Math.round(0.18 * RATE);
/** A microphone by the desk hears what is played there: through the air and two devices, and softer. */
const DESK_DELAY = Math.round(0.07 * RATE);
const DESK_GAIN = 0.1;
/** Longer than a block and the way from the desk. */
const DESK_RING = 4096;
const OVERDRIVE = 12;
const HUM = { hz: 50, gain: 0.05 };
const DROPOUT = Math.round(0.35 * RATE);

/** What lies at an input: the sound with that number, what the air carries of the others to a side, or nothing. */
export type RoomInput = { sound: number } | { air: 'left' | 'right' } | null;

export class Room {
	readonly #inputs: readonly RoomInput[];
	readonly #sounds: (Float32Array | null)[];
	readonly #faults: ConsoleFault['fault'][];
	/** What the desk plays, in a ring by the clock. */
	readonly #desk = new Float32Array(DESK_RING);

	constructor(inputs: readonly RoomInput[]) {
		this.#inputs = inputs;
		this.#sounds = inputs.map(() => null);
		this.#faults = inputs.map(() => 'none');
	}

	/** @param samples LOOP of them, or fewer, and silence after them */
	put(sound: number, samples: Float32Array): void {
		this.#sounds[sound] = samples;
	}

	break({ input, fault }: ConsoleFault): void {
		if (input in this.#faults) this.#faults[input] = fault;
	}

	/**
	 * Makes the next block.
	 * @param at number of its first sample on the clock
	 * @param desk what the desk plays meanwhile, of the block's length; none for silence
	 * @param outputs by input, filled
	 */
	run(at: number, desk: Float32Array | undefined, outputs: readonly Float32Array[]): void {
		const length = outputs[0]!.length;
		for (let i = 0; i < length; i++) this.#desk[(at + i) % DESK_RING] = desk?.[i] ?? 0;
		outputs.forEach((out, index) => {
			const fault = this.#faults[index]!;
			out.fill(0);
			if (fault === 'dead' || (fault === 'dropouts' && Math.floor(at / DROPOUT) % 2 === 1)) return;
			this.#play(this.#inputs[index] ?? null, at - (fault === 'late' ? LATE : 0), out);
			if (fault === 'clipping') for (let i = 0; i < length; i++) out[i] = clipped(OVERDRIVE * out[i]!);
			else if (fault === 'hum')
				for (let i = 0; i < length; i++) out[i]! += HUM.gain * Math.sin((2 * Math.PI * HUM.hz * (at + i)) / RATE);
			else if (fault === 'hearsDesk')
				for (let i = 0; i < length; i++)
					out[i]! += DESK_GAIN * this.#desk[(at + i - DESK_DELAY + DESK_RING) % DESK_RING]!;
		});
	}

	#play(input: RoomInput, at: number, out: Float32Array): void {
		if (input === null) return;
		if ('sound' in input) return this.#add(input.sound, at, 1, out);
		const further = input.air === 'left' ? 0 : APART_S;
		TO_AIR_S.forEach((s, sound) => this.#add(sound, at - Math.round((s + further) * RATE), AIR_GAIN, out));
	}

	#add(sound: number, at: number, gain: number, out: Float32Array): void {
		const samples = this.#sounds[sound];
		if (!samples) return;
		let from = ((at % LOOP) + LOOP) % LOOP;
		for (let i = 0; i < out.length; i++) {
			out[i]! += gain * (samples[from] ?? 0);
			if (++from === LOOP) from = 0;
		}
	}
}

function clipped(sample: number): number {
	return Math.max(-1, Math.min(1, sample));
}
