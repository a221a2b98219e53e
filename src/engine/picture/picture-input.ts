/** A source's picture as the picture engine reads it, whatever kind of source it is. */
import type { AdjustTables } from '../../core/picture/colour.ts';
import type { PictureInfo } from '../../core/picture/draw-list.ts';
import type { LumaSample } from '../../core/picture/health.ts';
import type { Planes } from '../../core/picture/planes.ts';
import type { PrivacyPatch } from '../../core/show/overlays/overlay.ts';

/**
 * A source that keeps time with the engine sends a frame when the one before has fallen due. The two moments are told
 * apart by this, milliseconds: far more than they are measured wrong by, far less than a frame lasts.
 */
export const CLOSE_MS = 2;

/** What is done to a source's picture before anybody sees it. */
export interface Treatment {
	/** Says all of it, to tell whether it has changed. */
	name: string;
	adjust: AdjustTables | null;
	patches: readonly PrivacyPatch[];
}

export interface PictureInput {
	/** Size in pixels, and whether there are holes in it; null while there is no picture. */
	readonly info: PictureInfo | null;
	/**
	 * The picture in kernel memory, treated; null while there is none. A new one is read once, however often it is asked for.
	 * @param timeMs on the engine's clock
	 * @throws when the picture cannot be read
	 */
	planesAt(timeMs: number): Planes | null | Promise<Planes | null>;
	/** Sets what is done to the picture; null shows it as it comes. */
	treat(treatment: Treatment | null): void;
	/** Gives all memory and frames back. */
	close(): Promise<void>;
}

/** An input that shows frames one after another. */
export interface FramePictureInput extends PictureInput {
	/** The frame that is shown; null before the first. */
	readonly frame: VideoFrame | null;
	/** The frame that is shown if an encoder can take it as it is; whoever keeps it over an `await` clones it. */
	readonly untouched: VideoFrame | null;
	/** Of the picture read last, as it came. */
	readonly sample: LumaSample | null;
	/** True while it is not certain where a patch belongs, so that all of the picture is patched. */
	readonly uncertain: boolean;
}

/** An input whose pictures come from outside, and may fail to. */
export interface LivePictureInput extends FramePictureInput {
	/**
	 * Takes a frame, and closes it when it is not needed any more. The first one is shown at once, later ones when they
	 * are chosen.
	 * @param now milliseconds of the clock that `chooseAt` is given
	 */
	put(frame: VideoFrame, now: number): void;
	/** Shows what was the newest frame at that time, in milliseconds; what came late counts as having come in time. */
	chooseAt(time: number): void;
	/** When the newest frame came, or the input was made when none has, milliseconds of the clock that `chooseAt` is given. */
	readonly quietSince: number;
	/** How many frames have come so far. */
	readonly arrived: number;
}

export function isLive(input: PictureInput | undefined): input is LivePictureInput {
	return input !== undefined && 'put' in input;
}

/** True for an input that shows frames: a camera's, a clip's. */
export function hasFrames(input: PictureInput | undefined): input is FramePictureInput {
	return input !== undefined && 'untouched' in input;
}
