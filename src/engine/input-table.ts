/** Which of the mixer's inputs each channel of the show has. */
import type { Channel } from '../core/show/mix/mix.ts';

/** A channel that is connected: where its sound comes from, and the mixer's input that it goes to. */
export interface Patched<S> {
	channelId: string;
	splitter: S;
	/** Which of the source's inputs. */
	from: readonly number[];
	input: number;
}

export class InputTable<S> {
	#most: number;
	#patched = new Map<string, Patched<S>>();

	/** @param most inputs that the mixer has */
	constructor(most: number) {
		this.#most = most;
	}

	/** The mixer's input of a channel, or null while its source brings no sound. */
	inputOf(channelId: string): number | null {
		return this.#patched.get(channelId)?.input ?? null;
	}

	/**
	 * Brings the table in line with the show. A channel keeps its input for as long as its sound comes from the same place.
	 * @param splitterOf a source's sound, or null
	 * @returns what has to be disconnected and connected for that
	 */
	follow(
		channels: readonly Pick<Channel, 'id' | 'sourceId' | 'inputs'>[],
		splitterOf: (sourceId: string) => S | null,
	): { disconnect: Patched<S>[]; connect: Patched<S>[] } {
		const disconnect = [...this.#patched.values()].filter(({ channelId, splitter, from }) => {
			const channel = channels.find(({ id }) => id === channelId);
			return !channel || splitterOf(channel.sourceId) !== splitter || String(channel.inputs) !== String(from);
		});
		for (const { channelId } of disconnect) this.#patched.delete(channelId);
		const connect: Patched<S>[] = [];
		for (const { id: channelId, sourceId, inputs } of channels) {
			const splitter = splitterOf(sourceId);
			const input = this.#free();
			if (!splitter || input === null || this.#patched.has(channelId)) continue;
			const patched = { channelId, splitter, from: [...inputs], input };
			this.#patched.set(channelId, patched);
			connect.push(patched);
		}
		return { disconnect, connect };
	}

	#free(): number | null {
		const used = new Set([...this.#patched.values()].map(({ input }) => input));
		for (let input = 0; input < this.#most; input++) if (!used.has(input)) return input;
		return null;
	}
}
