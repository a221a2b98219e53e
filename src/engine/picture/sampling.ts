/** Copies of what sources show, taken frame by frame, so that it can be shown again elsewhere. */
import type { Size } from '../../core/picture/geometry.ts';
import type { Planes } from '../../core/picture/planes.ts';

/** What a source showed: planes of I420, one after another, of each frame. */
export interface Sample extends Size {
	sourceId: string;
	frames: Uint8Array<ArrayBuffer>[];
}

export class Sampling {
	readonly samples: Promise<Sample[]>;
	#resolve: (samples: Sample[]) => void = () => {};
	#taken = new Map<string, Sample>();
	#sourceIds: readonly string[];
	#left: number;

	/** @param frames how many of each are copied */
	constructor(sourceIds: readonly string[], frames: number) {
		this.samples = new Promise((resolve) => (this.#resolve = resolve));
		this.#sourceIds = sourceIds;
		this.#left = frames;
	}

	/**
	 * Copies what is there with this frame; a source without a picture, or one that has changed its size, is left out.
	 * @returns true when that was the last one
	 */
	async take(planesOf: (sourceId: string) => Promise<Planes | null>, bytes: () => Uint8Array): Promise<boolean> {
		for (const sourceId of this.#sourceIds) {
			const planes = await planesOf(sourceId);
			if (!planes) continue;
			const { width, height } = planes;
			const sample = this.#taken.get(sourceId) ?? { sourceId, width, height, frames: [] };
			this.#taken.set(sourceId, sample);
			if (sample.width !== width || sample.height !== height) continue;
			sample.frames.push(bytes().slice(planes.y, planes.y + planes.bytes) as Uint8Array<ArrayBuffer>);
		}
		if (--this.#left > 0) return false;
		this.#resolve([...this.#taken.values()]);
		return true;
	}
}
