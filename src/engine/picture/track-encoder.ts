/** The picture of a source that is recorded apart: its own frames, scaled down and encoded. */
import { FIRST_TRACK } from '../../core/delivery/uplink.ts';
import type { Size } from '../../core/picture/geometry.ts';
import type { SourceTrack } from '../../core/show/delivery/tracks.ts';
import type { Hardware } from './encode.ts';
import type { ToUplinkPort } from '../messages.ts';
import { PictureEncoder } from './picture-encoder.ts';

type Post = (message: ToUplinkPort & { packet: Uint8Array<ArrayBuffer> }) => void;

/** A track of a broadcast, with its place among all of them. */
export interface PictureTrack {
	track: SourceTrack;
	index: number;
}

export class TrackEncoder {
	readonly sourceId: string;
	#track: SourceTrack;
	#index: number;
	#how: { fps: number; hardware: Hardware };
	#post: Post;
	/** Made when the first picture tells its shape. */
	#encoder: PictureEncoder | null = null;
	#broken = false;

	/** @param how pace of the program, and what encodes */
	constructor({ track, index }: PictureTrack, how: { fps: number; hardware: Hardware }, post: Post) {
		this.sourceId = track.id;
		this.#track = track;
		this.#index = index;
		this.#how = how;
		this.#post = post;
	}

	/** Waits until no more than so many frames are within the encoder. */
	async follows(most: number): Promise<void> {
		await this.#encoder?.follows(most);
	}

	/** The next picture is to stand alone. */
	requestKeyFrame(): void {
		this.#encoder?.requestKeyFrame();
	}

	/**
	 * Encodes a frame of the source and closes it; the encoder brings it to its own size.
	 * @param number of the frame on the engine's clock
	 */
	encode(frame: VideoFrame, number: number): void {
		if (this.#broken) return frame.close();
		this.#encoder ??= this.#begin({ width: frame.displayWidth, height: frame.displayHeight });
		this.#encoder.encode(frame, number);
	}

	#begin(size: Size): PictureEncoder {
		const { maxHeight, fps, kbps } = this.#track;
		const form = { ...trackSize(size, maxHeight), fps, kbps, destinationIds: [] };
		// The program goes on without it.
		const failed = () => (this.#broken = true);
		return new PictureEncoder(form, FIRST_TRACK + this.#index, this.#how, this.#post, failed);
	}

	async end(): Promise<void> {
		await this.#encoder?.end();
	}
}

/** A source's size within so many lines, in its own shape, with even sides. */
export function trackSize({ width, height }: Size, maxHeight: number): Size {
	const scale = Math.min(1, maxHeight / height);
	const even = (side: number) => Math.max(16, 2 * Math.round((side * scale) / 2));
	return { width: even(width), height: even(height) };
}
