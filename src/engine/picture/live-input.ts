/** A camera's picture: the frame that is shown, and the few that came after it. */
import type { Compositor } from '../../core/picture/compositor.ts';
import type { PictureInfo } from '../../core/picture/draw-list.ts';
import type { LumaSample } from '../../core/picture/health.ts';
import type { Planes } from '../../core/picture/planes.ts';
import { StampClock } from '../../core/stamp-clock.ts';
import type { PrivacyPatch } from '../../core/show/overlays/overlay.ts';
import { MOST_WAITING_FRAMES } from '../sources/open-source.ts';
import type { LivePictureInput, Treatment } from './picture-input.ts';
import { ShownFrame } from './shown-frame.ts';

/** Keeps the frame that is shown and the few after it; all others are closed, so that a camera never runs out of frames. */
export class LiveInput implements LivePictureInput {
	readonly #shown: ShownFrame;
	/** Those that have come since, the oldest first, each with the time at which it would have come undelayed. */
	#waiting: { frame: VideoFrame; cameAt: number }[] = [];
	readonly #stamps = new StampClock();
	quietSince: number;
	arrived = 0;

	/**
	 * @param compositor into whose memory pictures are copied
	 * @param now milliseconds of the clock that `chooseAt` is given
	 * @param placedBefore patches that were placed on an earlier picture of this source: how far its page has been
	 * scrolled since then nobody knows
	 */
	constructor(compositor: Compositor, now: number, placedBefore: readonly PrivacyPatch[] = []) {
		this.quietSince = now;
		this.#shown = new ShownFrame(compositor, placedBefore);
	}

	put(frame: VideoFrame, now: number): void {
		this.quietSince = now;
		this.arrived++;
		const cameAt = this.#stamps.onTime(frame.timestamp / 1000, now);
		if (!this.#shown.frame) return this.#shown.show(frame);
		this.#waiting.push({ frame, cameAt });
		if (this.#waiting.length > MOST_WAITING_FRAMES) this.#waiting.shift()!.frame.close();
	}

	chooseAt(time: number): void {
		while (this.#waiting.length > 0 && this.#waiting[0]!.cameAt <= time) this.#shown.show(this.#waiting.shift()!.frame);
	}

	get frame(): VideoFrame | null {
		return this.#shown.frame;
	}

	get info(): PictureInfo | null {
		return this.#shown.info;
	}

	get untouched(): VideoFrame | null {
		return this.#shown.untouched;
	}

	get sample(): LumaSample | null {
		return this.#shown.sample;
	}

	get uncertain(): boolean {
		return this.#shown.uncertain;
	}

	treat(treatment: Treatment | null): void {
		this.#shown.treat(treatment);
	}

	planesAt(): Promise<Planes | null> {
		return this.#shown.planesAt();
	}

	close(): Promise<void> {
		for (const { frame } of this.#waiting.splice(0)) frame.close();
		return this.#shown.close();
	}
}
