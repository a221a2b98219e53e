/** Levels as they move: drawn at once by all who show them, without an update of the page for each. */
export interface Level {
	/** Left and right, dB relative to full scale. */
	levelDb: readonly number[];
	holdDb: readonly number[];
}

/** The stream mix among the ids of channels. */
export const MIX = 'the mix';

type Draw = (level: Level) => void;

export class Levels {
	readonly #drawn = new Map<Draw, string>();

	/** @returns a function that ends it */
	follow(id: string, draw: Draw): () => void {
		this.#drawn.set(draw, id);
		return () => this.#drawn.delete(draw);
	}

	/** @param levelOf of a channel or of the mix; null for what there is nothing of */
	draw(levelOf: (id: string) => Level | null): void {
		for (const [draw, id] of this.#drawn) {
			const level = levelOf(id);
			if (level) draw(level);
		}
	}
}
