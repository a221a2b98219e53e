import type { Armed } from '../messages.ts';
import { ClipInput } from './clip-input.ts';
import { CLOSE_MS, type PictureInput } from './picture-input.ts';

/** What will be done by itself: with the first frame that falls due at its time, or with the one after its clip's last. */
export class ArmedStep {
	#armed: Armed | null = null;
	/** Done by itself so far. */
	#fell = 0;

	/**
	 * False for what a page wrote before it heard of all that was done by itself: it is out of date.
	 * @param heard how many of those it had been told of; left out by who cannot be late
	 */
	isUpToDate(heard = this.#fell): boolean {
		return heard >= this.#fell;
	}

	/** Takes the place of what was armed before; what has been done is not armed again. */
	arm(armed: Armed | null, heard?: number): void {
		if (this.isUpToDate(heard)) this.#armed = armed;
	}

	/**
	 * What is to be done with this frame, once; null while it is not due.
	 * @param dueAt when the frame falls due, milliseconds since 1970
	 */
	takeDue(frame: number, dueAt: number, inputs: ReadonlyMap<string, PictureInput>): Armed | null {
		const armed = this.#armed;
		if (!armed) return null;
		const clip = armed.clipId === null ? undefined : inputs.get(armed.clipId);
		const isDue =
			clip instanceof ClipInput ? clip.isOverAt(frame) : armed.clipId === null && dueAt >= armed.at - CLOSE_MS;
		if (!isDue) return null;
		this.#armed = null;
		this.#fell++;
		return armed;
	}
}
